"""Between sockets and the process that traces: wishes in, pictures out."""

from __future__ import annotations

import asyncio
import itertools
import logging
import threading
import time
from collections.abc import Callable
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any

from ..work.preview import Answered, Question, Wish, start_preview

Receiver = Callable[[Any], None]
# Seconds a question may take; the first one after the start waits for the renderer to be ready.
PATIENCE = 30.0
# Seconds before the process is started again: after it went, and where it could not be started at all.
PAUSE, AGAIN = 0.2, 3.0
LOG = logging.getLogger(__name__)


class Unanswered(Exception):
    """A question the renderer has no answer to; the text says why."""


class TracedViews:
    """Owns the tracing process, and starts it again should it die."""

    def __init__(self, enabled: bool, library: Path, kept: Path, frames: Path) -> None:
        self.enabled, self.library, self.kept, self.frames = enabled, library, kept, frames
        self._receivers: dict[str, Receiver] = {}
        self._wishes: dict[str, Wish] = {}
        self._numbers = itertools.count(1)
        self._process: Any = None
        self._pipe: Connection | None = None
        self._sending = threading.Lock()
        self._closed = False
        self._loop: asyncio.AbstractEventLoop | None = None

    async def open(self) -> None:
        if self.enabled:
            self._loop = asyncio.get_running_loop()
            threading.Thread(target=self._serve, daemon=True, name="traced views").start()

    async def close(self) -> None:
        self._closed = True
        if self._process:
            self._process.terminate()

    def wish(
        self,
        viewer: str,
        receiver: Receiver,
        shot: str,
        frame: int,
        width: int,
        height: int,
        samples: int,
        show: str = "picture",
        ahead: int = 0,
        region: tuple[float, float, float, float] | None = None,
        kept: bool = False,
        aside: bool = False,
    ) -> int:
        """Ask for a picture; pictures reach ``receiver`` on the event loop. Answers the wish's number."""
        wish = Wish(
            viewer, next(self._numbers), shot, frame, width, height, samples, show, ahead, region, kept, aside
        )
        self._receivers[viewer], self._wishes[viewer] = receiver, wish
        self._send(wish)
        return wish.number

    async def ask(self, shot: str, frame: int, size: tuple[int, int], x: float, y: float) -> Answered:
        """What is at a spot of the picture; Unanswered where that cannot be said."""
        number = next(self._numbers)
        viewer, found = f"question {number}", asyncio.get_running_loop().create_future()
        self._receivers[viewer] = lambda message: None if found.done() else found.set_result(message)
        self._send(Question(viewer, number, shot, frame, *size, x, y))
        try:
            message = await asyncio.wait_for(found, PATIENCE)
        except TimeoutError:
            raise Unanswered("the renderer did not answer in time; try again") from None
        finally:
            self._receivers.pop(viewer, None)
        if isinstance(message, Answered):
            return message
        raise Unanswered(message[2])

    def forget(self, viewer: str) -> None:
        """This viewer does not look any more."""
        if self._receivers.pop(viewer, None):
            self._wishes.pop(viewer, None)
            self._send(viewer)

    def _send(self, message: Any) -> None:
        with self._sending:
            if self._pipe:
                try:
                    self._pipe.send(message)
                except (BrokenPipeError, OSError):
                    self._pipe = None

    def _serve(self) -> None:
        while not self._closed:
            try:
                self._serve_once()
            except Exception:
                # A process that cannot be started now may be later.
                LOG.exception("the tracing process failed; starting it again")
                time.sleep(AGAIN)

    def _serve_once(self) -> None:
        """Start the process and pass on what it tells until it is gone."""
        self._process, pipe = start_preview(self.library, self.kept, self.frames)
        with self._sending:
            self._pipe = pipe
        try:
            with self._sending:
                for wish in list(self._wishes.values()):
                    pipe.send(wish)
            while True:
                self._deliver(pipe.recv())
        except (EOFError, OSError):
            self._process.join(timeout=5)
            if not self._closed:
                LOG.warning("the tracing process is gone (%s); starting it again", self._process.exitcode)
                time.sleep(PAUSE)

    def _deliver(self, message: Any) -> None:
        viewer = message[0] if isinstance(message, tuple) else message.viewer
        receiver = self._receivers.get(viewer)
        if receiver and self._loop and not self._closed:
            self._loop.call_soon_threadsafe(receiver, message)
