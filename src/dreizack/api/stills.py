"""Single traced pictures that are kept as files: posters of shots, chips of finishes."""

from __future__ import annotations

import asyncio
from pathlib import Path
from typing import Any

from ..core.files import write_whole
from ..work.looking import Picture
from .traced import TracedViews

PATIENCE = 60.0


async def traced_picture(views: TracedViews, viewer: str, shot: str, frame: int, size: tuple[int, int], samples: int) -> bytes | None:
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
        views.wish(viewer, receive, shot, frame, *size, samples)
        return await asyncio.wait_for(done, PATIENCE)
    except TimeoutError:
        return None
    finally:
        views.forget(viewer)


async def trace_still(views: TracedViews, viewer: str, shot: str, frame: int, size: tuple[int, int], samples: int, path: Path) -> bool:
    """Trace a frame of a shot (as JSON) and keep the clean picture at ``path``; False where none came in time."""
    data = await traced_picture(views, viewer, shot, frame, size, samples)
    if data is not None:
        await asyncio.to_thread(write_whole, path, data)
    return path.exists()
