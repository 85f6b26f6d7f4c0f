"""From where on the lens, and when while the shutter is open, one picture after the other is drawn, so that
their mean has the blur of focus and motion."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..document import Shot
from .baking import Baked

Floats = NDArray[np.float64]

# Pictures whose mean is looked at.
TIMES = 32
# Steps of a sequence that fills a square evenly, however long it is (Roberts, 2018: the plastic number).
PLASTIC = np.array([0.7548776662466927, 0.5698402909980532])


def resting_places(shot: Shot, baked: Baked) -> list[tuple[float, float, float]]:
    """Places (x, y) on an opening of radius 1, and frames from the one that is shown, of as many pictures.
    The first is the middle of both. Empty where nothing is out of focus or moves."""
    opened = bool(baked.lens_radius.max(initial=0) > 0)
    span = shot.camera.shutter_angle / 360
    runs = shot.camera.rig == "matched" or any(thing.runs for thing in shot.bodied.values())
    moves = span > 0 and bool(shot.moving or runs)
    if not (opened or moves):
        return []
    lens = opening_places(TIMES, shot.camera.blades, shot.camera.blade_turn) * opened
    when = shutter_moments(TIMES) * (span if moves else 0)
    return [
        (round(x, 5), round(y, 5), round(t, 5))
        for (x, y), t in zip(lens.tolist(), when.tolist(), strict=True)
    ]


def opening_places(count: int, blades: int, turn: float) -> Floats:
    """Points (count, 2) evenly over a disc of radius 1, or over a regular polygon of its area with so many
    ``blades`` that is turned by ``turn`` degrees; the first in the middle.

    Disc: equal areas go to equal shares of the square (Shirley & Chiu, A Low Distortion Map, 1997, in polar
    form). Polygon: Turk, Generating Random Points in Triangles, 1990.

    >>> opening_places(4, 0, 0.0)[0].tolist()
    [0.0, 0.0]
    """
    u, v = ((np.arange(count)[:, None] * PLASTIC) % 1.0).T
    if blades < 3:
        radius, angle = np.sqrt(u), 2 * np.pi * v
        places = np.column_stack([radius * np.cos(angle), radius * np.sin(angle)])
    else:
        sector, within = np.divmod(u * blades, 1.0)
        root = np.sqrt(within)
        first = sector * 2 * np.pi / blades + np.radians(turn)
        second = first + 2 * np.pi / blades
        size = np.sqrt(np.pi / (blades / 2 * np.sin(2 * np.pi / blades)))
        places = (
            size
            * root[:, None]
            * (
                np.column_stack([np.cos(first), np.sin(first)]) * (1 - v)[:, None]
                + np.column_stack([np.cos(second), np.sin(second)]) * v[:, None]
            )
        )
    found: Floats = places
    return found


def shutter_moments(count: int) -> Floats:
    """Moments (count,) evenly between -½ and ½, a power of two of them, so that early ones lie far apart (van
    der Corput); the first is 0.

    >>> shutter_moments(4).tolist()
    [0.0, -0.375, 0.375, -0.125]
    """
    bits = count.bit_length() - 1
    reversed_ = np.array([int(format(k, f"0{bits}b")[::-1], 2) for k in range(count)])
    found: Floats = (reversed_ / count + 0.5) % 1.0 - 0.5 + 0.5 / count
    found[0] = 0.0
    return found
