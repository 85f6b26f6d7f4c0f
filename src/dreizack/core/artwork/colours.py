"""Colours as drawings write them, to scene-linear values."""

from __future__ import annotations

import re

from PIL import ImageColor

_RGB = re.compile(r"rgba?\(\s*([\d.]+)(%?)[\s,]+([\d.]+)(%?)[\s,]+([\d.]+)(%?)")


def srgb(text: str | None) -> tuple[float, float, float] | None:
    """Scene-linear colour (CSS Color Level 4 names, hex, rgb()); None for ``none`` and transparent.

    >>> srgb("#fff")
    (1.0, 1.0, 1.0)
    """
    if text is None or text.strip() in ("none", "transparent", ""):
        return None
    found = _RGB.match(text.strip())
    if found:
        codes = [float(found[i]) * (2.55 if found[i + 1] else 1) for i in (1, 3, 5)]
    else:
        try:
            codes = [float(c) for c in ImageColor.getrgb(text.strip())[:3]]
        except ValueError:
            codes = [0.0, 0.0, 0.0]
    r, g, b = (_linear(min(max(code / 255, 0.0), 1.0)) for code in codes)
    return r, g, b


def _linear(v: float) -> float:
    """IEC 61966-2-1."""
    return v / 12.92 if v <= 0.04045 else ((v + 0.055) / 1.055) ** 2.4
