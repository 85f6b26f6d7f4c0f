"""What is drawn in a plate: flat areas that are followed, covers that words are hidden behind."""

from __future__ import annotations

import asyncio
import time
from collections.abc import Callable
from typing import Annotated, Any
from uuid import UUID

import cv2
import numpy as np
from fastapi import APIRouter, Query
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field
from starlette.responses import Response

from ..core.document import Shot
from ..core.files import say_disk_full
from ..core.library import keep
from ..core.match import NoPatch, followed_bytes
from ..core.render import cover_matte
from ..core.scene import (
    bake,
    follow_patch,
    frame_state,
    outlines_at,
    with_carried,
    with_cover,
    with_patch,
    with_words_on,
)
from ..store import NotThere
from ..store import shots as store
from .library import LIBRARY
from .offers import Offered, Wish, changed_by
from .plates import NO_PLATE, Pick
from .problems import PROBLEMS
from .services import Behind
from .telling_share import share_teller

router = APIRouter(tags=["plates"], responses=PROBLEMS)

Places = NDArray[np.float64]
Patch = list[dict[str, Any]]

NO_COVER = "there is no plate, or no cover of this number, in the shot"
# Seconds after which following an area is given up.
LONGEST = 240.0
# A cover's matte is drawn so wide for the live view.
MATTE_WIDTH = 960


class OutlineWish(Wish):
    """An outline drawn in the picture at a frame, shares of its width and height from the top left; of the
    one that is there at ``index``, or of a new one."""

    frame: int = Field(0, ge=0, le=200_000)
    points: list[Pick] = Field(min_length=3, max_length=200)
    index: int | None = Field(None, ge=0, le=100)


class PatchFollowed(Offered):
    """Frames of the plate in which the area was found, and in how many it was looked for."""

    found: int
    frames: int


class AreaSeen(BaseModel):
    """A flat area in the picture: its outline, and how much it looks as it did (0: it is lost)."""

    name: str
    points: list[Pick]
    alike: float


class CoverSeen(BaseModel):
    """A cover in the picture: its outline, and whether it was drawn at this very frame."""

    name: str
    points: list[Pick]
    drawn: bool


class OutlinesSeen(BaseModel):
    """What is drawn in the plate, as it is at a frame."""

    patches: list[AreaSeen]
    covers: list[CoverSeen]


@router.get("/shots/{shot}/plate/outlines")
def read_outlines(
    behind: Behind, shot: UUID, frame: Annotated[int, Query(ge=0, le=200_000)] = 0
) -> OutlinesSeen:
    """Outlines of flat areas and covers as they are at a frame, in shares of the picture."""
    now = store.read_shot(behind.store, shot).shot
    covers, areas = outlines_at(now, frame)
    return OutlinesSeen(
        patches=[
            AreaSeen(name=patch.name, points=_places(points), alike=round(alike, 3))
            for patch, (points, alike) in zip(now.plate.patches, areas, strict=True)
        ],
        covers=[
            CoverSeen(
                name=cover.name,
                points=_places(points),
                drawn=any(shape.frame == frame for shape in cover.shapes),
            )
            for cover, points in zip(now.plate.covers, covers, strict=True)
        ],
    )


@router.post("/shots/{shot}/plate/patches")
async def add_patch(
    behind: Behind, shot: UUID, wish: OutlineWish, known_as: UUID | None = None
) -> PatchFollowed:
    """Follow the flat area inside an outline through the plate; the socket tells how far it is, by the name
    it is ``known_as``."""
    places = np.array(wish.points, np.float64)

    def change(there: Shot, track: str) -> Patch:
        return with_patch(there, wish.frame, places, track, wish.index)

    tell = share_teller(behind, known_as)
    return await asyncio.to_thread(_followed, behind, shot, wish.frame, places, change, tell)


def _followed(
    behind: Behind,
    shot: UUID,
    frame: int,
    places: Places,
    change: Callable[[Shot, str], Patch],
    tell: Callable[[float], None],
) -> PatchFollowed:
    now = store.read_shot(behind.store, shot).shot
    if not now.plate.clip:
        raise NotThere(NO_PLATE)
    until = time.monotonic() + LONGEST

    def told(share: float) -> None:
        tell(share)
        if time.monotonic() > until:
            raise NoPatch("following this area took too long; draw it smaller, or cut the plate shorter")

    followed = follow_patch(now, frame, places, told)
    with say_disk_full(behind.data):
        track = keep(behind.data / LIBRARY, followed_bytes(followed), "track", "patch")
    done = changed_by(behind, shot, lambda there: change(there, track), NO_COVER)
    found = int((followed.alike > 0).sum())
    return PatchFollowed(changed=done.changed, revision=done.revision, found=found, frames=followed.frames)


class WordsOnWish(BaseModel):
    """The title or mark that is to stand on a flat area."""

    model_config = ConfigDict(extra="forbid")
    thing: str = Field(max_length=40)


@router.post("/shots/{shot}/plate/patches/{index}/words")
def put_words_on(behind: Behind, shot: UUID, index: int, wish: WordsOnWish) -> Offered:
    """Put words on a flat area that was followed: they turn and move with it."""
    return changed_by(
        behind,
        shot,
        lambda now: with_words_on(now, index, wish.thing),
        "there is no such area in the plate, or nothing of this name with letters in the shot",
    )


@router.post("/shots/{shot}/plate/covers")
def add_cover(behind: Behind, shot: UUID, wish: OutlineWish) -> Offered:
    """Draw a cover, or how one is at a frame."""
    places = np.array(wish.points, np.float64)

    def change(now: Shot) -> Patch:
        if not now.plate.clip:
            raise KeyError(wish.index)
        return with_cover(now, wish.frame, places, wish.index)

    return changed_by(behind, shot, change, NO_COVER)


class CarryWish(Wish):
    """The frame at which what is inside a cover is as it is drawn."""

    frame: int = Field(0, ge=0, le=200_000)


@router.post("/shots/{shot}/plate/covers/{index}/carry")
async def carry_cover(
    behind: Behind, shot: UUID, index: int, wish: CarryWish, known_as: UUID | None = None
) -> PatchFollowed:
    """Follow what is inside a cover through the plate, and let it carry the cover; the socket tells how far
    it is, by the name it is ``known_as``."""
    covers, _ = outlines_at(store.read_shot(behind.store, shot).shot, wish.frame)
    if not 0 <= index < len(covers):
        raise NotThere(NO_COVER)
    places = covers[index]

    def change(there: Shot, track: str) -> Patch:
        return with_carried(there, index, wish.frame, places, track)

    tell = share_teller(behind, known_as)
    return await asyncio.to_thread(_followed, behind, shot, wish.frame, places, change, tell)


@router.get("/shots/{shot}/plate/cover", response_class=Response)
def cover_shown(behind: Behind, shot: UUID, frame: Annotated[int, Query(ge=0, le=200_000)] = 0) -> Response:
    """What covers hide at a frame (PNG, grey: white is hidden)."""
    now = store.read_shot(behind.store, shot).shot
    width = min(MATTE_WIDTH, now.format.width)
    height = max(16, round(width / now.format.aspect))
    hidden = cover_matte(frame_state(now, bake(now, np.array([float(frame)])), 0), width, height)
    codes = np.zeros((height, width), np.uint8) if hidden is None else np.rint(hidden[..., 0] * 255)
    _, data = cv2.imencode(".png", codes.astype(np.uint8), [cv2.IMWRITE_PNG_COMPRESSION, 1])
    return Response(data.tobytes(), media_type="image/png", headers={"Cache-Control": "max-age=3600"})


def _places(points: np.ndarray[tuple[int, ...], np.dtype[np.float64]]) -> list[Pick]:
    return [(float(x), float(y)) for x, y in points]
