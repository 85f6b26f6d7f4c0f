"""Footage: brought, solved, looked at; its camera and points as tables."""

from __future__ import annotations

import hashlib
from itertools import pairwise
from typing import Annotated, Literal
from uuid import UUID

import numpy as np
from fastapi import APIRouter, Request
from pydantic import BaseModel, Field
from starlette.responses import Response

from ..core.clips import PlateFacts, bring_plate, plate_facts, plate_piece
from ..core.document import Shot, apply_edit
from ..core.exchange.camera_table import camera_table, points_table
from ..core.files import say_disk_full
from ..core.library import keep
from ..core.match import (
    Solve,
    left_out_bytes,
    library_solve,
    rectangle_grid,
    report,
    solve_bytes,
    solve_of_edges,
    solve_of_rectangle,
)
from ..core.scene import plate_outlines, with_plate, with_solve
from ..store import NotThere
from ..store import shots as store
from ..work import defer_solve
from .library import FILE, LIBRARY
from .offers import Offered, Wish, changed_by
from .problems import PROBLEMS
from .services import Behind
from .telling_share import share_teller
from .uploads import reading, upload

router = APIRouter(tags=["plates"], responses=PROBLEMS)

NO_PLATE = "this shot has no plate yet; drop a video to bring one"
# Width in millimetres of the sensor that focal lengths are told for, and in pixels of what is solved at most.
SENSOR, SOLVED = 36.0, 960


class PlateFile(BaseModel):
    """A plate in the library: what was found, and in words what was done to it."""

    file: str
    width: int
    height: int
    rate: float
    frames: int
    bits: int
    codec: str
    sound: bool
    done: list[str]


class ClipWish(Wish):
    """Which clip becomes the plate."""

    clip: str = Field(max_length=200)


class PlatePiece(Wish):
    """A piece of the plate by its first and last frames."""

    first: int = Field(ge=0, le=100_000)
    last: int = Field(ge=0, le=100_000)


class PiecesWish(Wish):
    """Several pieces of the plate."""

    pieces: list[PlatePiece] = Field(min_length=1, max_length=40)


class SolveWish(Wish):
    """``focal_length`` in millimetres on a sensor 36 mm wide, where it is known; ``leave_out``: what covers
    outline is not looked at."""

    focal_length: float | None = Field(None, ge=4, le=1200)
    leave_out: bool = False


class SolveState(BaseModel):
    """How far a solve is: what is being done, its share, and the file or why there is none;
    ``pieces`` between cuts that were found."""

    id: UUID
    state: Literal["waiting", "solving", "complete", "failed", "cancelled"]
    what: str
    share: float
    file: str | None
    why: str | None
    pieces: list[PlatePiece] = []


class SolveReport(BaseModel):
    """What a solve is worth; residuals by frame in pixels, none where nothing bears it."""

    kind: Literal["moving", "turning", "still"]
    verdict: Literal["good", "usable", "poor"]
    words: list[str]
    rms: float
    slide: float
    points: int
    focal_length: float
    residual: list[float | None]
    weak: list[tuple[int, int]]


# A place in the picture, shares of its width and height from the top left; somewhat beyond its edges, too.
Share = Annotated[float, Field(ge=-100, le=100)]
Pick = tuple[Share, Share]


class EdgesWish(Wish):
    """Places two by two along edges that run one way, then along as many that run another, ``upright`` or
    level and at right angles to them (nothing: as they look)."""

    along: list[tuple[Pick, Pick]] = Field(min_length=2, max_length=40)
    other: list[tuple[Pick, Pick]] = Field(min_length=2, max_length=40)
    upright: bool | None = None
    focal_length: float | None = Field(None, ge=4, le=1200)


class RectangleWish(Wish):
    """Corners of a rectangle on the ground, the nearer edge from left to right, then the far one back, and
    the lengths of both in metres; ``focal_length`` in millimetres on a sensor 36 mm wide, where it is known.
    """

    places: tuple[Pick, Pick, Pick, Pick]
    width: float = Field(gt=0, le=10_000)
    depth: float = Field(gt=0, le=10_000)
    focal_length: float | None = Field(None, ge=4, le=1200)


class GridWish(RectangleWish):
    """A grid of so many cells a side on the rectangle."""

    cells: int = Field(4, ge=1, le=40)


@router.post("/library/plates", status_code=201, openapi_extra=FILE)
async def bring(behind: Behind, request: Request, known_as: UUID | None = None) -> PlateFile:
    """Bring footage that words are to stand in; it is kept without loss, every frame at hand. While it is
    being read, the socket tells how far, by the name it is ``known_as``."""
    async with upload(request, behind.data) as file:
        name = await reading(bring_plate, file, behind.data / LIBRARY, share_teller(behind, known_as))
    return _plate_file(name)


@router.get("/library/plates/{file}")
def plate(file: str) -> PlateFile:
    """What was found in a plate."""
    return _plate_file(file)


def _plate_file(name: str) -> PlateFile:
    facts = plate_facts(name)
    if facts is None:
        raise NotThere("there is no such plate; bring it again")
    return PlateFile(
        file=name,
        width=facts.width,
        height=facts.height,
        rate=float(facts.per_second),
        frames=facts.frames,
        bits=facts.bits,
        codec=facts.codec,
        sound=facts.sound,
        done=list(facts.done),
    )


@router.post("/shots/{shot}/plate")
def take_plate(behind: Behind, shot: UUID, wish: ClipWish) -> Offered:
    """Make a clip the plate of a shot: it takes its size, rate and length."""
    return changed_by(behind, shot, lambda now: with_plate(now, wish.clip), NO_PLATE)


@router.post("/shots/{shot}/plate/piece")
def take_piece(behind: Behind, shot: UUID, wish: PlatePiece) -> Offered:
    """Make a piece of a shot's plate its plate; it takes its length. Others can have a shot each."""
    name = _piece(behind, _clip(behind, shot), wish.first, wish.last)
    return changed_by(behind, shot, lambda now: with_plate(now, name), NO_PLATE)


@router.post("/shots/{shot}/plate/pieces", status_code=201)
def shots_of_pieces(behind: Behind, shot: UUID, wish: PiecesWish) -> list[UUID]:
    """Make shots like this one, one for each piece of its plate."""
    row = store.read_shot(behind.store, shot)
    clip = _clip(behind, shot)
    plates = [(piece, _piece(behind, clip, piece.first, piece.last)) for piece in wish.pieces]
    made = []
    for piece, plate in plates:
        own = apply_edit(row.shot, with_plate(row.shot, plate)).shot
        own.name = f"{row.shot.name[:90]}, {piece.first} to {piece.last}"
        made.append(store.create_shot(behind.store, row.production, own))
    return made


def _piece(behind: Behind, clip: str, first: int, last: int) -> str:
    with say_disk_full(behind.data):
        return plate_piece(clip, first, last, behind.data / LIBRARY)


@router.post("/shots/{shot}/plate/solve", status_code=201)
def solve_plate(behind: Behind, shot: UUID, wish: SolveWish) -> SolveState:
    """Find out how the plate's camera moved, in the background; what was found before is there at once."""
    clip = _clip(behind, shot)
    facts = _facts(clip)
    width = min(facts.width, SOLVED)
    focal = None if wish.focal_length is None else round(wish.focal_length / SENSOR * width, 6)
    shot_now = store.read_shot(behind.store, shot).shot
    outlines = plate_outlines(shot_now, facts.frames) if wish.leave_out else []
    left_out = left_out_bytes(outlines) if outlines else None
    key = hashlib.blake2b(left_out, digest_size=16).hexdigest() if left_out else ""
    same = behind.store.row("solve_like", clip=clip, focal=focal, left_out_key=key)
    if same is not None:
        found = _state(behind, same["id"])
        if found.file is None or library_solve(found.file) is not None:
            return found
    row = behind.store.row("solve_create", clip=clip, focal=focal, left_out=left_out, left_out_key=key)
    assert row is not None, "a new row comes back"
    defer_solve(behind.jobs, row["id"])
    return _state(behind, row["id"])


@router.get("/shots/{shot}/plate/solve")
def solve_state(behind: Behind, shot: UUID) -> SolveState | None:
    """How far the latest solve of a shot's plate is; nothing where nobody asked for one."""
    row = behind.store.row("solve_latest", clip=_clip(behind, shot))
    return _state(behind, row["id"]) if row is not None else None


@router.post("/shots/{shot}/plate/solve/cancel")
def cancel_solve(behind: Behind, shot: UUID) -> SolveState:
    """Call the latest solve off."""
    row = behind.store.row("solve_latest", clip=_clip(behind, shot))
    if row is None:
        raise NotThere("the plate was not solved yet")
    behind.store.row("solve_cancel", id=row["id"])
    behind.store.tell("solve", id=str(row["id"]))
    return _state(behind, row["id"])


@router.post("/shots/{shot}/plate/solved")
def take_solve(behind: Behind, shot: UUID) -> Offered:
    """Let the shot's camera stand where the latest solve of its plate says."""
    found = solve_state(behind, shot)
    if found is None or found.file is None:
        raise NotThere("the plate is not solved yet")
    file = found.file
    return changed_by(behind, shot, lambda now: with_solve(now, file), NO_PLATE)


def _state(behind: Behind, solve: UUID) -> SolveState:
    row = behind.store.row("solve_read", id=solve)
    if row is None:
        raise NotThere("there is no such solve")
    facts = plate_facts(row["clip"]) if row["cuts"] else None
    ends = [0, *row["cuts"], facts.frames] if facts is not None else []
    pieces = [PlatePiece(first=begin, last=end - 1) for begin, end in pairwise(ends)]
    told = {name: row[name] for name in SolveState.model_fields if name != "pieces"}
    return SolveState(**told, pieces=pieces)


def _clip(behind: Behind, shot: UUID) -> str:
    clip = store.read_shot(behind.store, shot).shot.plate.clip
    if not clip:
        raise NotThere(NO_PLATE)
    return clip


def _facts(clip: str) -> PlateFacts:
    found = plate_facts(clip)
    if found is None:
        raise NotThere("the plate is gone from the library; bring it again")
    return found


def kept_solve(behind: Behind, solve: Solve) -> str:
    """A solve as a file of the library; its name."""
    with say_disk_full(behind.data):
        return keep(behind.data / LIBRARY, solve_bytes(solve), "solve", "solve")


def _known_focal(wish: RectangleWish | EdgesWish, width: int) -> float | None:
    """The focal length in pixels, where it is known."""
    return None if wish.focal_length is None else wish.focal_length / SENSOR * width


def solve_of(shot: Shot) -> Solve:
    found = library_solve(shot.plate.solve)
    if found is None:
        raise NotThere("the plate is not solved yet")
    return found


@router.post("/shots/{shot}/plate/rectangle")
def match_rectangle(behind: Behind, shot: UUID, wish: RectangleWish) -> Offered:
    """Let the camera stand where it sees a rectangle of known sides so: for stills and locked shots."""
    facts = _facts(_clip(behind, shot))
    size = (facts.width, facts.height)
    focal = _known_focal(wish, facts.width)
    corners = np.array(wish.places, np.float64) * size
    found = solve_of_rectangle(corners, size, wish.width, wish.depth, focal, facts.frames)
    file = kept_solve(behind, found)
    return changed_by(behind, shot, lambda now: with_solve(now, file), NO_PLATE)


@router.post("/shots/{shot}/plate/rectangle/grid")
def rectangle_lines(behind: Behind, shot: UUID, wish: GridWish) -> list[tuple[Pick, Pick]]:
    """Lines of a grid on a rectangle as the camera would see them that stands where it sees it so."""
    facts = _facts(_clip(behind, shot))
    size = (facts.width, facts.height)
    focal = _known_focal(wish, facts.width)
    corners = np.array(wish.places, np.float64) * size
    lines = rectangle_grid(corners, size, wish.width, wish.depth, focal, wish.cells) / size
    return [((float(a), float(b)), (float(c), float(d))) for (a, b), (c, d) in lines]


@router.post("/shots/{shot}/plate/edges")
def match_edges(behind: Behind, shot: UUID, wish: EdgesWish) -> Offered:
    """Let the camera stand where it sees edges run so: for stills and locked shots."""
    facts = _facts(_clip(behind, shot))
    size = (facts.width, facts.height)
    focal = _known_focal(wish, facts.width)
    along, other = (np.array(lines, np.float64) * size for lines in (wish.along, wish.other))
    found = solve_of_edges(along, other, size, wish.upright, focal, facts.frames)
    file = kept_solve(behind, found)
    return changed_by(behind, shot, lambda now: with_solve(now, file), NO_PLATE)


@router.get("/shots/{shot}/plate/report")
def read_report(behind: Behind, shot: UUID) -> SolveReport:
    """What the shot's solve is worth, in words and figures."""
    solve = solve_of(store.read_shot(behind.store, shot).shot)
    told = report(solve)
    return SolveReport(
        kind=solve.kind,
        verdict=told.verdict,
        words=list(told.words),
        rms=told.rms,
        slide=told.slide,
        points=told.points,
        focal_length=SENSOR * solve.bundle.focal / solve.bundle.size[0],
        residual=[float(v) if np.isfinite(v) else None for v in solve.residual],
        weak=list(told.weak),
    )


@router.get("/shots/{shot}/camera.csv", response_class=Response)
def read_camera(behind: Behind, shot: UUID) -> Response:
    """The camera as a table, a row a frame: place, turn, vertical angle of view."""
    table = camera_table(store.read_shot(behind.store, shot).shot)
    return Response(table, media_type="text/csv", headers=_named("camera.csv"))


@router.get("/shots/{shot}/plate/points.csv", response_class=Response)
def read_point_table(behind: Behind, shot: UUID) -> Response:
    """The points of the plate's solve as a table."""
    now = store.read_shot(behind.store, shot).shot
    solve_of(now)
    return Response(points_table(now), media_type="text/csv", headers=_named("points.csv"))


def _named(file: str) -> dict[str, str]:
    return {"Content-Disposition": f'attachment; filename="{file}"'}
