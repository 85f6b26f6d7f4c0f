"""Whole looks to begin a shot with, as pictures of one's own words; and the look of one shot for another."""

from __future__ import annotations

import asyncio
from pathlib import Path
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query, Request
from pydantic import BaseModel
from starlette.responses import FileResponse, Response

from ..core.document import Format
from ..core.document.plain_text import CONTROL_IN_WORDS
from ..core.scene import RENDER_VERSION
from ..core.scene.frame import fingerprint
from ..core.starts import STARTS, started, worn
from ..store import NotThere
from ..store import shots as store
from .offers import NO_SUCH_THING, Offered, Wish, changed_by
from .problems import PROBLEMS, problem
from .services import Behind
from .stills import trace_still, while_awaited

router = APIRouter(tags=["starts"], responses=PROBLEMS)

# Pictures of starts: so wide, from so many samples, one at a time.
WIDE, SAMPLES = 264, 12
_one = asyncio.Lock()


class StartInfo(BaseModel):
    """A start, by what it looks like."""

    name: str
    label: str
    tells: str


class WearWish(Wish):
    """The shot whose look is wanted."""

    shot: UUID


@router.get("/starts")
def list_starts() -> list[StartInfo]:
    """Whole looks that a new shot can begin with."""
    return [StartInfo(name=one.name, label=one.label, tells=one.tells) for one in STARTS.values()]


@router.get("/starts/{name}/picture", response_class=Response)
async def start_picture(
    behind: Behind,
    request: Request,
    name: str,
    words: Annotated[str, Query(min_length=1, max_length=80)] = "WORDS",
    width: Annotated[int, Query(ge=16, le=8192)] = 1920,
    height: Annotated[int, Query(ge=16, le=8192)] = 1080,
) -> Response:
    """A start as words of one's own look in it (JPEG), in a picture of such a shape."""
    start = STARTS.get(name)
    if start is None:
        raise NotThere("there is no start of this name")
    plain = CONTROL_IN_WORDS.sub("", words).strip() or "WORDS"
    tall = max(16, min(4 * WIDE, round(WIDE * height / width / 2) * 2))
    format_ = Format(width=WIDE, height=tall, frames=1)
    shot = (await asyncio.to_thread(started, start, plain, format_, start.label)).model_dump_json()
    path: Path = behind.chips.folder / f"{fingerprint((RENDER_VERSION, shot))}.jpg"
    if not path.exists() and behind.views.enabled:
        await while_awaited(request, _made(behind, name, shot, (WIDE, tall), path))
    if not path.exists():
        return problem(404, "No picture yet", "the picture is still being made; ask again in a moment")
    return FileResponse(path, media_type="image/jpeg", headers={"Cache-Control": "max-age=600"})


async def _made(behind: Behind, name: str, shot: str, size: tuple[int, int], path: Path) -> None:
    async with _one:
        if not path.exists():
            await trace_still(behind.views, f"start {name}", shot, 0, size, SAMPLES, path)


@router.post("/shots/{shot}/wear")
def wear(behind: Behind, shot: UUID, wish: WearWish) -> Offered:
    """Give a shot the lights, surroundings, backdrop and optics of another one."""
    of = store.read_shot(behind.store, wish.shot).shot
    return changed_by(behind, shot, lambda now: worn(now, of), NO_SUCH_THING)
