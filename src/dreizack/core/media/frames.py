"""The frames of an order, traced one after the other or fetched where they are kept."""

from __future__ import annotations

import contextlib
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..document import Shot, lost_files, run_of
from ..render import RawPasses, Stage, Stopped
from ..scene import BodyStore, FrameState, bake, exposed, frame_names, window
from .failing import Failing, FilesLost
from .order import Order
from .sharing import Shared, Sharing, clean_picture, pass_name, picture_key, traced
from .shelf import FrameKeeper, Shelf


@dataclass(frozen=True)
class _Waiting:
    """A frame that is being denoised."""

    frame: int
    state: FrameState
    key: str
    picture: Future[NDArray[np.float32]]


def pictures(
    shot: Shot,
    order: Order,
    keeper: FrameKeeper | None,
    stopped: Callable[[], bool],
    at: NDArray[np.float64] | None = None,
    sharing: Sharing | None = None,
    failing: Failing | None = None,
) -> Iterator[tuple[int, FrameState, NDArray[np.float32] | None, bool]]:
    """Trace (or fetch) the frames of an order one after the other; each is denoised while the next one is
    traced, also when that is called off: what was traced is not lost. ``at`` (n,): the frames of the shot
    that these are, in parts of frames and any order, where they are not its frames one by one. What others
    trace meanwhile, where an order is shared, is fetched too. Where there is somebody to tell of what is
    ``failing``, a frame that fails twice, or lacks files, has no picture, and the others go on."""
    frames = np.arange(order.first, order.last + 1, dtype=np.float64) if at is None else at
    stage = Stage(BodyStore())
    shelf = Shelf(order, keeper, frame_names(shot, frames) if keeper is not None else [])
    shared = Shared(shot, order, frames, shelf, sharing if keeper is not None else None)

    def clean(found: RawPasses, index: int, key: str, passed: str) -> NDArray[np.float32]:
        rgba = clean_picture(found, order)
        shelf.put(key, passed, shelf.names[index] if shelf.names else "", rgba)
        shared.done(key)
        return rgba

    with ThreadPoolExecutor(1, "denoising") as beside, contextlib.closing(shared):
        shared.beside = beside
        waiting: _Waiting | None = None
        for index, state in _states(shot, frames):
            if stopped():
                raise Stopped
            key, passed = picture_key(state, order), pass_name(state, order.quality)
            found = None
            # Where nothing has changed since the frame before, its picture will do.
            alike = waiting is not None and waiting.key == key
            kept = waiting.picture.result() if waiting is not None and alike else shelf.get(key, passed)
            if kept is None:
                kept = shared.awaited(stage, index, key, passed, stopped)
            if kept is None:
                found, stage = _tried(stage, shot, index, state, order, stopped, failing)
            before, waiting = waiting, None
            if found is not None:
                made = beside.submit(clean, found, index, key, passed)
                waiting = _Waiting(order.first + index, state, key, made)
            if before is not None:
                yield before.frame, before.state, before.picture.result(), False
            if kept is not None:
                shelf.note(index, key)
                yield order.first + index, state, kept, True
            elif found is None:
                yield order.first + index, state, None, False
        if waiting is not None:
            yield waiting.frame, waiting.state, waiting.picture.result(), False


def _tried(
    stage: Stage,
    shot: Shot,
    index: int,
    state: FrameState,
    order: Order,
    stopped: Callable[[], bool],
    failing: Failing | None,
) -> tuple[RawPasses | None, Stage]:
    """A frame's passes, and the stage they are from: what fails is tried once more on a new one; None where
    that fails too. A picture that something is missing from is none, and must not be kept."""
    lost = lost_files(shot)
    if lost:
        if failing is None:
            raise FilesLost(lost)
        failing.failed(order.first + index, FilesLost(lost))
        return None, stage
    try:
        return traced(stage, state, order, stopped), stage
    except Stopped:
        raise
    except Exception:
        if failing is None:
            raise
    stage = Stage(BodyStore())
    try:
        return traced(stage, state, order, stopped), stage
    except Stopped:
        raise
    except Exception as fault:
        failing.failed(order.first + index, fault)
        return None, Stage(BodyStore())


def _states(shot: Shot, frames: NDArray[np.float64]) -> Iterator[tuple[int, FrameState]]:
    """Frames of a shot one after the other: evaluated at once, of a very long one as much as can be held,
    but no further than to the next change."""
    _, run = window(shot, int(frames[0]))
    begin = end = 0
    for index in range(len(frames)):
        if index >= end:
            begin = index
            end = min(index + run, _run_end(shot, frames, index))
            baked = bake(shot, frames[begin:end])
        yield index, exposed(shot, float(frames[index]), baked, index - begin)


def _run_end(shot: Shot, frames: NDArray[np.float64], index: int) -> int:
    """How far ``frames`` go on from ``index`` before something of the shot changes that splits it."""
    if not shot.changes:
        return len(frames)
    first, end = run_of(shot, float(frames[index]))
    outside = np.flatnonzero((frames[index:] < first) | (frames[index:] >= end))
    return index + int(outside[0]) if len(outside) else len(frames)
