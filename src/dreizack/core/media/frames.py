"""The frames of an order, traced one after the other or fetched where they are kept."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass
from typing import Protocol

import cv2
import numpy as np
from numpy.typing import NDArray

from ..document import Shot, run_of
from ..render import QUALITIES, RawPasses, Stage, Stopped, trace_passes
from ..scene import RENDER_VERSION, BodyStore, FrameState, bake, exposed, frame_names, window
from ..scene.frame import fingerprint
from .order import Order

# Qualities whose frames are good enough to be looked at in their place.
LASTING = ("final", "good")


class FrameKeeper(Protocol):
    """Keeps traced pictures by the hash of what they were made from."""

    def get(self, key: str) -> NDArray[np.float32] | None: ...

    def put(self, key: str, rgba: NDArray[np.float32]) -> None: ...

    def note(self, frame: str, key: str, width: int) -> None: ...

    def of(self, frame: str) -> NDArray[np.float32] | None: ...


def picture_key(state: FrameState, order: Order) -> str:
    """Name of a traced picture: scene, size and samples."""
    quality = QUALITIES[order.quality]
    return fingerprint(
        (RENDER_VERSION, state.traced_key, order.width, order.height, quality.samples, quality.denoiser)
    )


def pass_name(state: FrameState, quality: str) -> str:
    """Name of a frame traced at a quality, whatever its size."""
    chosen = QUALITIES[quality]
    return fingerprint((RENDER_VERSION, state.traced_key, chosen.samples, chosen.denoiser))


def fitted(rgba: NDArray[np.float32] | None, width: int, height: int) -> NDArray[np.float32] | None:
    """A traced picture averaged down to a size; None where it is smaller or of another shape."""
    if (
        rgba is None
        or rgba.shape[1] < width
        or abs(rgba.shape[1] * height - rgba.shape[0] * width) > max(rgba.shape[:2])
    ):
        return None
    # Pixels are boxes, and light is premultiplied: the mean over an area is what a smaller picture would have
    # had.
    small: NDArray[np.float32] = cv2.resize(rgba, (width, height), interpolation=cv2.INTER_AREA).astype(
        np.float32
    )
    return small


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
) -> Iterator[tuple[int, FrameState, NDArray[np.float32], bool]]:
    """Trace (or fetch) the frames of an order one after the other; each is denoised while the next one is
    traced, also when that is called off: what was traced is not lost. ``at`` (n,): the frames of the shot
    that these are, in parts of frames and any order, where they are not its frames one by one."""
    frames = np.arange(order.first, order.last + 1, dtype=np.float64) if at is None else at
    stage, quality = Stage(BodyStore()), QUALITIES[order.quality]
    # A shot is evaluated at once, of a very long one as much as can be held.
    _, run = window(shot, int(frames[0]))
    names = frame_names(shot, frames) if keeper is not None else []

    shelf = _Shelf(order, keeper, names)

    def clean(found: RawPasses, index: int, key: str, passed: str) -> NDArray[np.float32]:
        rgba = found.denoised(quality.denoiser)
        shelf.put(index, key, passed, rgba)
        return rgba

    with ThreadPoolExecutor(1, "denoising") as beside:
        waiting: _Waiting | None = None
        begin = end = 0
        for index in range(order.count):
            if stopped():
                raise Stopped
            if index >= end:
                # As much as can be held, but no further than to the next change.
                begin = index
                end = min(index + run, _run_end(shot, frames, index))
                baked = bake(shot, frames[begin:end])
            state = exposed(shot, float(frames[index]), baked, index - begin)
            key, passed = picture_key(state, order), pass_name(state, order.quality)
            kept, found = None, None
            if waiting is not None and waiting.key == key:
                # Nothing has changed since the frame before.
                kept = waiting.picture.result()
            else:
                kept = shelf.get(key, passed)
            if kept is None:
                stage.show(state)
                found = trace_passes(stage, order.width, order.height, quality, stopped)
            before, waiting = waiting, None
            if found is not None:
                waiting = _Waiting(
                    order.first + index, state, key, beside.submit(clean, found, index, key, passed)
                )
            if before is not None:
                yield before.frame, before.state, before.picture.result(), False
            if kept is not None:
                shelf.note(index, key)
                yield order.first + index, state, kept, True
        if waiting is not None:
            yield waiting.frame, waiting.state, waiting.picture.result(), False


@dataclass(frozen=True)
class _Shelf:
    """Pictures of an order that are kept, where somebody keeps them; ``names`` of its frames."""

    order: Order
    keeper: FrameKeeper | None
    names: list[str]

    def get(self, key: str, passed: str) -> NDArray[np.float32] | None:
        """A picture by its key, or by what was traced for it in another size that fits."""
        if self.keeper is None:
            return None
        kept = self.keeper.get(key)
        return (
            kept if kept is not None else fitted(self.keeper.of(passed), self.order.width, self.order.height)
        )

    def put(self, index: int, key: str, passed: str, rgba: NDArray[np.float32]) -> None:
        if self.keeper is not None:
            self.keeper.put(key, rgba)
            self.keeper.note(passed, key, self.order.width)
            self.note(index, key)

    def note(self, index: int, key: str) -> None:
        """What is a frame's picture, in qualities that last."""
        if self.keeper is not None and self.order.quality in LASTING:
            self.keeper.note(self.names[index], key, self.order.width)


def _run_end(shot: Shot, frames: NDArray[np.float64], index: int) -> int:
    """How far ``frames`` go on from ``index`` before something of the shot changes that splits it."""
    if not shot.changes:
        return len(frames)
    first, end = run_of(shot, float(frames[index]))
    outside = np.flatnonzero((frames[index:] < first) | (frames[index:] >= end))
    return index + int(outside[0]) if len(outside) else len(frames)
