"""Colour differences."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

TO_XYZ = np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]])
WHITE = np.array([0.9505, 1.0, 1.089])


def linear(codes: Floats) -> Floats:
    """sRGB display values 0..1 as light (IEC 61966-2-1)."""
    return np.where(codes <= 0.04045, codes / 12.92, ((codes + 0.055) / 1.055) ** 2.4)


def lab(light: Floats) -> Floats:
    """CIE L*a*b* (..., 3) of linear Rec.709 colours, white D65."""
    xyz = light @ TO_XYZ.T / WHITE
    x, y, z = np.moveaxis(
        np.where(xyz > (6 / 29) ** 3, np.cbrt(xyz), xyz / (3 * (6 / 29) ** 2) + 4 / 29), -1, 0
    )
    return np.stack([116 * y - 16, 500 * (x - y), 200 * (y - z)], axis=-1)


def delta_e(one: Floats, two: Floats) -> Floats:
    """CIEDE2000 (ISO/CIE 11664-6) of L*a*b* colours (..., 3)."""
    (l1, a1, b1), (l2, a2, b2) = np.moveaxis(one, -1, 0), np.moveaxis(two, -1, 0)
    mean = (np.hypot(a1, b1) + np.hypot(a2, b2)) / 2
    g = 0.5 * (1 - np.sqrt(mean**7 / (mean**7 + 25**7)))
    c1, c2 = np.hypot(a1 * (1 + g), b1), np.hypot(a2 * (1 + g), b2)
    h1, h2 = (np.degrees(np.arctan2(b, a * (1 + g))) % 360 for a, b in ((a1, b1), (a2, b2)))
    both = c1 * c2 > 0
    turn = np.where(both, (h2 - h1 + 180) % 360 - 180, 0)
    dl, dc, dh = l2 - l1, c2 - c1, 2 * np.sqrt(c1 * c2) * np.sin(np.radians(turn / 2))
    level, chroma, hue = (l1 + l2) / 2, (c1 + c2) / 2, np.where(both, (h1 + turn / 2) % 360, h1 + h2)
    r = np.radians(hue)
    t = (
        1
        - 0.17 * np.cos(r - np.pi / 6)
        + 0.24 * np.cos(2 * r)
        + 0.32 * np.cos(3 * r + np.radians(6))
        - 0.2 * np.cos(4 * r - np.radians(63))
    )
    sl = 1 + 0.015 * (level - 50) ** 2 / np.sqrt(20 + (level - 50) ** 2)
    sc, sh = 1 + 0.045 * chroma, 1 + 0.015 * chroma * t
    rotation = (
        -2
        * np.sqrt(chroma**7 / (chroma**7 + 25**7))
        * np.sin(np.radians(60 * np.exp(-(((hue - 275) / 25) ** 2))))
    )
    return np.sqrt((dl / sl) ** 2 + (dc / sc) ** 2 + (dh / sh) ** 2 + rotation * dc / sc * dh / sh)
