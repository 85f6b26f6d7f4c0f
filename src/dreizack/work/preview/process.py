"""The process the loop runs in, and its kernels compiled before the first wish."""

from __future__ import annotations

import contextlib
import multiprocessing
import os
import resource
from multiprocessing.connection import Connection
from pathlib import Path

import numpy as np

from ...core.document import Shot, Title
from ...core.library import shelve
from ...core.light import key_fill_rim
from ...core.render import Progressive, Stage
from ...core.scene import BodyStore, bake, frame_state
from ...store.frame_cache import FrameCache
from ...store.view_cache import ViewCache
from ..logs import log_to
from ..orphans import die_with
from .look import SMALL
from .loop import Previewer

MEMORY = 12 * 1024**3


def _process(pipe: Connection, parent: int, library: str, views: str, frames: str) -> None:
    die_with(parent)
    os.nice(3)
    shelve(Path(library))
    log_to(Path(library).parent, "tracing")
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    with contextlib.suppress(EOFError, KeyboardInterrupt, BrokenPipeError):
        _warm()
        Previewer(
            pipe, ViewCache(Path(views)) if views else None, FrameCache(Path(frames)) if frames else None
        ).run()


def _warm() -> None:
    """Compile the kernels before the first wish."""
    shot = Shot(things={"title": Title(), **key_fill_rim()})
    state = frame_state(shot, bake(shot, np.zeros(1)), 0)
    stage = Stage(BodyStore())
    stage.show(state)
    for width, height in ((480, 270), (960, 540)):
        progressive = Progressive(stage, width, height, SMALL)
        while not progressive.done:
            progressive.step()
        progressive.view("fast")


def start_preview(
    library: Path, views: Path | None = None, frames: Path | None = None
) -> tuple[multiprocessing.process.BaseProcess, Connection]:
    """Start the process; the other end of its pipe. What people brought lies in ``library``, finished
    pictures are kept in ``views``, what deliveries traced lies in ``frames``."""
    context = multiprocessing.get_context("spawn")
    ours, theirs = context.Pipe()
    process = context.Process(
        target=_process,
        args=(theirs, os.getpid(), str(library), str(views or ""), str(frames or "")),
        daemon=True,
        name="looking",
    )
    process.start()
    theirs.close()
    return process, ours
