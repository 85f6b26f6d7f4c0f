"""What is met first in each pixel, looked at again only where things or the camera have changed."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from threading import Lock
from typing import Any

import numpy as np
from numpy.typing import NDArray

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


@dataclass(frozen=True)
class FirstSeen:
    """What is met first by ``SAMPLES`` rays a pixel (pixels × samples,): metres along the camera's axis,
    infinite where nothing is, and the number of the part, 0 where there is none, counted from 1 by
    ``names``."""

    away: Floats = field(default_factory=lambda: np.zeros(0, np.float32))
    part: NDArray[np.int16] = field(default_factory=lambda: np.zeros(0, np.int16))
    names: tuple[str, ...] = ()


_lock = Lock()
_kept: dict[str, FirstSeen] = {}
_stage: list[Stage] = []


def first_seen(state: FrameState, size: tuple[int, int], window: Window) -> FirstSeen:
    """What is met in a frame of a picture ``size`` (width, height), or a window of it. Focus and shutter are
    left out."""
    still = replace(state, lens=Lens(), during=(), closing=None)
    key = fingerprint((still.traced_key, size, window))
    with _lock:
        if key not in _kept:
            found = _look(still, size, window)
            _kept.clear()
            _kept[key] = found
        return _kept[key]


def _look(state: FrameState, size: tuple[int, int], window: Window) -> FirstSeen:
    if not _stage:
        _stage.append(Stage(BodyStore()))
    stage = _stage[0]
    stage.show(state)
    rows = max(1, RAYS // (window.columns * SAMPLES))
    strips = [
        _strip(stage, state, size, replace(window, top=top, rows=min(rows, window.top + window.rows - top)))
        for top in range(window.top, window.top + window.rows, rows)
    ]
    away, part = (np.concatenate(parts) for parts in zip(*strips, strict=True))
    return FirstSeen(away, part, tuple(stage.part_names))


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
