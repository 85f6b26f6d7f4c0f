"""How bright air is by light that comes from everywhere: what a view shows that looks at lamps one by one."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..document import Shot
from ..light import around_picture
from .baking import Baked
from .frame import frame_state

Floats = NDArray[np.float64]


def air_glow(shot: Shot, baked: Baked) -> Floats:
    """Light (frames, 3) of surroundings and ambient lights that thick air sends every way alike, nothing in
    the way."""
    picture = around_picture(frame_state(shot, baked, 0).around)
    rows = np.sin((np.arange(len(picture)) + 0.5) * np.pi / len(picture))
    mean = (picture.mean(axis=1) * rows[:, None]).sum(axis=0) / rows.sum()
    glow = baked.surroundings_strength[:, None] * mean.astype(np.float64)
    for light in baked.lights.values():
        if light.source == "ambient":
            glow = glow + np.where(light.there[:, None], light.radiance, 0.0)
    found: Floats = glow * baked.air.tint
    return found
