"""The loop that traces what people look at, newest wish first, and the frames that follow while nobody
waits."""

from __future__ import annotations

import logging
import time
from collections import OrderedDict
from collections.abc import Iterator
from dataclasses import replace
from multiprocessing.connection import Connection
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from ...core.document import Shot
from ...core.media.sharing import pass_name
from ...core.media.shelf import LASTING, fitted
from ...core.optics import shown_clipped
from ...core.proof import explained
from ...core.render import Stage, Stopped, ask, give_back
from ...core.scene import BodyStore, FrameState, bake, exposed, frame_names, frame_state
from ...store.frame_cache import FrameCache
from ...store.view_cache import ViewCache, view_key
from .look import PreviewJob
from .messages import Answered, Kept, Picture, Question, Wish

LOG = logging.getLogger(__name__)
STAGES = 5
QUESTIONS = "questions"
# Seconds without a wish after which memory that is kept for the next one goes back.
RESTING = 4.0
# Seconds that what is aside waits for those who look; then it has its share, so long in turn with them.
LATE = 10.0
SHARE = 3.0


def _urgent(message: Any) -> bool:
    return isinstance(message, Question) or (isinstance(message, Wish) and not message.aside)


class Previewer:
    """The loop inside the process."""

    def __init__(self, pipe: Connection, views: ViewCache | None, frames: FrameCache | None = None) -> None:
        self.pipe, self.views, self.frames = pipe, views, frames
        self.bodies = BodyStore()
        self.looks: dict[str, PreviewJob] = {}
        self.stages: OrderedDict[str, Stage] = OrderedDict()
        self.latest: dict[str, int] = {}
        self.waiting: list[Any] = []
        # Wishes that were not begun yet, one a viewer, and since when: those that are replaced before their
        # turn comes cost nothing.
        self.wished: OrderedDict[str, tuple[Wish, float]] = OrderedDict()
        # What is traced when nobody waits: frames after the one that was looked at last.
        self.coming: tuple[Wish, Iterator[int]] | None = None
        # When what is late had its share last.
        self.shared = 0.0

    def run(self) -> None:
        while True:
            idle = not self._active() and not self.wished and not self.waiting and self.coming is None
            if idle and not self.pipe.poll(RESTING):
                give_back()
            self._listen(block=idle)
            for message in self._taken():
                if message is None:
                    return
                self._hear(message)
            if self.wished or self._active():
                self._take_turn()
            elif self.coming is not None and not self.waiting:
                self._work_ahead()

    def _active(self) -> list[PreviewJob]:
        """Looks that are begun and still wanted."""
        return [
            look
            for look in self.looks.values()
            if not look.done and self.latest.get(look.wish.viewer) == look.wish.number
        ]

    def _take_turn(self) -> None:
        """One step for whoever looks: a first picture of what is begun, then wishes in the order they came,
        then better pictures. What has waited aside for too long goes on in turn with that."""
        now, active = time.monotonic(), self._active()
        since = {look.wish.viewer: look.since for look in active if look.wish.aside}
        since |= {viewer: heard for viewer, (wish, heard) in self.wished.items() if wish.aside}
        late = [viewer for viewer, heard in since.items() if now - heard > LATE]
        if late and now - self.shared >= SHARE:
            return self._share(min(late, key=lambda viewer: since[viewer]), now)
        urgent = [look for look in active if not look.wish.aside]
        unseen = next((look for look in urgent if not look.seen), None)
        wish = next((viewer for viewer, (wish, _) in self.wished.items() if not wish.aside), None)
        if unseen is not None:
            self._work(unseen)
        elif wish is not None:
            self._begin_wished(wish)
        elif urgent:
            self._work(min(urgent, key=lambda look: look.steps))
        elif self.wished:
            self._begin_wished(next(iter(self.wished)))
        else:
            self._work(min(active, key=lambda look: look.steps))

    def _share(self, viewer: str, now: float) -> None:
        """What is late has its share of time."""
        if viewer in self.wished:
            self._begin_wished(viewer)
        look = self.looks.get(viewer)
        if look is None:
            return
        wanted = self.latest.get(look.wish.viewer) == look.wish.number
        while wanted and not look.done and time.monotonic() - now < SHARE:
            self._work(look, late=True)
            wanted = self.looks.get(viewer) is look and self.latest.get(viewer) == look.wish.number
        self.shared = time.monotonic()

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
        if not isinstance(message, Question) and not (isinstance(message, Wish) and message.aside):
            self.coming = None
        if isinstance(message, str):
            self.looks.pop(message, None)
            self.wished.pop(message, None)
            self.stages.pop(message, None)
            self.latest.pop(message, None)
        elif isinstance(message, Question):
            try:
                self.pipe.send(self._answer(message))
            except Exception:
                LOG.exception("a spot could not be measured")
                self.pipe.send(
                    (message.viewer, message.number, "This spot cannot be measured; the log says why")
                )
        elif message.number == self.latest.get(message.viewer):
            # Who asks again keeps the turn.
            _, since = self.wished.get(message.viewer, (None, time.monotonic()))
            self.wished[message.viewer] = message, since

    def _begin_wished(self, viewer: str) -> None:
        wish, since = self.wished.pop(viewer)
        self.looks.pop(viewer, None)
        if wish.number != self.latest.get(viewer):
            return
        try:
            look = self._begin(wish)
        except Exception:  # one bad shot must not end everybody's traced view
            return self._say_untraceable(wish)
        if look is not None:
            look.since = since
            self.looks[viewer] = look

    def _answer(self, question: Question) -> Answered:
        shot = Shot.model_validate_json(question.shot)
        state = frame_state(shot, bake(shot, np.array([float(question.frame)])), 0)
        # One stage for all questions: they come one at a time, and mostly about one shot.
        found = ask(self._stage(QUESTIONS), state, (question.width, question.height), question.x, question.y)
        return Answered(
            question.viewer, question.number, found, explained(found, shot, state.exposure), state.exposure
        )

    def _stage(self, viewer: str) -> Stage:
        stage = self.stages.pop(viewer, None) or Stage(self.bodies)
        self.stages[viewer] = stage
        while len(self.stages) > STAGES:
            self.stages.popitem(last=False)
        return stage

    def _begin(self, wish: Wish) -> PreviewJob | None:
        """Work on a wish; None where the picture is there already."""
        shot = Shot.model_validate_json(wish.shot)
        key = view_key(
            frame_names(shot, np.array([float(wish.frame)]))[0], wish.width, wish.height, wish.samples
        )
        kept = (
            self.views.get(key)
            if wish.show == "picture" and wish.region is None and self.views is not None
            else None
        )
        if kept is not None:
            shown = cv2.imdecode(np.frombuffer(kept, np.uint8), cv2.IMREAD_COLOR)
            clipped = shown_clipped(shown.astype(np.uint8)) if shown is not None else 0.0
            self.pipe.send(
                Picture(
                    wish.viewer,
                    wish.number,
                    wish.frame,
                    wish.width,
                    wish.height,
                    wish.samples,
                    wish.samples,
                    kept,
                    clipped,
                )
            )
            self._go_ahead(wish)
            return None
        if wish.kept:
            return None
        state = exposed(shot, float(wish.frame))
        look = PreviewJob(wish, state, self._stage(wish.viewer), key)
        delivered = self._delivered(wish, state)
        if delivered is None:
            return look
        picture = look.delivered(delivered)
        self.pipe.send(picture)
        self._keep(key, picture.data)
        self._go_ahead(wish)
        return None

    def _keep(self, key: str, data: bytes) -> None:
        """Keep a finished picture; where there is no room for it, it is traced again when it is wanted
        again."""
        if self.views is not None:
            try:
                self.views.keep(key, data)
            except OSError as why:
                LOG.warning("a finished picture cannot be kept: %s", why)

    def _delivered(self, wish: Wish, state: FrameState) -> NDArray[np.float32] | None:
        """A frame that was traced for a delivery, in the size of a wish for its picture."""
        if self.frames is None or wish.show != "picture" or wish.region is not None:
            return None
        found = (
            fitted(self.frames.of(pass_name(state, quality)), wish.width, wish.height) for quality in LASTING
        )
        return next((rgba for rgba in found if rgba is not None), None)

    def _work(self, look: PreviewJob, late: bool = False) -> None:
        wish = look.wish

        def stopped() -> bool:
            self._listen(block=False)
            # What is aside and not late is laid down where it is as soon as somebody looks at something.
            return self.latest.get(wish.viewer) != wish.number or (
                wish.aside and not late and any(_urgent(message) for message in self.waiting)
            )

        try:
            picture = look.step(stopped)
        except Stopped:
            return
        except Exception:
            self._say_untraceable(wish)
            return
        if picture:
            self.pipe.send(picture)
            if look.done and wish.show == "picture" and wish.region is None and self.views is not None:
                self._keep(look.key, picture.data)
                self._go_ahead(wish)

    def _say_untraceable(self, wish: Wish) -> None:
        LOG.exception("frame %d could not be traced", wish.frame)
        self.looks.pop(wish.viewer, None)
        self.pipe.send((wish.viewer, wish.number, "This frame cannot be traced; the log says why"))

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

        look = PreviewJob(
            replace(wish, frame=frame), exposed(shot, float(frame)), self._stage(wish.viewer), key
        )
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
            self._keep(key, picture.data)
            self.pipe.send(Kept(wish.viewer, wish.number, frame))
