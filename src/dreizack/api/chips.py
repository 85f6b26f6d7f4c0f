"""Chips: finishes and looks as the renderer shows them."""

from __future__ import annotations

import asyncio
import hashlib
from pathlib import Path

from starlette.responses import FileResponse, Response

from ..core.document import Finish, Look, Shot
from ..core.finish import PRESETS
from ..core.scene import look_swatch, swatch
from ..store import Store
from ..store.kept import read_saved, saved
from .problems import problem
from .stills import trace_still
from .traced import TracedViews

SIDE = 112
SAMPLES = 64


class Chips:
    """Kept as files named by what they show; one is made at a time."""

    def __init__(self, store: Store, folder: Path, views: TracedViews) -> None:
        self.store, self.folder, self.views = store, folder, views
        self._one = asyncio.Lock()

    async def finish(self, name: str) -> Response:
        """The chip of a finish of the library: one that was saved, or one of ours."""
        own = await asyncio.to_thread(saved, self.store, "finish")
        if name not in own and name not in PRESETS:
            return problem(404, "No such finish", f"there is no finish '{name[:80]}' in the library")
        return await self._answer(swatch(Finish.model_validate_json(own[name]) if name in own else PRESETS[name], SIDE), f"chip {name}")

    async def look(self, name: str) -> Response:
        """The chip of a look."""
        content = await asyncio.to_thread(read_saved, self.store, "look", name)
        return await self._answer(look_swatch(Look.model_validate_json(content), SIDE), f"look {name}")

    async def _answer(self, shown: Shot, viewer: str) -> Response:
        shot = shown.model_dump_json()
        path = self.folder / f"{hashlib.blake2b(shot.encode(), digest_size=10).hexdigest()}.jpg"
        if not path.exists() and self.views.enabled:
            async with self._one:
                if not path.exists():
                    await trace_still(self.views, viewer, shot, 0, (SIDE, SIDE), SAMPLES, path)
        if not path.exists():
            return problem(404, "No chip yet", "the picture is still being made; ask again in a moment")
        return FileResponse(path, media_type="image/jpeg", headers={"Cache-Control": "max-age=600"})
