"""Posters: a traced picture of each shot, and of its frames that carry a marker, made when nobody waits for
anything else."""

from __future__ import annotations

import asyncio
import time
from pathlib import Path
from uuid import UUID

from fastapi import Request
from starlette.responses import FileResponse, Response

from ..core.document import Shot, lost_files
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

    async def answer(self, shot: UUID, request: Request, marker: int | None = None) -> Response:
        """The poster, or the frame of a marker (by its number); an older one while the shot is being worked
        on. Nothing more is done once nobody waits for it."""
        row = await asyncio.to_thread(read_shot, self.store, shot)
        name, frame, known = poster_name(row.shot), poster_frame(row.shot), f"{shot}-"
        if marker is not None:
            if not 0 <= marker < len(row.shot.markers):
                return problem(404, "No such marker", f"the shot has {len(row.shot.markers)} markers")
            frame = min(row.shot.markers[marker].frame, row.shot.format.frames - 1)
            # What is written beside it changes no picture.
            name, known = poster_name(row.shot.model_copy(update={"markers": []})), f"{shot}@{frame}-"
        ready = READY_POSTERS / f"{name}.jpg"
        # What lacks files is seen without them; it is made again once they are there.
        lacks = "-lacks" if lost_files(row.shot) else ""
        path = ready if marker is None and ready.exists() else self.folder / f"{known}{name}{lacks}.jpg"
        older = next(iter(self.folder.glob(f"{known}*.jpg")), None) if self.folder.is_dir() else None
        resting = time.monotonic() - self._edited.get(shot, -REST) >= REST
        if not path.exists() and self.views.enabled and (resting or older is None):
            await while_awaited(request, self._make(row.shot, frame, path, known))
        found = path if path.exists() else older
        if found is None or not found.exists():
            return problem(404, "No poster yet", "the picture is still being made; ask again in a moment")
        return FileResponse(found, media_type="image/jpeg", headers={"Cache-Control": "no-cache"})

    async def _make(self, shown: Shot, frame: int, path: Path, known: str) -> None:
        text, size = shown.model_dump_json(), poster_size(shown)
        # One at a time: several at once would only take each other's scene off the stage.
        async with self._one:
            if path.exists():
                return
            if await trace_still(self.views, f"poster {known}", text, frame, size, SAMPLES, path):
                for old in self.folder.glob(f"{known}*.jpg"):
                    if old != path:
                        old.unlink(missing_ok=True)
