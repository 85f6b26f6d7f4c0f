"""Chips: finishes as the renderer shows them."""

from __future__ import annotations

import asyncio
import hashlib
from pathlib import Path

from starlette.responses import FileResponse, Response

from ..core.finish import PRESETS
from ..core.scene import swatch
from .problems import problem
from .stills import trace_still
from .traced import TracedViews

SIDE = 112
SAMPLES = 64


class Chips:
    """Kept as files named by what they show; one is made at a time."""

    def __init__(self, folder: Path, views: TracedViews) -> None:
        self.folder, self.views = folder, views
        self._one = asyncio.Lock()

    async def answer(self, name: str) -> Response:
        """The chip of a finish of ours."""
        if name not in PRESETS:
            return problem(404, "No such finish", f"there is no finish '{name[:80]}' in the library")
        shot = swatch(PRESETS[name], SIDE).model_dump_json()
        path = self.folder / f"{hashlib.blake2b(shot.encode(), digest_size=10).hexdigest()}.jpg"
        if not path.exists() and self.views.enabled:
            async with self._one:
                if not path.exists():
                    await trace_still(self.views, f"chip {name}", shot, 0, (SIDE, SIDE), SAMPLES, path)
        if not path.exists():
            return problem(404, "No chip yet", "the picture is still being made; ask again in a moment")
        return FileResponse(path, media_type="image/jpeg", headers={"Cache-Control": "max-age=600"})
