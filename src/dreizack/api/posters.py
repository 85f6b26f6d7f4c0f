"""Posters: a traced picture of each shot, made when nobody waits for anything else."""

from __future__ import annotations

import asyncio
import time
from pathlib import Path
from uuid import UUID

from fastapi import Request
from starlette.responses import FileResponse, Response

from ..core.scene import RENDER_VERSION
from ..core.scene.frame import fingerprint
from ..store import Store
from ..store.shots import read_shot
from .problems import problem
from .stills import trace_still, while_awaited
from .traced import TracedViews

WIDTH = 640
SAMPLES = 16
AT = 0.62
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
        text = row.shot.model_dump_json()
        path = self.folder / f"{shot}-{fingerprint((RENDER_VERSION, text))}.jpg"
        older = next(iter(self.folder.glob(f"{shot}-*.jpg")), None) if self.folder.is_dir() else None
        resting = time.monotonic() - self._edited.get(shot, -REST) >= REST
        if not path.exists() and self.views.enabled and (resting or older is None):
            aspect = row.shot.format.aspect
            await while_awaited(
                request, self._make(shot, text, int(row.shot.format.frames * AT), aspect, path)
            )
        found = path if path.exists() else older
        if found is None or not found.exists():
            return problem(404, "No poster yet", "the picture is still being made; ask again in a moment")
        return FileResponse(found, media_type="image/jpeg", headers={"Cache-Control": "no-cache"})

    async def _make(self, shot: UUID, text: str, frame: int, aspect: float, path: Path) -> None:
        size = (WIDTH, round(WIDTH / aspect)) if aspect >= 1 else (round(WIDTH * aspect), WIDTH)
        # One at a time: several at once would only take each other's scene off the stage.
        async with self._one:
            if path.exists():
                return
            if await trace_still(
                self.views, f"poster {shot}", text, frame, (max(16, size[0]), max(16, size[1])), SAMPLES, path
            ):
                for old in self.folder.glob(f"{shot}-*.jpg"):
                    if old != path:
                        old.unlink(missing_ok=True)
