"""Grain of a plate, laid on what was put into it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ...colour import AS_SEEN, footage_light, footage_values
from ..settings import Place
from .film import laid, noise

Floats = NDArray[np.float32]

SEED = 5
LEVELS = np.array([0.0, 0.2, 0.5, 0.8, 1.0])


@dataclass(frozen=True)
class PlateGrain:
    """Standard deviation in codes of 255 where the plate's own values are 0.2, 0.5 and 0.8, size of a grain
    in pixels of the plate, and how much channels differ, 0..1; ``encoding``: how its camera wrote light."""

    strength: tuple[float, float, float]
    size: float
    colour: float
    encoding: str = AS_SEEN


def with_plate_grain(
    light: Floats,
    coverage: Floats,
    grain: PlateGrain,
    place: Place,
    view: str = "shoulder",
    exposure: float = 0.0,
) -> Floats:
    """Scene light with a plate's grain where ``coverage`` (height, width, 1) says that something was put into
    it; another one every frame, the same for the same frame whatever else is asked for.

    Grain is what it is in the plate's own values, which come out of ``exposure`` and ``view`` where no camera
    encoded them: deep shadows and highlights get what was measured there.
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
    shown = footage_values(light[box], grain.encoding, view, exposure)
    low, middle, high = grain.strength
    # Towards black and white there is less and less.
    deviation = np.interp(shown, LEVELS, [0.5 * low, low, middle, high, 0.3 * high]) / 255
    shown = shown + (tile * deviation * coverage[box]).astype(np.float32)
    result = light.copy()
    # What lies above white stays what it is.
    above = light[box] > (2 * 2.0**-exposure if grain.encoding == AS_SEEN else 1e4)
    back = footage_light(shown, grain.encoding, view, exposure)
    result[box] = np.where(above | (shown > 1), light[box], back)
    return result
