"""Lengths of drawings and style sheets."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from typing import Literal

_LENGTH = re.compile(r"\s*([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)\s*(%|[a-zA-Z]{0,3})")
# User units to one of each (CSS Values and Units 3, section 6); letters are of the usual size.
UNITS = {
    "": 1.0, "px": 1.0, "pt": 4 / 3, "pc": 16.0, "in": 96.0, "cm": 96 / 2.54, "mm": 96 / 25.4,
    "q": 96 / 101.6, "em": 16.0, "rem": 16.0, "ex": 8.0, "ch": 8.0,
}  # fmt: skip


@dataclass(frozen=True)
class Viewport:
    """What shares of lengths are counted of: width and height in user units."""

    width: float
    height: float

    def whole(self, along: Literal["x", "y", "both"]) -> float:
        """What 100 % is along an axis, or of a length that has none (SVG 2, 8.9)."""
        if along == "both":
            return math.hypot(self.width, self.height) / math.sqrt(2)
        return self.width if along == "x" else self.height


def length(text: str, viewport: Viewport, along: Literal["x", "y", "both"]) -> float | None:
    """A length in user units; None for what is none.

    >>> round(length("10mm", Viewport(100, 50), "x"), 3), length("50%", Viewport(100, 50), "y")
    (37.795, 25.0)
    """
    found = _LENGTH.match(text)
    if found is None:
        return None
    value, unit = float(found[1]), found[2].lower()
    if unit == "%":
        return value / 100 * viewport.whole(along)
    made = value * UNITS.get(unit, 1.0)
    return made if math.isfinite(made) else None
