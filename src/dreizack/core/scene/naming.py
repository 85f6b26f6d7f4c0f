"""Names of frames by what can change them, for many frames at once."""

from __future__ import annotations

import hashlib

import numpy as np
from numpy.typing import NDArray

from ..document import Shot
from ..motion import Motion
from .shutter import MOMENTS


def _plays(document: str) -> bool:
    """Whether there is a video in a document, so that no two frames are known to be alike."""
    return any(f'"{field}":"video"' in document for field in ("fill", "source", "kind"))


def frame_names(shot: Shot, frames: NDArray[np.float64]) -> list[str]:
    """A name for each of ``frames`` (n,): equal exactly where the document and all keyed values, while the shutter is
    open, are equal. A key moved elsewhere leaves the names of frames it does not reach alone.
    """
    fixed = shot.model_dump_json(exclude={"name": True, "channels": True, "format": {"frames"}})
    span = shot.camera.shutter_angle / 360
    offsets = span * (np.arange(MOMENTS + 1) / MOMENTS - 0.5) if span > 0 else np.zeros(1)
    times = np.maximum(frames[:, None] + offsets[None], 0)
    motion = Motion(shot, times)
    pointers = sorted(motion.channels)
    values = np.stack([motion.channels[pointer] for pointer in pointers], axis=-1) if pointers else np.zeros((len(frames), 1, 0))
    # Frames whose whole open time lies within holds have the same values; signs of zero must not tell them apart.
    rows = (np.round(values, 9) + 0.0).reshape(len(frames), -1)
    if _plays(fixed):
        rows = np.column_stack([rows, frames])
    stem = hashlib.blake2b(f"{fixed}/{pointers}".encode(), digest_size=16).digest()
    return [hashlib.blake2b(stem + row.tobytes(), digest_size=16).hexdigest() for row in rows]
