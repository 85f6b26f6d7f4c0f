"""How bright air is on the whole: what a view without shadows in it shows."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..document import Shot
from ..light import around_picture
from .baking import Baked, BakedLight
from .frame import frame_state

Floats = NDArray[np.float64]
# Lights that shine one way.
FACING = ("panel", "disc", "spot")


def air_glow(shot: Shot, baked: Baked) -> Floats:
    """Light (frames, 3) that thick air sends every way alike where the camera looks, nothing in the way."""
    picture = around_picture(frame_state(shot, baked, 0).around)
    rows = np.sin((np.arange(len(picture)) + 0.5) * np.pi / len(picture))
    mean = (picture.mean(axis=1) * rows[:, None]).sum(axis=0) / rows.sum()
    glow = baked.surroundings_strength[:, None] * mean.astype(np.float64)
    for light in baked.lights.values():
        glow = glow + np.where(light.there[:, None], _brought(light, baked.camera_aim), 0.0)
    found: Floats = glow * baked.air.tint
    return found


def _brought(light: BakedLight, at: Floats) -> Floats:
    """What a light brings to points (frames, 3), as a share of a sphere."""
    if light.source == "ambient":
        return light.radiance
    way = at - light.matrix[:, :3, 3]
    square = np.maximum((way**2).sum(axis=1), 0.01)
    area = 4 * np.linalg.norm(light.matrix[:, :3, 0], axis=1) * np.linalg.norm(light.matrix[:, :3, 1], axis=1)
    seen = area / square
    if light.source in FACING:
        ahead = light.aim - light.position
        ahead = ahead / np.maximum(np.linalg.norm(ahead, axis=1), 1e-9)[:, None]
        seen = seen * np.maximum((ahead * way).sum(axis=1) / np.sqrt(square), 0)
    brought: Floats = light.radiance * np.minimum(seen, 2 * np.pi)[:, None] / (4 * np.pi)
    return brought
