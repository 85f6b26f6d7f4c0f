"""The renderer in a process of its own, so that neither its memory nor its long calls harm the worker.

The parent names a delivery through a pipe and hears how it ended; anything it sends meanwhile means: let go.
"""

from __future__ import annotations

import asyncio
import contextlib
import multiprocessing
import os
import resource
import signal
from collections.abc import Callable
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any
from uuid import UUID

from ..core.library import shelve
from ..core.render import Stopped
from ..store import open_store
from ..store.fleet import FleetSharing
from ..store.frame_cache import FRAMES, FrameCache
from .courtesy import Courtesy
from .delivery import Deliveries
from .logs import log_to
from .orphans import die_with

MEMORY = 12 * 1024**3


class RendererLost(RuntimeError):
    """The rendering process died; the delivery can be begun again."""


class Renderer:
    """Starts the process when it is first needed, and again should it die."""

    def __init__(self, address: str, data: Path) -> None:
        self._about = (address, str(data))
        self._process: multiprocessing.process.BaseProcess | None = None
        self._pipe: Connection | None = None

    async def render(self, delivery: UUID, unwanted: Callable[[], bool]) -> None:
        """Render one delivery to its end; raises Stopped when let go, RendererLost when the process died."""
        pipe = self._running()
        told = False
        try:
            pipe.send(str(delivery))
            while not await asyncio.to_thread(pipe.poll, 0.2):
                if unwanted() and not told:
                    pipe.send("let go")
                    told = True
            outcome = pipe.recv()
        except (EOFError, OSError):
            self._pipe = None
            raise RendererLost("the renderer was lost") from None
        if outcome == "stopped":
            raise Stopped

    def close(self) -> None:
        self._pipe = None
        if self._process is not None:
            self._process.kill()
            self._process.join(timeout=5)

    def _running(self) -> Connection:
        if self._pipe is None or self._process is None or not self._process.is_alive():
            context = multiprocessing.get_context("spawn")
            self._pipe, theirs = context.Pipe()
            self._process = context.Process(
                target=_process, args=(theirs, os.getpid(), *self._about), daemon=True, name="rendering"
            )
            self._process.start()
            theirs.close()
        return self._pipe


def behind_everything_else() -> None:
    """Yield to whoever edits, at once and nearly wholly, without ever starving."""
    with contextlib.suppress(AttributeError, PermissionError):
        os.sched_setscheduler(0, os.SCHED_BATCH, os.sched_param(0))
    os.nice(19)


def _process(pipe: Connection, parent: int, address: str, data: str) -> None:
    # Should the worker be killed, this process goes with it; the next worker begins anew from kept frames.
    die_with(parent)
    log_to(Path(data), "renderer")
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    behind_everything_else()
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    store = open_store(address, size=2)
    folder = Path(data)
    shelve(folder / "library")
    deliveries = Deliveries(
        store, folder / "deliveries", FrameCache(folder / FRAMES), lambda: FleetSharing(store)
    )
    courtesy = Courtesy(folder)
    with contextlib.suppress(EOFError, OSError):
        while True:
            pipe.send(_one(deliveries, UUID(pipe.recv()), pipe, courtesy))


def _one(deliveries: Deliveries, delivery: UUID, pipe: Connection, courtesy: Courtesy) -> str:
    told: list[Any] = []

    def let_go() -> bool:
        courtesy.wait()
        try:
            while pipe.poll():
                told.append(pipe.recv())
        except (EOFError, OSError):
            # The worker is gone: that is no fault of the delivery, which the next worker takes up.
            told.append("alone")
        return bool(told)

    try:
        deliveries.run(delivery, let_go)
    except Stopped:
        return "stopped"
    except Exception:
        # Deliveries.run has written down why; the worker goes on with the next one.
        return "failed"
    return "done"
