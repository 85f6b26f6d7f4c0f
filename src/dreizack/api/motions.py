"""Ready-made movements: what there is, how one would look, and putting one on a thing."""

from __future__ import annotations

from typing import Literal
from uuid import UUID

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field
from starlette.responses import Response

from ..core.document import Shot, apply_edit
from ..core.document.edits import Patch
from ..core.motions import MOTIONS, applied, copied_motion
from ..store import NotThere
from ..store import shots as store
from .offers import NO_SUCH_THING, Offered, changed_by
from .problems import PROBLEMS
from .scene import scene_block
from .services import Behind

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
    thing: str = Field(max_length=40)
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


def _patch(shot: Shot, wish: MotionWish) -> Patch:
    motion = MOTIONS.get(wish.motion)
    if motion is None:
        raise NotThere("there is no such movement")
    return applied(shot, motion, wish.thing, wish.frame, wish.frames)
