"""Surroundings out of a shot's plate."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from ..clips import plate_frame
from ..colour import footage_light
from ..document import Shot
from ..match import panorama
from .baking import bake
from .frame import frame_state
from .sight import sight

Floats = NDArray[np.float32]

# Frames that are looked at, at most: spread over the shot.
MOST = 12


def plate_panorama(shot: Shot) -> Floats:
    """What the plate of a shot saw all around (rows, 2 rows, 3), scene-linear."""
    count = shot.format.frames
    frames = np.unique(np.linspace(0, count - 1, min(MOST, count)).round())
    baked = bake(shot, frames)

    def seen() -> Iterator[tuple[Floats, NDArray[np.float64]]]:
        for index in range(len(frames)):
            state = frame_state(shot, baked, index)
            values = plate_frame(shot.plate.clip, int(baked.backdrop_frame[index]))
            if values is not None:
                light = footage_light(values, shot.plate.encoding, state.view, state.exposure)
                yield light.astype(np.float32), state.pose.axes

    return panorama(seen(), sight(shot, 0).half)
