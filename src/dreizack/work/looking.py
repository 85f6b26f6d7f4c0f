"""The traced view: a process of its own that traces what people look at, newest wish first.

The parent sends wishes through a pipe; pictures come back as they sharpen. A new wish of the same
viewer calls the old one off, even in the middle of denoising.
"""

from __future__ import annotations

import contextlib
import multiprocessing
import os
import resource
from collections import OrderedDict
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any

import cv2
import numpy as np

from ..core.document import Shot
from ..core.optics import channel_shown, clipped_share, clipping, false_colour, linear_over, shown_clipped, to_display
from ..core.proof import explained
from ..core.render import CHANNELS, Answer, Progressive, Stage, Stopped, Window, ask, backdrop_picture, channel_picture
from ..core.scene import BodyStore, FrameState, bake, exposed, frame_names, frame_state
from ..core.shelf import shelve
from ..store.views import ViewFolder, view_key

MEMORY = 12 * 1024**3
STAGES = 5
# Samples a pixel of the quick small picture.
SMALL = 4
QUESTIONS = "questions"
VIEWS = "views"
SHOWN = {"clipping": clipping, "false colour": false_colour}


@dataclass(frozen=True)
class Wish:
    """What a viewer wants to see: one frame of a shot at a size, up to so many samples; then so many frames ``ahead``."""

    viewer: str
    number: int
    shot: str
    frame: int
    width: int
    height: int
    samples: int = 16
    show: str = "picture"
    ahead: int = 0
    region: tuple[float, float, float, float] | None = None

    @property
    def window(self) -> Window | None:
        """The pixels of the region (left, top, width, height from 0 to 1); None for the whole picture."""
        if self.region is None:
            return None
        x, y, w, h = self.region
        left, top = int(min(x, 0.99) * self.width), int(min(y, 0.99) * self.height)
        columns, rows = max(16, round(w * self.width)), max(16, round(h * self.height))
        left, top = max(0, min(left, self.width - columns)), max(0, min(top, self.height - rows))
        return Window(left, top, min(columns, self.width), min(rows, self.height))


@dataclass(frozen=True)
class Kept:
    """A frame that nobody looks at yet was traced ahead, and its picture is kept."""

    viewer: str
    number: int
    frame: int


@dataclass(frozen=True)
class Question:
    """What is at (x, y), from 0 to 1 from the top left, of a frame of a shot?"""

    viewer: str
    number: int
    shot: str
    frame: int
    width: int
    height: int
    x: float
    y: float


@dataclass(frozen=True)
class Answered:
    """The measured answer, and what it says in words."""

    viewer: str
    number: int
    answer: Answer
    says: list[str]
    exposure: float


@dataclass(frozen=True)
class Picture:
    """A picture for a viewer: JPEG data; ``samples`` of ``total`` are in it."""

    viewer: str
    number: int
    frame: int
    width: int
    height: int
    samples: int
    total: int
    data: bytes
    clipped: float = 0.0


class _Look:
    """One wish on its way: a quick small picture first, then the full size in doublings."""

    def __init__(self, wish: Wish, state: FrameState, stage: Stage, key: str) -> None:
        self.wish, self.state, self.stage, self.key = wish, state, stage, key
        stage.show(state)
        # Of a region there is soon a picture of the full size.
        self.small = None if wish.region else Progressive(stage, max(16, wish.width // 2), max(16, wish.height // 2), SMALL)
        self.large = Progressive(stage, wish.width, wish.height, wish.samples, wish.window)
        self.steps, self.told, self.channelled = 0, False, False

    @property
    def done(self) -> bool:
        return self.channelled if self.wish.show in CHANNELS else self.small is None and self.large.done

    def step(self, stopped: Callable[[], bool]) -> Picture | None:
        """A short piece of work; a picture when there is a better one to show."""
        self.steps += 1
        if self.stage.state is not self.state:
            self.stage.show(self.state)
        if self.wish.show in CHANNELS:
            self.channelled = True
            return self._channel()
        if self.small:
            self.small.step()
            if not self.small.done:
                return None
            picture = self._picture(self.small, stopped)
            self.small = None
            return picture
        self.large.step()
        if self.large.done or (self.large.first and not self.told):
            self.told = True
            return self._picture(self.large, stopped)
        return None

    def _channel(self) -> Picture:
        wish = self.wish
        size = (wish.width, wish.height)
        shown = channel_shown(wish.show, channel_picture(self.stage, self.stage.at_moment(0), size, Window(0, 0, *size), wish.show))
        _, data = cv2.imencode(".png", shown[..., ::-1])
        return Picture(wish.viewer, wish.number, wish.frame, *size, wish.samples, wish.samples, data.tobytes())

    def _picture(self, progressive: Progressive, stopped: Callable[[], bool]) -> Picture:
        traced = progressive.view("fast", stopped)
        height, width = traced.rgba.shape[:2]
        behind = backdrop_picture(self.state, self.wish.width, self.wish.height) if self.wish.region else backdrop_picture(self.state, width, height)
        window = self.wish.window
        if window is not None and behind.ndim == 3:
            behind = np.broadcast_to(behind, (self.wish.height, self.wish.width, 3))[window.slices]
        linear = linear_over(traced.rgba, self.state.exposure, behind)
        finished = SHOWN.get(self.wish.show, to_display)(linear, self.state.view)
        level = 94 if self.done else 86
        _, data = cv2.imencode(".jpg", finished[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, level])
        samples = 0 if self.small else self.wish.samples if self.done else min(traced.samples, self.wish.samples - 1)
        wish = self.wish
        return Picture(wish.viewer, wish.number, wish.frame, width, height, samples, wish.samples, data.tobytes(), clipped_share(linear, self.state.view))


class Looker:
    """The loop inside the process."""

    def __init__(self, pipe: Connection, views: ViewFolder | None) -> None:
        self.pipe, self.views = pipe, views
        self.bodies = BodyStore()
        self.looks: dict[str, _Look] = {}
        self.stages: OrderedDict[str, Stage] = OrderedDict()
        self.latest: dict[str, int] = {}
        self.waiting: list[Any] = []
        # What is traced when nobody waits: frames after the one that was looked at last.
        self.coming: tuple[Wish, Iterator[int]] | None = None

    def run(self) -> None:
        while True:
            active = [look for look in self.looks.values() if not look.done]
            self._listen(block=not active and not self.waiting and self.coming is None)
            for message in self._taken():
                if message is None:
                    return
                self._hear(message)
            active = [look for look in self.looks.values() if not look.done]
            if active:
                self._work(min(active, key=lambda look: look.steps))
            elif self.coming is not None and not self.waiting:
                self._work_ahead()

    def _listen(self, block: bool) -> None:
        while block or self.pipe.poll():
            message = self.pipe.recv()
            # Heard at once, so that work nobody wants any more stops in the middle.
            if isinstance(message, Wish):
                self.latest[message.viewer] = message.number
            elif isinstance(message, str):
                self.latest.pop(message, None)
            self.waiting.append(message)
            block = False

    def _taken(self) -> list[Any]:
        taken, self.waiting = self.waiting, []
        return taken

    def _hear(self, message: Any) -> None:
        if not isinstance(message, Question):
            self.coming = None
        if isinstance(message, str):
            self.looks.pop(message, None)
            self.stages.pop(message, None)
            self.latest.pop(message, None)
        elif isinstance(message, Question):
            try:
                self.pipe.send(self._answer(message))
            except Exception as why:
                self.pipe.send((message.viewer, message.number, f"This spot cannot be measured: {why}"))
        elif message.number == self.latest.get(message.viewer):
            try:
                look = self._begin(message)
                if look is None:
                    self.looks.pop(message.viewer, None)
                else:
                    self.looks[message.viewer] = look
            except Exception as why:  # one bad shot must not end everybody's traced view
                self.looks.pop(message.viewer, None)
                self.pipe.send((message.viewer, message.number, f"This frame cannot be traced: {why}"))

    def _answer(self, question: Question) -> Answered:
        shot = Shot.model_validate_json(question.shot)
        state = frame_state(shot, bake(shot, np.array([float(question.frame)])), 0)
        # One stage for all questions: they come one at a time, and mostly about one shot.
        found = ask(self._stage(QUESTIONS), state, (question.width, question.height), question.x, question.y)
        return Answered(question.viewer, question.number, found, explained(found, shot, state.exposure), state.exposure)

    def _stage(self, viewer: str) -> Stage:
        stage = self.stages.pop(viewer, None) or Stage(self.bodies)
        self.stages[viewer] = stage
        while len(self.stages) > STAGES:
            self.stages.popitem(last=False)
        return stage

    def _begin(self, wish: Wish) -> _Look | None:
        """Work on a wish; None where the picture is there already."""
        shot = Shot.model_validate_json(wish.shot)
        key = view_key(frame_names(shot, np.array([float(wish.frame)]))[0], wish.width, wish.height, wish.samples)
        kept = self.views.get(key) if wish.show == "picture" and wish.region is None and self.views is not None else None
        if kept is not None:
            shown = cv2.imdecode(np.frombuffer(kept, np.uint8), cv2.IMREAD_COLOR)
            clipped = shown_clipped(shown.astype(np.uint8)) if shown is not None else 0.0
            self.pipe.send(Picture(wish.viewer, wish.number, wish.frame, wish.width, wish.height, wish.samples, wish.samples, kept, clipped))
            self._go_ahead(wish)
            return None
        baked = bake(shot, np.array([float(wish.frame)]))
        stage = self._stage(wish.viewer)
        return _Look(wish, exposed(shot, float(wish.frame), baked), stage, key)

    def _work(self, look: _Look) -> None:
        wish = look.wish

        def stopped() -> bool:
            self._listen(block=False)
            return self.latest.get(wish.viewer) != wish.number

        try:
            picture = look.step(stopped)
        except Stopped:
            return
        except Exception as why:
            self.looks.pop(wish.viewer, None)
            self.pipe.send((wish.viewer, wish.number, f"This frame cannot be traced: {why}"))
            return
        if picture:
            self.pipe.send(picture)
            if look.done and wish.show == "picture" and wish.region is None and self.views is not None:
                self.views.keep(look.key, picture.data)
                self._go_ahead(wish)

    def _go_ahead(self, wish: Wish) -> None:
        """Go on with the frames that follow, once nobody waits."""
        if wish.ahead and self.views is not None:
            self.coming = wish, iter(range(wish.frame + 1, wish.frame + 1 + wish.ahead))

    def _work_ahead(self) -> None:
        """Trace one frame that nobody looks at yet; any message ends it."""
        assert self.coming is not None and self.views is not None
        wish, frames = self.coming
        shot = Shot.model_validate_json(wish.shot)
        frame = next(frames, None)
        if frame is None or frame >= shot.format.frames:
            self.coming = None
            return
        key = view_key(frame_names(shot, np.array([float(frame)]))[0], wish.width, wish.height, wish.samples)
        if any(self.views.there([key])):
            return

        def stopped() -> bool:
            self._listen(block=False)
            return bool(self.waiting)

        look = _Look(replace(wish, frame=frame), exposed(shot, float(frame)), self._stage(wish.viewer), key)
        look.small, look.told = None, True
        picture = None
        try:
            while not look.done:
                if stopped():
                    return
                picture = look.step(stopped)
        except Stopped:
            return
        if picture is not None:
            self.views.keep(key, picture.data)
            self.pipe.send(Kept(wish.viewer, wish.number, frame))


def _process(pipe: Connection, library: str, views: str) -> None:
    os.nice(3)
    shelve(Path(library))
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    with contextlib.suppress(EOFError, KeyboardInterrupt, BrokenPipeError):
        _warm()
        Looker(pipe, ViewFolder(Path(views)) if views else None).run()


def _warm() -> None:
    """Compile the kernels before the first wish."""
    from ..core.document import Title
    from ..core.light import key_fill_rim

    shot = Shot(things={"title": Title(), **key_fill_rim()})
    state = frame_state(shot, bake(shot, np.zeros(1)), 0)
    stage = Stage(BodyStore())
    stage.show(state)
    for width, height in ((480, 270), (960, 540)):
        progressive = Progressive(stage, width, height, SMALL)
        while not progressive.done:
            progressive.step()
        progressive.view("fast")


def start_looking(library: Path, views: Path | None = None) -> tuple[multiprocessing.process.BaseProcess, Connection]:
    """Start the process; the other end of its pipe. What people brought lies in ``library``, finished pictures are kept in ``views``."""
    context = multiprocessing.get_context("spawn")
    ours, theirs = context.Pipe()
    process = context.Process(target=_process, args=(theirs, str(library), str(views or "")), daemon=True, name="looking")
    process.start()
    theirs.close()
    return process, ours
