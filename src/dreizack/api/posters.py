"""Posters: a traced picture of each shot, made when nobody waits for anything else."""

from __future__ import annotations

import asyncio
import time
from pathlib import Path
from uuid import UUID

from fastapi import Request
from starlette.responses import FileResponse, Response

from ..core.document import Shot
from ..core.scene import poster_frame, poster_name, poster_size
from ..demo.posters import READY_POSTERS
from ..store import Store
from ..store.shots import read_shot
from .problems import problem
from .stills import trace_still, while_awaited
from .traced import TracedViews

SAMPLES = 16
REST = 2.0


class Posters:
    """Kept as files named by shot and content."""

    def __init__(self, store: Store, folder: Path, views: TracedViews) -> None:
        self.store, self.folder, self.views = store, folder, views
        self._edited: dict[UUID, float] = {}
        self._one = asyncio.Lock()

    def stale(self, shot: UUID) -> None:
        """The shot was edited just now; its poster can wait until it rests."""
        self._edited[shot] = time.monotonic()

    async def answer(self, shot: UUID, request: Request) -> Response:
        """The poster; an older one while the shot is being worked on. Nothing more is done once nobody waits
        for it."""
        row = await asyncio.to_thread(read_shot, self.store, shot)
        name = poster_name(row.shot)
        ready = READY_POSTERS / f"{name}.jpg"
        path = ready if ready.exists() else self.folder / f"{shot}-{name}.jpg"
        older = next(iter(self.folder.glob(f"{shot}-*.jpg")), None) if self.folder.is_dir() else None
        resting = time.monotonic() - self._edited.get(shot, -REST) >= REST
        if not path.exists() and self.views.enabled and (resting or older is None):
            await while_awaited(request, self._make(shot, row.shot, path))
        found = path if path.exists() else older
        if found is None or not found.exists():
            return problem(404, "No poster yet", "the picture is still being made; ask again in a moment")
        return FileResponse(found, media_type="image/jpeg", headers={"Cache-Control": "no-cache"})

    async def _make(self, shot: UUID, shown: Shot, path: Path) -> None:
        text, frame, size = shown.model_dump_json(), poster_frame(shown), poster_size(shown)
        # One at a time: several at once would only take each other's scene off the stage.
        async with self._one:
            if path.exists():
                return
            if await trace_still(self.views, f"poster {shot}", text, frame, size, SAMPLES, path):
                for old in self.folder.glob(f"{shot}-*.jpg"):
                    if old != path:
                        old.unlink(missing_ok=True)
