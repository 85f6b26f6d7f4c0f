"""Single traced pictures that are kept as files: posters of shots, chips of finishes."""

from __future__ import annotations

import asyncio
from pathlib import Path
from typing import Any

from ..work.looking import Picture
from .traced import TracedViews

PATIENCE = 60.0


async def trace_still(views: TracedViews, viewer: str, shot: str, frame: int, size: tuple[int, int], samples: int, path: Path) -> bool:
    """Trace a frame of a shot (as JSON) and keep the clean picture at ``path``; False where none came in time."""
    done = asyncio.Event()

    def receive(message: Any) -> None:
        if isinstance(message, Picture) and message.samples >= message.total:
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_bytes(message.data)
            done.set()
        elif isinstance(message, tuple):
            done.set()

    try:
        views.wish(viewer, receive, shot, frame, *size, samples)
        await asyncio.wait_for(done.wait(), PATIENCE)
    except TimeoutError:
        pass
    finally:
        views.forget(viewer)
    return path.exists()
