"""Looks of whole shots that people keep: lights, surroundings, backdrop, optics, and all that moves them."""

from __future__ import annotations

import asyncio
from urllib.parse import quote
from uuid import UUID

from fastapi import APIRouter, Request
from pydantic import BaseModel, ConfigDict, Field
from starlette.responses import Response

from ..core.document import read_shot, write_shot
from ..core.starts import undressed, worn
from ..store import saved as kept
from ..store import shots as store
from .library import FILE
from .names import SavedName
from .offers import Offered, changed_by
from .problems import PROBLEMS
from .services import Behind
from .uploads import upload

router = APIRouter(tags=["keeping"], responses=PROBLEMS)


class WholeLook(BaseModel):
    """A look of a whole shot, and how many lights it has."""

    name: str
    lights: int


class WholeLookWish(BaseModel):
    """The shot whose look is kept."""

    model_config = ConfigDict(extra="forbid")
    shot: UUID


class WornLookWish(BaseModel):
    """The kept look that a shot is to have."""

    model_config = ConfigDict(extra="forbid")
    name: str = Field(max_length=60)


@router.get("/library/whole-looks")
def whole_looks(behind: Behind) -> list[WholeLook]:
    """Looks of whole shots that were kept."""
    found = kept.saved_whole_looks(behind.store)
    return [WholeLook(name=name, lights=len(look.lights)) for name, look in found.items()]


@router.put("/library/whole-looks/{name}")
def keep_whole_look(behind: Behind, name: SavedName, wish: WholeLookWish) -> WholeLook:
    """Keep the look of a shot; one of the same name is replaced."""
    look = undressed(store.read_shot(behind.store, wish.shot).shot)
    kept.save_whole_look(behind.store, name, look)
    return WholeLook(name=name, lights=len(look.lights))


@router.delete("/library/whole-looks/{name}", status_code=204)
def forget_whole_look(behind: Behind, name: SavedName) -> None:
    """Forget a look; shots that have it stay as they are."""
    kept.forget(behind.store, "whole", name)


@router.get("/library/whole-looks/{name}/file", response_class=Response)
def whole_look_file(behind: Behind, name: SavedName) -> Response:
    """A look as a file: that of a shot without words."""
    look = kept.read_whole_look(behind.store, name).model_copy(update={"name": name})
    headers = {"Content-Disposition": f"attachment; filename*=UTF-8''{quote(name)}.look.json"}
    return Response(write_shot(look), media_type="application/json", headers=headers)


@router.post("/library/whole-looks", status_code=201, openapi_extra=FILE)
async def bring_whole_look(behind: Behind, request: Request) -> WholeLook:
    """Bring a file of a look, or of a shot whose look is taken; one of the same name is replaced."""
    async with upload(request, behind.data) as file:
        shot = read_shot(file.read_bytes())
    name, look = shot.name[:60], undressed(shot)
    await asyncio.to_thread(kept.save_whole_look, behind.store, name, look)
    return WholeLook(name=name, lights=len(look.lights))


@router.post("/shots/{shot}/whole-looks")
def give_whole_look(behind: Behind, shot: UUID, wish: WornLookWish) -> Offered:
    """Give a shot a look that was kept, in place of its own, in one edit."""
    look = kept.read_whole_look(behind.store, wish.name)
    return changed_by(behind, shot, lambda now: worn(now, look), "there is no such look")
