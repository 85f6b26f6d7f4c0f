"""How much of effects is at work on what is seen: by how far away it is, and whether it is a thing."""

from __future__ import annotations

from dataclasses import dataclass, replace
from threading import Lock
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...document import LIMITED
from ...optics import depth_share
from ...scene import BodyStore, FrameState, Lens
from ...scene.frame import fingerprint
from ..kernel.engine import arrays, engine
from ..staging.stage import Stage
from ..transport.lens import Window, camera_rays
from ..transport.paths import first_met
from .launch import part_numbers

mi, dr = engine(), arrays()
Floats = NDArray[np.float32]

# Rays a pixel, and at once.
SAMPLES, RAYS = 8, 2_000_000


@dataclass
class _Seen:
    """What is met first by rays (rays,): metres along the camera's axis, infinite where nothing is, and the
    number of the part, by ``names``."""

    key: str = ""
    away: Floats | None = None
    part: NDArray[np.int16] | None = None
    names: tuple[str, ...] = ()


_lock = Lock()
_seen = _Seen()
_stage: list[Stage] = []


def area_mattes(state: FrameState, size: tuple[int, int], window: Window | None) -> dict[str, Floats]:
    """Shares (height, width, 1) by effect, of those that go by distance or by things, for a frame of a
    picture ``size`` (width, height) or a window of it. Focus and shutter are left out."""
    things = {effect: (thing, but_for) for effect, thing, but_for in state.area_things}
    used = [effect for effect in LIMITED if effect in things or state.optics.get(f"{effect}/area/depth")]
    if not used:
        return {}
    at = window or Window(0, 0, *size)
    with _lock:
        seen = _look(state, size, at)
        away, part, names = seen.away, seen.part, seen.names
    assert away is not None and part is not None
    found = {}
    for effect in used:
        share = depth_share(state.optics, effect, away)
        if effect in things:
            thing, but_for = things[effect]
            wanted = np.array([False, *(name.rsplit("_", 2)[0] == thing for name in names)])
            share = share * (wanted[part] != but_for)
        found[effect] = share.reshape(at.rows, at.columns, SAMPLES).mean(axis=2, dtype=np.float32)[..., None]
    return found


def _look(state: FrameState, size: tuple[int, int], window: Window) -> _Seen:
    """What is seen, looked at anew only where things or the camera have changed."""
    still = replace(state, lens=Lens(), during=(), closing=None)
    key = fingerprint((still.traced_key, size, window))
    if _seen.key == key:
        return _seen
    if not _stage:
        _stage.append(Stage(BodyStore()))
    stage = _stage[0]
    stage.show(still)
    rows = max(1, RAYS // (window.columns * SAMPLES))
    strips = [
        _strip(stage, still, size, replace(window, top=top, rows=min(rows, window.top + window.rows - top)))
        for top in range(window.top, window.top + window.rows, rows)
    ]
    _seen.away, _seen.part = (np.concatenate(parts) for parts in zip(*strips, strict=True))
    _seen.names, _seen.key = tuple(stage.part_names), key
    return _seen


def _strip(
    stage: Stage, state: FrameState, size: tuple[int, int], window: Window
) -> tuple[Floats, NDArray[np.int16]]:
    ray, _ = camera_rays(state, size, window.pixels(size[0]), SAMPLES, 0)
    assert stage.tables is not None
    si = first_met(stage.tables, ray)
    there = np.asarray(si.is_valid()).astype(bool)
    shapes = np.asarray(dr.reinterpret_array(mi.UInt32, si.shape))
    place: Any = np.stack([np.asarray(axis) for axis in (si.p.x, si.p.y, si.p.z)], axis=1)
    away = (place - state.pose.position) @ state.pose.axes[2]
    part = np.where(there, part_numbers(stage)[shapes], 0).astype(np.int16)
    return np.where(there, away, np.inf).astype(np.float32), part
