"""Ready-made movements: what there is, how one would look, and putting one on a thing."""

from __future__ import annotations

import asyncio
from typing import Literal
from urllib.parse import quote
from uuid import UUID

from fastapi import APIRouter, Request
from pydantic import BaseModel, ConfigDict, Field
from starlette.responses import Response

from ..core.document import Shot, apply_edit, edited_as
from ..core.document.edits import Patch
from ..core.motions import (
    MOTIONS,
    applied,
    copied_motion,
    motion_of,
    moved_like,
    read_motion,
    write_motion,
)
from ..store import NotThere
from ..store import saved as kept
from ..store import shots as store
from .library import FILE
from .names import SavedName
from .offers import NO_SUCH_THING, Offered, changed_by
from .problems import PROBLEMS
from .scene import scene_block
from .services import Behind
from .uploads import upload

router = APIRouter(tags=["motions"], responses=PROBLEMS)


class MotionInfo(BaseModel):
    """A ready-made movement, the kinds of things it moves, and how many frames it takes unless told
    otherwise."""

    name: str
    label: str
    tells: str
    kinds: list[str]
    when: Literal["arrival", "departure", "hold"]
    frames: int


class MotionWish(BaseModel):
    """A movement for a thing (or the camera, the surroundings) from a frame on."""

    model_config = ConfigDict(extra="forbid")
    motion: str = Field(max_length=40)
    thing: str = Field(max_length=48)
    frame: int = Field(0, ge=0, le=200_000)
    frames: int = Field(40, ge=2, le=20_000)


class CopyWish(BaseModel):
    """Whose movement is to be put on what."""

    model_config = ConfigDict(extra="forbid")
    source: str = Field(max_length=40)
    target: str = Field(max_length=40)


class MotionCopied(Offered):
    """``lost`` lists the values that found no place."""

    lost: list[str]


@router.get("/motions")
def motions() -> list[MotionInfo]:
    """All ready-made movements, in the order they are offered."""
    return [
        MotionInfo(
            name=m.name, label=m.label, tells=m.tells, kinds=list(m.kinds), when=m.when, frames=m.frames
        )
        for m in MOTIONS.values()
    ]


@router.post("/shots/{shot}/motions")
def move(behind: Behind, shot: UUID, wish: MotionWish) -> Offered:
    """Put a movement on a thing: plain sets, keys, drift and couplings, in one edit."""
    return changed_by(behind, shot, lambda now: _patch(now, wish), NO_SUCH_THING)


@router.post("/shots/{shot}/motions/trial", response_class=Response)
def try_out(behind: Behind, shot: UUID, wish: MotionWish) -> Response:
    """The shot as it would be with a movement, as a block; nothing is changed."""
    row = store.read_shot(behind.store, shot)
    try:
        tried = apply_edit(row.shot, _patch(row.shot, wish)).shot
    except KeyError as why:
        raise NotThere(NO_SUCH_THING) from why
    return scene_block(tried, row.revision, behind.bodies, wish.frame)


@router.post("/shots/{shot}/motions/copy")
def copy_motion(behind: Behind, shot: UUID, wish: CopyWish) -> MotionCopied:
    """Put what moves one thing on another one, in place of its own movement; says what found no place."""
    lost: list[str] = []

    def copied(now: Shot) -> Patch:
        found = copied_motion(now, wish.source, wish.target)
        lost[:] = found.lost
        return found.patch

    done = changed_by(behind, shot, copied, NO_SUCH_THING)
    return MotionCopied(changed=done.changed, revision=done.revision, lost=lost)


class KeepWish(BaseModel):
    """Whose movement is to be kept."""

    model_config = ConfigDict(extra="forbid")
    shot: UUID
    thing: str = Field(max_length=40)


class PutWish(BaseModel):
    """A movement that was kept, and what it is to be put on."""

    model_config = ConfigDict(extra="forbid")
    name: str = Field(max_length=60)
    thing: str = Field(max_length=40)


class MotionName(BaseModel):
    name: str


@router.get("/library/motions")
def kept_motions(behind: Behind) -> list[MotionName]:
    """Movements people kept."""
    return [MotionName(name=name) for name in kept.saved_motions(behind.store)]


@router.put("/library/motions/{name}")
def keep_motion(behind: Behind, name: SavedName, wish: KeepWish) -> MotionName:
    """Keep what moves a thing under a name; one of the same name is replaced."""
    try:
        motion = motion_of(store.read_shot(behind.store, wish.shot).shot, wish.thing)
    except KeyError as why:
        raise NotThere(NO_SUCH_THING) from why
    kept.save_motion(behind.store, name, motion)
    return MotionName(name=name)


@router.delete("/library/motions/{name}", status_code=204)
def forget_motion(behind: Behind, name: SavedName) -> None:
    """Forget a movement; what moves like it stays as it is."""
    kept.forget(behind.store, "motion", name)


@router.get("/library/motions/{name}/file", response_class=Response)
def motion_file(behind: Behind, name: SavedName) -> Response:
    """A movement as a file."""
    return Response(
        write_motion(name, kept.read_motion(behind.store, name)),
        media_type="application/json",
        headers={"Content-Disposition": f"attachment; filename*=UTF-8''{quote(name)}.motion.json"},
    )


@router.post("/library/motions", status_code=201, openapi_extra=FILE)
async def bring_motion(behind: Behind, request: Request) -> MotionName:
    """Bring a file of a movement; one of the same name is replaced."""
    async with upload(request, behind.data) as file:
        name, motion = read_motion(file.read_bytes())
    await asyncio.to_thread(kept.save_motion, behind.store, name, motion)
    return MotionName(name=name)


@router.post("/shots/{shot}/motions/kept")
def put_kept(behind: Behind, shot: UUID, wish: PutWish) -> MotionCopied:
    """Put a kept movement on a thing, in place of its own; says what found no place."""
    motion, lost = kept.read_motion(behind.store, wish.name), list[str]()

    def put(now: Shot) -> Patch:
        found = moved_like(now, wish.thing, motion)
        lost[:] = found.lost
        return found.patch

    done = changed_by(behind, shot, put, NO_SUCH_THING)
    return MotionCopied(changed=done.changed, revision=done.revision, lost=lost)


def _patch(shot: Shot, wish: MotionWish) -> Patch:
    motion = MOTIONS.get(wish.motion)
    if motion is None:
        raise NotThere("there is no such movement")
    return edited_as(
        shot,
        wish.thing,
        lambda seen, thing: applied(seen, motion, thing, wish.frame, wish.frames),
    )
