"""Single traced pictures that are kept as files: posters of shots, chips of finishes."""

from __future__ import annotations

import asyncio
import contextlib
from collections.abc import Coroutine
from pathlib import Path
from typing import Any, TypeVar

from fastapi import Request

from ..core.files import write_whole
from ..work.preview import Picture
from .traced import TracedViews

T = TypeVar("T")
PATIENCE = 60.0
# Seconds between looks whether somebody still waits for an answer.
LOOK = 0.4


async def while_awaited(request: Request, work: Coroutine[Any, Any, T]) -> T | None:
    """The outcome of some work; it is called off, and None, once nobody waits for the answer any more."""
    task = asyncio.ensure_future(work)
    try:
        while not task.done():
            await asyncio.wait([task], timeout=LOOK)
            if not task.done() and await request.is_disconnected():
                return None
        return task.result()
    finally:
        if not task.done():
            task.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await task


async def traced_picture(
    views: TracedViews,
    viewer: str,
    shot: str,
    frame: int,
    size: tuple[int, int],
    samples: int,
    aside: bool = True,
) -> bytes | None:
    """The clean picture (JPEG) of a frame of a shot (as JSON); None where it did not come in time."""
    loop = asyncio.get_running_loop()
    done: asyncio.Future[bytes | None] = loop.create_future()

    def receive(message: Any) -> None:
        if done.done():
            return
        if isinstance(message, Picture) and message.samples >= message.total:
            done.set_result(message.data)
        elif isinstance(message, tuple):
            done.set_result(None)

    try:
        views.wish(viewer, receive, shot, frame, *size, samples, aside=aside)
        return await asyncio.wait_for(done, PATIENCE)
    except TimeoutError:
        return None
    finally:
        views.forget(viewer)


async def trace_still(
    views: TracedViews, viewer: str, shot: str, frame: int, size: tuple[int, int], samples: int, path: Path
) -> bool:
    """Trace a frame of a shot (as JSON) and keep the clean picture at ``path``; False where none came in
    time."""
    data = await traced_picture(views, viewer, shot, frame, size, samples)
    if data is not None:
        await asyncio.to_thread(write_whole, path, data)
    return path.exists()
