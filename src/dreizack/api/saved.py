"""Finishes and looks people save: used again, changed in one place, exchanged as files."""

from __future__ import annotations

import asyncio
from urllib.parse import quote
from uuid import UUID

from fastapi import APIRouter, Request
from pydantic import BaseModel, ConfigDict, Field
from starlette.responses import Response

from ..core.document import Finish, Look, changed_looks, read_look, with_look, write_look
from ..core.library import find
from ..store import NotThere
from ..store import saved as kept
from ..store import shots as store
from .library import FILE
from .names import SavedName
from .offers import Offered, changed_by
from .problems import PROBLEMS
from .services import Behind
from .uploads import upload

router = APIRouter(tags=["keeping"], responses=PROBLEMS)


class SavedFinish(BaseModel):
    name: str
    finish: Finish


class SavedLook(BaseModel):
    name: str
    look: Look


class Followed(BaseModel):
    """How many shots were brought up to date."""

    name: str
    shots: int


@router.get("/library/finishes")
def finishes(behind: Behind) -> list[SavedFinish]:
    """Finishes that were saved."""
    return [
        SavedFinish(name=name, finish=finish) for name, finish in kept.saved_finishes(behind.store).items()
    ]


@router.put("/library/finishes/{name}")
def save_finish(behind: Behind, name: SavedName, finish: Finish) -> Followed:
    """Save a finish; every surface that follows one of this name changes with it."""
    return Followed(
        name=name, shots=kept.save_finish(behind.store, name, finish.model_copy(update={"named": name}))
    )


@router.delete("/library/finishes/{name}", status_code=204)
def forget_finish(behind: Behind, name: SavedName) -> None:
    """Forget a saved finish; what wears it stays as it is."""
    kept.forget(behind.store, "finish", name)


class Replacing(BaseModel):
    """A file of the library, and the one to be used in its place."""

    model_config = ConfigDict(extra="forbid")
    old: str = Field(min_length=1, max_length=200)
    new: str = Field(min_length=1, max_length=200)


@router.post("/library/replace")
def replace_source(behind: Behind, wish: Replacing) -> Followed:
    """Use another file wherever one is used, in every shot."""
    if find(wish.new) is None:
        raise NotThere("there is no such file in the library; bring it first")
    return Followed(name=wish.new, shots=kept.replace_source(behind.store, wish.old, wish.new))


@router.get("/looks")
def looks(behind: Behind) -> list[SavedLook]:
    """Looks that were saved."""
    return [SavedLook(name=name, look=look) for name, look in kept.saved_looks(behind.store).items()]


@router.put("/looks/{name}")
def save_look(behind: Behind, name: SavedName, look: Look) -> Followed:
    """Save a look; every title that wears one of this name changes with it."""
    return Followed(name=name, shots=kept.save_look(behind.store, name, look))


@router.delete("/looks/{name}", status_code=204)
def forget_look(behind: Behind, name: SavedName) -> None:
    """Forget a look; the titles that wear it stay as they are."""
    kept.forget(behind.store, "look", name)


class LookWish(BaseModel):
    """The look that a title is to wear."""

    model_config = ConfigDict(extra="forbid")
    name: str = Field(max_length=60)


@router.post("/shots/{shot}/things/{thing}/look")
def wear_look(behind: Behind, shot: UUID, thing: str, wish: LookWish) -> Offered:
    """Let a title wear a look; its lengths go along with the size of the letters."""
    look = kept.read_look(behind.store, wish.name)
    return changed_by(
        behind, shot, lambda now: with_look(now, thing, wish.name, look), "there is no such title in the shot"
    )


@router.get("/shots/{shot}/looks/changed")
def looks_changed(behind: Behind, shot: UUID) -> list[str]:
    """Titles that wear a look and have been changed since."""
    return changed_looks(store.read_shot(behind.store, shot).shot, kept.saved_looks(behind.store))


@router.get("/looks/{name}/chip", response_class=Response)
async def look_chip(behind: Behind, request: Request, name: SavedName) -> Response:
    """A look as the renderer shows it (JPEG)."""
    return await behind.chips.look(name, request)


@router.get("/looks/{name}/file", response_class=Response)
def look_file(behind: Behind, name: SavedName) -> Response:
    """A look as a file."""
    text = write_look(name, kept.read_look(behind.store, name))
    return Response(
        text,
        media_type="application/json",
        headers={"Content-Disposition": f"attachment; filename*=UTF-8''{quote(name)}.look.json"},
    )


@router.post("/library/looks", status_code=201, openapi_extra=FILE)
async def bring_look(behind: Behind, request: Request) -> Followed:
    """Bring a look file; a look of the same name is replaced."""
    async with upload(request, behind.data) as file:
        name, look = read_look(file.read_bytes())
    shots = await asyncio.to_thread(kept.save_look, behind.store, name, look)
    return Followed(name=name, shots=shots)
