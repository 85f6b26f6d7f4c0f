"""Grain of a plate, laid on what was put into it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ...colour import from_display, view_curve
from ..settings import Place
from .film import laid, noise

Floats = NDArray[np.float32]

SEED = 5
LEVELS = np.array([0.0, 0.2, 0.5, 0.8, 1.0])


@dataclass(frozen=True)
class PlateGrain:
    """Standard deviation in codes of 255 at display values 0.2, 0.5 and 0.8, size of a grain in pixels of the
    plate, and how much channels differ, 0..1."""

    strength: tuple[float, float, float]
    size: float
    colour: float


def with_plate_grain(light: Floats, coverage: Floats, grain: PlateGrain, place: Place) -> Floats:
    """Scene light with a plate's grain where ``coverage`` (height, width, 1) says that something was put into
    it; another one every frame, the same for the same frame whatever else is asked for.

    Grain is what it is in display values: deep shadows and highlights get what was measured there.
    """
    rows, columns = (np.flatnonzero(coverage[..., 0].any(axis=axis)) for axis in (1, 0))
    if not any(grain.strength) or not len(rows):
        return light
    box = np.s_[rows[0] : rows[-1] + 1, columns[0] : columns[-1] + 1]
    field = noise(SEED, round(grain.size, 3))
    mixed = field[..., 3:4] * (1 - grain.colour) + field[..., :3] * grain.colour
    mixed = mixed / np.sqrt((1 - grain.colour) ** 2 + grain.colour**2)
    height, width = light.shape[:2]
    tile = laid(mixed, place)[place.top : place.top + height, place.left : place.left + width][box]
    shown = view_curve(light[box])
    low, middle, high = grain.strength
    # Towards black and white there is less and less.
    deviation = np.interp(shown, LEVELS, [0.5 * low, low, middle, high, 0.3 * high]) / 255
    shown = shown + (tile * deviation * coverage[box]).astype(np.float32)
    result = light.copy()
    # What lies above white stays what it is but for its grain.
    back = from_display(np.clip(shown, 0, 1))
    result[box] = np.where(light[box] > 2, light[box], back)
    return result
