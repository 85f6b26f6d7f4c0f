"""Points that bear a solve: looked at, left out, added by hand."""

from __future__ import annotations

import asyncio
from collections.abc import Callable
from typing import Any
from uuid import UUID

import numpy as np
from fastapi import APIRouter
from pydantic import Field
from starlette.responses import Response

from ..core.match import with_point, without_points
from ..core.scene import alignment_of, follow_spot, plate_moments
from ..store import shots as store
from .blocks import BLOCK, pack
from .offers import Offered, Wish, changed_by
from .plates import NO_PLATE, Pick, kept_solve, solve_of
from .problems import PROBLEMS
from .services import Behind
from .telling_share import share_teller

router = APIRouter(tags=["plates"], responses=PROBLEMS)


class PointsWish(Wish):
    """A box in the picture at a frame of the shot: two corners."""

    frame: int = Field(0, ge=0, le=200_000)
    box: tuple[Pick, Pick]


class PointsGone(Offered):
    """How many points are left out now, and the residual before and after, in pixels."""

    gone: int
    before: float
    after: float


class PointWish(Wish):
    """A place in the picture at a frame of the shot; ``point``: the point of the solve that is seen there."""

    frame: int = Field(0, ge=0, le=200_000)
    place: Pick
    point: int | None = Field(None, ge=0, le=1_000_000)


class PointAdded(Offered):
    """Its number, in how many frames of the plate it was seen, of how many, and by how many pixels it
    misses."""

    point: int
    seen: int
    frames: int
    off: float


@router.get("/shots/{shot}/plate/points", response_class=Response)
def read_points(behind: Behind, shot: UUID) -> Response:
    """The points that bear a solve, as a block: ``xy`` (n, 2), shares of the picture, where each was seen, in
    order of frames; ``begin`` (frames + 1,) where each frame's begin; ``point`` (n,) which one it is;
    ``room`` (points, 3) where they are, in metres; ``off`` (n,) pixels by which they miss. ``moments``
    (frames of the shot,) says which frame of the plate is shown."""
    row = store.read_shot(behind.store, shot)
    solve = solve_of(row.shot)
    tracks = solve.tracks
    order = np.argsort(tracks.frame, kind="stable")
    left = np.linalg.norm(solve.bundle.residuals(tracks), axis=1)[order]
    shown = plate_moments(row.shot, np.arange(row.shot.format.frames, dtype=np.float64))
    arrays: dict[str, Any] = {
        "xy": tracks.xy[order] / np.array(solve.bundle.size),
        "begin": np.searchsorted(tracks.frame[order], np.arange(solve.frames + 1)),
        "point": tracks.track[order],
        "room": alignment_of(row.shot.plate).placed(solve.bundle.points),
        "off": left,
        "moments": np.floor(shown + 0.5).astype(np.uint32),
    }
    return Response(pack({"kind": solve.kind}, arrays), media_type=BLOCK)


@router.post("/shots/{shot}/plate/points/remove")
async def remove_points(behind: Behind, shot: UUID, wish: PointsWish) -> PointsGone:
    """Leave the points in a box out of the solve, over all frames, and fit the camera anew to the others."""
    return await asyncio.to_thread(_without_points, behind, shot, wish)


def _without_points(behind: Behind, shot: UUID, wish: PointsWish) -> PointsGone:
    now = store.read_shot(behind.store, shot).shot
    solve = solve_of(now)
    at = int(plate_moments(now, np.array([float(wish.frame)]))[0] + 0.5)
    low, high = np.sort(np.array(wish.box, np.float64), axis=0) * solve.bundle.size
    tracks = solve.tracks
    inside = (tracks.frame == at) & ((tracks.xy >= low) & (tracks.xy <= high)).all(axis=1)
    gone = np.unique(tracks.track[inside])
    found = without_points(solve, gone)
    file = kept_solve(behind, found)
    # Where ground and scale are stays; only the solve is another.
    patch = [{"op": "replace", "path": "/plate/solve", "value": file}]
    done = changed_by(behind, shot, lambda _: patch, NO_PLATE)
    return PointsGone(
        changed=done.changed, revision=done.revision, gone=len(gone), before=solve.rms, after=found.rms
    )


@router.post("/shots/{shot}/plate/points/add")
async def add_point(behind: Behind, shot: UUID, wish: PointWish, known_as: UUID | None = None) -> PointAdded:
    """Follow a spot that somebody points at through the plate, as a point of the solve; where it was lost it
    is followed on from another frame. The camera is fitted anew to all points. The socket tells how far it
    is, by the name it is ``known_as``."""
    return await asyncio.to_thread(_with_point, behind, shot, wish, share_teller(behind, known_as))


def _with_point(behind: Behind, shot: UUID, wish: PointWish, told: Callable[[float], None]) -> PointAdded:
    now = store.read_shot(behind.store, shot).shot
    solve = solve_of(now)
    seen = follow_spot(now, solve, wish.frame, np.array(wish.place, np.float64), told)
    found, point, off = with_point(solve, seen, wish.point)
    file = kept_solve(behind, found)
    patch = [{"op": "replace", "path": "/plate/solve", "value": file}]
    done = changed_by(behind, shot, lambda _: patch, NO_PLATE)
    return PointAdded(
        changed=done.changed,
        revision=done.revision,
        point=point,
        seen=int((found.tracks.track == point).sum()),
        frames=solve.frames,
        off=off,
    )
