"""Colours as drawings write them, to scene-linear values."""

from __future__ import annotations

import re

import numpy as np
from PIL import ImageColor

from ..colour import srgb_to_linear

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
    r, g, b = srgb_to_linear(np.clip(np.array(codes) / 255, 0, 1)).tolist()
    return r, g, b
