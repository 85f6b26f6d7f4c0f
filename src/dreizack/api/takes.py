"""Takes: saved states of a shot, to compare with and to go back to."""

from __future__ import annotations

import asyncio
from datetime import datetime
from typing import Annotated
from uuid import UUID, uuid4

from fastapi import APIRouter, Query
from pydantic import BaseModel
from starlette.responses import Response

from ..store import NotThere, takes
from .names import SavedName
from .problems import PROBLEMS
from .services import Behind
from .stills import traced_picture

router = APIRouter(tags=["takes"], responses=PROBLEMS)

SAMPLES = 16


class Take(BaseModel):
    name: str
    revision: int
    saved: datetime


class Recalled(BaseModel):
    """Whether the shot changed by going back to a take."""

    changed: bool


@router.get("/shots/{shot}/takes")
def list_takes(behind: Behind, shot: UUID) -> list[Take]:
    """The takes of a shot, the latest first."""
    return [Take(**row) for row in takes.listed(behind.store, shot)]


@router.put("/shots/{shot}/takes/{name}", status_code=204)
def save_take(behind: Behind, shot: UUID, name: SavedName) -> None:
    """Save the shot as it is now under a name."""
    takes.save(behind.store, shot, name)


@router.delete("/shots/{shot}/takes/{name}", status_code=204)
def forget_take(behind: Behind, shot: UUID, name: SavedName) -> None:
    """Forget a take; the shot stays as it is."""
    takes.forget(behind.store, shot, name)


@router.post("/shots/{shot}/takes/{name}/recall")
def recall_take(behind: Behind, shot: UUID, name: SavedName) -> Recalled:
    """Go back to a take; that can be undone."""
    changed = takes.recall(behind.store, shot, name)
    behind.posters.stale(shot)
    return Recalled(changed=changed)


@router.get("/shots/{shot}/takes/{name}/picture", response_class=Response)
async def take_picture(
    behind: Behind,
    shot: UUID,
    name: SavedName,
    frame: Annotated[int, Query(ge=0, le=200_000)] = 0,
    width: Annotated[int, Query(ge=16, le=3840)] = 960,
    height: Annotated[int, Query(ge=16, le=3840)] = 540,
) -> Response:
    """A frame of a take, traced (JPEG)."""
    then = await asyncio.to_thread(takes.read, behind.store, shot, name)
    at = min(frame, then.format.frames - 1)
    data = await traced_picture(
        behind.views, f"take {uuid4()}", then.model_dump_json(), at, (width, height), SAMPLES, aside=False
    )
    if data is None:
        raise NotThere("the take could not be traced in time; try again")
    return Response(data, media_type="image/jpeg")
