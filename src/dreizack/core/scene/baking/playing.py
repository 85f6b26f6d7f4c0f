"""Which frame of a video is shown when."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...clips import clip_facts, shown_frames
from ...document import SurfacePicture
from ...motion import Motion

Ints = NDArray[np.int64]


def playing(motion: Motion, at: str, video: str, speed: float, after: str) -> Ints:
    """Which frames (frames,) of a video are shown; 0 where there is none."""
    facts = clip_facts(video) if video else None
    if facts is None:
        return np.zeros(len(motion.frames), np.int64)
    seconds = motion.frames / motion.shot.format.rate.per_second
    return shown_frames(seconds, speed, motion.value(f"{at}/offset"), after, facts.frames, float(facts.rate))


def surface_playing(motion: Motion, at: str, picture: SurfacePicture) -> Ints:
    """Which frames (frames,) of its video a surface shows."""
    return playing(motion, at, picture.file if picture.fill == "video" else "", picture.speed, picture.after)
