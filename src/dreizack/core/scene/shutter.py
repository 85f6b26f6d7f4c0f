"""What happens while the shutter is open."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..document import Shot
from .bake import Baked, bake
from .frame import FrameState, frame_state

# Moments of a frame at which things are placed; a power of two.
MOMENTS = 16


def exposed(shot: Shot, frame: float, baked: Baked | None = None, index: int = 0) -> FrameState:
    """The state of a frame with all that moves while the shutter is open, its middle being the frame itself.

    ``baked`` spares evaluating the frame where it has been already, at ``index``.
    """
    at = frame_state(shot, baked if baked is not None else bake(shot, np.array([frame])), index)
    span = shot.camera.shutter_angle / 360
    if span <= 0 or not shot.channels:
        return at
    edges = frame + span * (np.arange(MOMENTS + 1) / MOMENTS - 0.5)
    times = np.concatenate([edges, (edges[1:] + edges[:-1]) / 2])
    run = bake(shot, np.maximum(times, 0.0))
    poses = [frame_state(shot, run, i).pose for i in range(MOMENTS + 1)]
    moments = [frame_state(shot, run, MOMENTS + 1 + i) for i in range(MOMENTS)]
    if all(moment.things_key == at.things_key for moment in moments):
        still = poses[0].key == poses[-1].key
        return at if still else replace(at, pose=poses[0], closing=poses[-1])
    return replace(at, during=tuple(replace(m, pose=a, closing=b) for m, a, b in zip(moments, poses, poses[1:], strict=False)))
