"""A logarithm for grading (Academy S-2016-001, ACEScct, 4.4), on whatever primaries there are."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]

BREAK, CODE = 0.0078125, 0.155251141552511
SLOPE, OFFSET = 10.5402377416545, 0.0729055341958355


def to_acescct(light: Floats) -> Floats:
    """Codes of scene-linear values: 0.18 is at 0.4136, 1 at 0.5548; below 0.0078125 it is straight.

    >>> [round(float(code), 4) for code in to_acescct(np.array([0.0, 0.18, 1.0], np.float32))]
    [0.0729, 0.4136, 0.5548]
    """
    held = np.maximum(light, np.float32(BREAK))
    codes: Floats = np.where(
        light <= BREAK, SLOPE * light + OFFSET, (np.log2(held) + np.float32(9.72)) / np.float32(17.52)
    ).astype(np.float32)
    return codes


def from_acescct(codes: Floats) -> Floats:
    """Scene-linear values of codes, not below 0.

    >>> [round(float(v), 4) for v in from_acescct(to_acescct(np.array([0.0, 0.18, 4.0], np.float32)))]
    [0.0, 0.18, 4.0]
    """
    light = np.where(
        codes <= CODE,
        (codes - OFFSET) / SLOPE,
        np.exp2(np.minimum(codes, 2.0) * np.float32(17.52) - np.float32(9.72)),
    )
    result: Floats = np.maximum(light, 0).astype(np.float32)
    return result
