"""Chips: finishes and looks as the renderer shows them."""

from __future__ import annotations

import asyncio
from pathlib import Path

from fastapi import Request
from starlette.responses import FileResponse, Response

from ..core.document import Shot
from ..core.finish import PRESETS
from ..core.scene import chip_name, look_swatch, swatch
from ..demo.chips import READY_MADE, SAMPLES, SIDE
from ..store import Store
from ..store.saved import read_look, saved_finishes
from .problems import problem
from .stills import trace_still, while_awaited
from .traced import TracedViews


class Chips:
    """Kept as files named by what they show; one is made at a time."""

    def __init__(self, store: Store, folder: Path, views: TracedViews) -> None:
        self.store, self.folder, self.views = store, folder, views
        self._one = asyncio.Lock()

    async def finish(self, name: str, request: Request) -> Response:
        """The chip of a finish of the library: one that was saved, or one of ours."""
        own = await asyncio.to_thread(saved_finishes, self.store)
        if name not in own and name not in PRESETS:
            return problem(404, "No such finish", f"there is no finish '{name[:80]}' in the library")
        return await self._answer(
            swatch(own[name] if name in own else PRESETS[name], SIDE), f"chip {name}", request
        )

    async def look(self, name: str, request: Request) -> Response:
        """The chip of a look."""
        look = await asyncio.to_thread(read_look, self.store, name)
        return await self._answer(look_swatch(look, SIDE), f"look {name}", request)

    async def _answer(self, shown: Shot, viewer: str, request: Request) -> Response:
        shot, file = shown.model_dump_json(), f"{chip_name(shown)}.jpg"
        ready = READY_MADE / file
        path = ready if ready.exists() else self.folder / file
        if not path.exists() and self.views.enabled:
            await while_awaited(request, self._make(viewer, shot, path))
        if not path.exists():
            return problem(404, "No chip yet", "the picture is still being made; ask again in a moment")
        return FileResponse(path, media_type="image/jpeg", headers={"Cache-Control": "max-age=600"})

    async def _make(self, viewer: str, shot: str, path: Path) -> None:
        async with self._one:
            if not path.exists():
                await trace_still(self.views, viewer, shot, 0, (SIDE, SIDE), SAMPLES, path)
