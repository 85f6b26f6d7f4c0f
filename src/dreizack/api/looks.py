"""Ready-made looks of the picture: what there is, how one would look, and giving one to a shot."""

from __future__ import annotations

import asyncio
import re
from uuid import UUID

from fastapi import APIRouter, Request
from pydantic import BaseModel, ConfigDict, Field
from starlette.responses import Response

from ..core.document import apply_edit
from ..core.exchange.cdl import graded_by, read_cdl, write_cdl
from ..core.optics import LOOKS, PictureLook, looked
from ..store import NotThere
from ..store import shots as store
from .offers import Offered, changed_by
from .problems import PROBLEMS
from .scene import scene_block
from .services import Behind

router = APIRouter(tags=["looks"], responses=PROBLEMS)

FILE = {
    "requestBody": {
        "required": True,
        "content": {"application/octet-stream": {"schema": {"type": "string"}}},
    }
}
NO_SUCH_LOOK = "there is no look of this name"


class PictureLookInfo(BaseModel):
    """A ready-made look."""

    name: str
    label: str
    tells: str


class PictureLookWish(BaseModel):
    """A look for a shot; of a trial, the frame around which the scene is wanted."""

    model_config = ConfigDict(extra="forbid")
    look: str = Field(max_length=40)
    frame: int = Field(0, ge=0, le=200_000)


@router.get("/picture-looks")
def looks() -> list[PictureLookInfo]:
    """All ready-made looks, in the order they are offered."""
    return [PictureLookInfo(name=look.name, label=look.label, tells=look.tells) for look in LOOKS.values()]


@router.post("/shots/{shot}/picture-looks")
def give_look(behind: Behind, shot: UUID, wish: PictureLookWish) -> Offered:
    """Give a shot a look, in place of the one it has, in one edit."""
    look = _asked(wish)
    return changed_by(behind, shot, lambda now: looked(now, look), NO_SUCH_LOOK)


@router.get("/shots/{shot}/grade", response_class=Response)
def export_grade(behind: Behind, shot: UUID) -> Response:
    """The grade as a list of colour decisions (ASC CDL)."""
    found = store.read_shot(behind.store, shot).shot
    name = re.sub(r"[^A-Za-z0-9]+", "-", found.name).strip("-").lower() or "shot"
    headers = {"Content-Disposition": f'attachment; filename="{name}.cdl"'}
    return Response(write_cdl(found), media_type="application/xml", headers=headers)


@router.post("/shots/{shot}/grade", openapi_extra=FILE)
async def import_grade(behind: Behind, request: Request, shot: UUID) -> Offered:
    """Take the grade from a list of colour decisions (.cdl, .cc, .ccc); a damaged one changes nothing."""
    data = await request.body()

    def bring() -> Offered:
        values = read_cdl(data)
        return changed_by(behind, shot, lambda now: graded_by(now, values), NO_SUCH_LOOK)

    return await asyncio.to_thread(bring)


@router.post("/shots/{shot}/picture-looks/trial", response_class=Response)
def try_look(behind: Behind, shot: UUID, wish: PictureLookWish) -> Response:
    """The shot as it would be with a look, as a block; nothing is changed."""
    row = store.read_shot(behind.store, shot)
    tried = apply_edit(row.shot, looked(row.shot, _asked(wish))).shot
    return scene_block(tried, row.revision, behind.bodies, wish.frame)


def _asked(wish: PictureLookWish) -> PictureLook:
    if wish.look not in LOOKS:
        raise NotThere(NO_SUCH_LOOK)
    return LOOKS[wish.look]
