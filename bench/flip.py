"""How different two pictures look when one flips between them.

Andersson, Nilsson, Akenine-Möller, Oskarsson, Åström & Fairchild, FLIP: A Difference Evaluator for
Alternating Images, HPG 2020; sections and constants as there.
"""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from .colour import TO_XYZ, WHITE, lab, linear

Floats = NDArray[np.float64]

# Pixels a degree: a 4K monitor 0.7 m wide, 0.7 m away.
PER_DEGREE = 67.0
# Contrast sensitivity (table 1): a1, b1, a2, b2 of the achromatic, red-green and blue-yellow channels.
SENSITIVITY = ((1, 0.0047, 0, 1e-5), (1, 0.0053, 0, 1e-5), (34.1, 0.04, 13.5, 0.025))


def flip(one: Floats, two: Floats) -> float:
    """Mean difference, 0..1, of two pictures (rows, columns, 3) of display values 0..1."""
    colour = _colour_difference(one, two)
    feature = _feature_difference(one, two)
    return float((colour ** (1 - feature)).mean())


def _opponent(light: Floats) -> Floats:
    x, y, z = np.moveaxis(light @ TO_XYZ.T / WHITE, -1, 0)
    return np.stack([116 * y - 16, 500 * (x - y), 200 * (y - z)], axis=-1)


def _light(opponent: Floats) -> Floats:
    y = (opponent[..., 0] + 16) / 116
    xyz = np.stack([y + opponent[..., 1] / 500, y, y - opponent[..., 2] / 200], axis=-1) * WHITE
    return np.clip(xyz @ np.linalg.inv(TO_XYZ).T, 0, 1)


def _filtered(picture: Floats) -> Floats:
    """4.1: what the eye resolves."""
    opponent = _opponent(linear(picture))
    radius = int(np.ceil(3 * np.sqrt(0.04 / (2 * np.pi**2)) * PER_DEGREE))
    x = np.arange(-radius, radius + 1) / PER_DEGREE
    away = x[:, None] ** 2 + x[None] ** 2
    channels = []
    for c, (a1, b1, a2, b2) in enumerate(SENSITIVITY):
        kernel = sum(a * np.sqrt(np.pi / b) * np.exp(-(np.pi**2) * away / b) for a, b in ((a1, b1), (a2, b2)))
        channels.append(
            cv2.filter2D(opponent[..., c], -1, kernel / kernel.sum(), borderType=cv2.BORDER_REPLICATE)
        )
    return _light(np.stack(channels, axis=-1))


def _hunt(light: Floats) -> Floats:
    found = lab(light)
    found[..., 1:] *= 0.01 * found[..., :1]
    return found


def _hyab(a: Floats, b: Floats) -> Floats:
    away = np.abs(a - b)
    return away[..., 0] + np.hypot(away[..., 1], away[..., 2])


def _colour_difference(one: Floats, two: Floats) -> Floats:
    away = _hyab(_hunt(_filtered(one)), _hunt(_filtered(two))) ** 0.7
    most = _hyab(_hunt(np.array([0.0, 1, 0])), _hunt(np.array([0.0, 0, 1]))) ** 0.7
    limit = 0.4 * most
    return np.where(away < limit, 0.95 / limit * away, 0.95 + (away - limit) / (most - limit) * 0.05)


def _feature_difference(one: Floats, two: Floats) -> Floats:
    """4.2: edges and points."""
    sigma = 0.5 * 0.082 * PER_DEGREE
    x = np.arange(-int(np.ceil(3 * sigma)), int(np.ceil(3 * sigma)) + 1)
    bell = np.exp(-(x**2) / (2 * sigma**2))
    kernels = []
    for shape in (-x * bell, (x**2 / sigma**2 - 1) * bell):
        up, down = np.clip(shape, 0, None), np.clip(-shape, 0, None)
        kernels.append(up / up.sum() - down / down.sum())
    plain = bell / bell.sum()

    def found(picture: Floats) -> list[Floats]:
        level = (_opponent(linear(picture))[..., 0] + 16) / 116
        both = []
        for kernel in kernels:
            across = cv2.sepFilter2D(level, -1, kernel, plain, borderType=cv2.BORDER_REPLICATE)
            along = cv2.sepFilter2D(level, -1, plain, kernel, borderType=cv2.BORDER_REPLICATE)
            both.append(np.hypot(across, along))
        return both

    (edge1, point1), (edge2, point2) = found(one), found(two)
    return np.clip(np.maximum(np.abs(edge1 - edge2), np.abs(point1 - point2)) / np.sqrt(2), 0, 1) ** 0.5
