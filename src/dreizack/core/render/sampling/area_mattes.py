"""How much of effects is at work on what is seen: by how far away it is, and whether it is a thing."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...document import LIMITED
from ...optics import depth_share
from ...scene import FrameState
from ..transport.lens import Window
from .first_seen import SAMPLES, first_seen

Floats = NDArray[np.float32]


def area_mattes(state: FrameState, size: tuple[int, int], window: Window | None) -> dict[str, Floats]:
    """Shares (height, width, 1) by effect, of those that go by distance or by things, for a frame of a
    picture ``size`` (width, height) or a window of it. Focus and shutter are left out."""
    things = {effect: (thing, but_for) for effect, thing, but_for in state.area_things}
    used = [effect for effect in LIMITED if effect in things or state.optics.get(f"{effect}/area/depth")]
    if not used:
        return {}
    at = window or Window(0, 0, *size)
    seen = first_seen(state, size, at)
    found = {}
    for effect in used:
        share = depth_share(state.optics, effect, seen.away)
        if effect in things:
            thing, but_for = things[effect]
            wanted = np.array([False, *(name.rsplit("_", 2)[0] == thing for name in seen.names)])
            share = share * (wanted[seen.part] != but_for)
        found[effect] = share.reshape(at.rows, at.columns, SAMPLES).mean(axis=2, dtype=np.float32)[..., None]
    return found
