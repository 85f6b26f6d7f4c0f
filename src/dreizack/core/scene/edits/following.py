"""Spots of a plate that somebody points at, followed through it."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from ...document import Shot
from ...match import Contradicts, Solve, Tracks, follow_one
from ..baking import plate_moments
from .covering import MOST_FRAMES, in_plate
from .plate_reading import after_reading, read_greys

Floats = NDArray[np.float64]

# Pixels from the edge of the picture within which nothing is followed.
EDGE = 14


def follow_spot(
    shot: Shot,
    solve: Solve,
    frame: int,
    place: Floats,
    told: Callable[[float], None] = lambda _: None,
) -> Tracks:
    """Follow a spot (2,) of the picture at a frame of the shot through the whole plate, as a track of the
    solve's pictures; ``told`` hears which share is done. Contradicts where it lies too near the edge."""
    if solve.frames > MOST_FRAMES:
        raise Contradicts(
            f"points are followed through plates of {MOST_FRAMES} frames at most, this one has {solve.frames}"
        )
    greys = read_greys(shot.plate.clip, told)
    if not greys:
        raise Contradicts("this plate cannot be read; bring it again")
    height, width = greys[0].shape
    scale = np.array(solve.bundle.size) / [width, height]
    xy = in_plate(shot, place[None])[0] * [width, height]
    if (xy < EDGE).any() or (xy > np.array([width, height]) - EDGE).any():
        raise Contradicts("this spot lies at the edge of the picture; take one further in")
    begin = int(plate_moments(shot, np.array([float(frame)]))[0] + 0.5)
    found = follow_one(
        lambda number: greys[number], len(greys), min(begin, len(greys) - 1), xy, after_reading(told)
    )
    return Tracks(found.track, found.frame, found.xy * scale)
