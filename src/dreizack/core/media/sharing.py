"""Frames of an order that others may trace ahead."""

from __future__ import annotations

import time
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from ..document import Shot
from ..render import QUALITIES, RawPasses, Stage, Stopped, trace_passes
from ..scene import RENDER_VERSION, FrameState, bake, exposed
from ..scene.frame import fingerprint
from .order import Order
from .shelf import Shelf

# Seconds between looks whether somebody else is done.
PAUSE = 0.2
# Frames that are offered at once, and so many before the last of them the next ones are.
OFFERED, AHEAD = 240, 60


@dataclass(frozen=True)
class Wanted:
    """A picture of a shot that is wanted: its ``key``, the frame ``at`` which, with parts, and what the frame
    is called whatever its size (``passed``), and by whom it is looked for (``named``, where it lasts)."""

    key: str
    at: float
    passed: str
    named: str


class Sharing(Protocol):
    """Shares out the pictures of one order between those who trace."""

    def helped(self) -> bool:
        """Whether there is anybody to share with just now."""
        ...

    def offer(self, shot: Shot, order: Order, wanted: list[Wanted]) -> None:
        """Let others trace these, in this order."""
        ...

    def claim(self, key: str) -> bool:
        """Whether a picture is ours to trace; not where somebody else is at it."""
        ...

    def another(self) -> Wanted | None:
        """One that nobody is at, which is ours now; None where there is none left."""
        ...

    def done(self, key: str) -> None:
        """A picture is there."""
        ...

    def close(self) -> None:
        """Nothing of the order is wanted any more."""
        ...


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


def state_at(shot: Shot, at: float) -> FrameState:
    """One frame of a shot by itself."""
    return exposed(shot, at, bake(shot, np.array([at])), 0)


def traced(
    stage: Stage, state: FrameState, order: Order, stopped: Callable[[], bool] = lambda: False
) -> RawPasses:
    """What is traced for a picture of an order, to be denoised."""
    stage.show(state)
    return trace_passes(stage, order.width, order.height, QUALITIES[order.quality], stopped)


def clean_picture(found: RawPasses, order: Order) -> NDArray[np.float32]:
    """The denoised picture (height, width, 4 or 5)."""
    return found.denoised(QUALITIES[order.quality].denoiser)


@dataclass
class Shared:
    """Pictures of an order that others may trace, too."""

    shot: Shot
    order: Order
    frames: NDArray[np.float64]
    shelf: Shelf
    sharing: Sharing | None
    # Which of its frames were offered: from where somebody helped, up to here.
    offered: int = 0
    # Where pictures that were traced for others are finished, and the one that is.
    beside: ThreadPoolExecutor | None = None
    finishing: tuple[str, Future[None]] | None = None

    def awaited(
        self, stage: Stage, index: int, key: str, passed: str, stopped: Callable[[], bool]
    ) -> NDArray[np.float32] | None:
        """A picture that somebody else traces, as soon as it is there; meanwhile those that nobody is at are
        traced. None: it is ours to trace."""
        if self.sharing is None:
            return None
        if self.offered - index < AHEAD and self.offered < self.order.count and self.sharing.helped():
            begin = max(index, self.offered)
            self.offered = min(begin + OFFERED, self.order.count)
            self.sharing.offer(self.shot, self.order, self._wanted(begin, self.offered))
        if self.finishing is not None and self.finishing[0] == key:
            self._finished()
            kept = self.shelf.get(key, passed)
            if kept is not None:
                return kept
        while not self.sharing.claim(key):
            if stopped():
                raise Stopped
            other = self.sharing.another()
            if other is None:
                time.sleep(PAUSE)
            else:
                found = traced(stage, state_at(self.shot, other.at), self.order, stopped)
                self._finish_beside(found, other)
            if self.finishing is not None and self.finishing[0] == key:
                self._finished()
            kept = self.shelf.get(key, passed)
            if kept is not None:
                return kept
        # It may have come between looking and claiming.
        kept = self.shelf.get(key, passed)
        if kept is not None:
            self.sharing.done(key)
        return kept

    def _finish_beside(self, found: RawPasses, picture: Wanted) -> None:
        """Denoise and keep a picture while the next one is traced; one at a time waits for that."""
        if self.beside is None:
            self._finish(found, picture)
            return
        self._finished()
        self.finishing = picture.key, self.beside.submit(self._finish, found, picture)

    def _finished(self) -> None:
        """Wait until what was traced last for others is kept."""
        if self.finishing is not None:
            self.finishing[1].result()
            self.finishing = None

    def _finish(self, found: RawPasses, picture: Wanted) -> None:
        assert self.sharing is not None
        self.shelf.put(picture.key, picture.passed, picture.named, clean_picture(found, self.order))
        self.sharing.done(picture.key)

    def done(self, key: str) -> None:
        if self.sharing is not None:
            self.sharing.done(key)

    def close(self) -> None:
        if self.sharing is not None:
            try:
                self._finished()
            finally:
                self.sharing.close()

    def _wanted(self, begin: int, end: int) -> list[Wanted]:
        """What is left to trace of a run of frames."""
        found: dict[str, Wanted] = {}
        for place in range(begin, end):
            at = float(self.frames[place])
            state = state_at(self.shot, at)
            key, passed = picture_key(state, self.order), pass_name(state, self.order.quality)
            if key not in found and not self.shelf.has(key):
                found[key] = Wanted(key, at, passed, self.shelf.names[place])
        return list(found.values())
