"""Footage: brought, solved, and words put into it."""

from __future__ import annotations

import asyncio
from typing import Any, Literal
from uuid import UUID

import cv2
import numpy as np
from fastapi import APIRouter, Request
from pydantic import BaseModel, Field
from starlette.responses import Response

from ..core.clips import bring_plate, plate_facts, plate_frame
from ..core.colour import from_display
from ..core.document import Shot
from ..core.exchange.camera_table import camera_table, points_table
from ..core.files import say_disk_full
from ..core.library import keep
from ..core.light.panorama_file import panorama_bytes
from ..core.match import (
    Solve,
    library_solve,
    measured_grain,
    report,
    shadow_share,
    solve_bytes,
    solve_of_rectangle,
)
from ..core.scene import (
    aligned_by,
    alignment_of,
    plate_moments,
    plate_panorama,
    sight,
    stood,
    with_box,
    with_plate,
    with_shadow,
    with_solve,
    with_sun,
)
from ..store import NotThere
from ..store import shots as store
from ..work import defer_solve
from .blocks import BLOCK, pack
from .library import FILE, LIBRARY
from .offers import NO_SUCH_THING, Offered, Wish, changed_by
from .problems import PROBLEMS
from .services import Behind
from .uploads import reading, upload

router = APIRouter(tags=["plates"], responses=PROBLEMS)

NO_PLATE = "this shot has no plate yet; drop a video to bring one"
# Pixels around a stroke that are looked at, in shares of the picture's width.
STROKE = 0.006
# Width in pixels that focal lengths of solves are counted at, and of the sensor that wishes are told for.
SENSOR = 36.0
# Frames that grain is measured in.
GRAIN_FRAMES = 6


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


class SolveWish(Wish):
    """``focal_length`` in millimetres on a sensor 36 mm wide, where it is known."""

    focal_length: float | None = Field(None, ge=4, le=1200)


class SolveState(BaseModel):
    """How far a solve is: what is being done, its share, and the file or why there is none."""

    id: UUID
    state: Literal["waiting", "solving", "complete", "failed", "cancelled"]
    what: str
    share: float
    file: str | None
    why: str | None


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


Pick = tuple[float, float]


class AlignWish(Wish):
    """Picks in the picture at a frame, shares of its width and height from the top left."""

    what: Literal["ground", "origin", "distance", "direction"]
    frame: int = Field(0, ge=0, le=200_000)
    places: list[Pick] = Field(min_length=1, max_length=200)
    metres: float = Field(1.0, gt=0, le=100_000)
    box: bool = False


class RectangleWish(Wish):
    """Corners of a rectangle on the ground, the nearer edge from left to right, then the far one back, and
    the lengths of both in metres; ``focal_length`` in millimetres on a sensor 36 mm wide, where it is known.
    """

    places: tuple[Pick, Pick, Pick, Pick]
    width: float = Field(gt=0, le=10_000)
    depth: float = Field(gt=0, le=10_000)
    focal_length: float | None = Field(None, ge=4, le=1200)


class StandWish(Wish):
    """Where a thing is to stand."""

    thing: str = Field(max_length=40)
    frame: int = Field(0, ge=0, le=200_000)
    place: Pick
    facing: bool = True


class BoxWish(Wish):
    """A corner of its foot, the next one along its front, the one behind that, its top over the first one."""

    frame: int = Field(0, ge=0, le=200_000)
    places: tuple[Pick, Pick, Pick, Pick]


class SunWish(Wish):
    """Feet, tips and tips of shadows."""

    frame: int = Field(0, ge=0, le=200_000)
    picks: list[tuple[Pick, Pick, Pick]] = Field(min_length=1, max_length=50)


class SunFound(Offered):
    """``spread`` is how far picks differ, in degrees; none of one alone."""

    spread: float


class ShadowWish(Wish):
    """Strokes over some ground in light, and over the same ground in shade."""

    frame: int = Field(0, ge=0, le=200_000)
    lit: list[Pick] = Field(min_length=1, max_length=2000)
    shade: list[Pick] = Field(min_length=1, max_length=2000)


class GrainFound(Offered):
    """Standard deviation in codes in dark, middle and light, and the size of a grain in pixels."""

    strength: tuple[float, float, float]
    size: float


class ShadowFound(Offered):
    """What is left of the light in shadow, channel by channel."""

    left: tuple[float, float, float]


@router.post("/library/plates", status_code=201, openapi_extra=FILE)
async def bring(behind: Behind, request: Request) -> PlateFile:
    """Bring footage that words are to stand in; it is kept without loss, every frame at hand."""
    async with upload(request, behind.data) as file:
        name = await reading(bring_plate, file, behind.data / LIBRARY)
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


@router.post("/shots/{shot}/plate/solve", status_code=201)
def solve_plate(behind: Behind, shot: UUID, wish: SolveWish) -> SolveState:
    """Find out how the plate's camera moved, in the background; what was found before is there at once."""
    clip = _clip(behind, shot)
    facts = plate_facts(clip)
    if facts is None:
        raise NotThere("the plate is gone from the library; bring it again")
    width = min(facts.width, 960)
    focal = None if wish.focal_length is None else round(wish.focal_length / SENSOR * width, 6)
    same = behind.store.row("solve_like", clip=clip, focal=focal)
    if same is not None:
        found = _state(behind, same["id"])
        if found.file is None or library_solve(found.file) is not None:
            return found
    row = behind.store.row("solve_create", clip=clip, focal=focal)
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
    return SolveState(**{name: row[name] for name in SolveState.model_fields})


def _clip(behind: Behind, shot: UUID) -> str:
    clip = store.read_shot(behind.store, shot).shot.plate.clip
    if not clip:
        raise NotThere(NO_PLATE)
    return clip


def _solve(shot: Shot) -> Solve:
    found = library_solve(shot.plate.solve)
    if found is None:
        raise NotThere("the plate is not solved yet")
    return found


@router.post("/shots/{shot}/plate/rectangle")
def match_rectangle(behind: Behind, shot: UUID, wish: RectangleWish) -> Offered:
    """Let the camera stand where it sees a rectangle of known sides so: for stills and locked shots."""
    facts = plate_facts(_clip(behind, shot))
    if facts is None:
        raise NotThere("the plate is gone from the library; bring it again")
    size = (facts.width, facts.height)
    focal = None if wish.focal_length is None else wish.focal_length / SENSOR * facts.width
    corners = np.array(wish.places, np.float64) * size
    found = solve_of_rectangle(corners, size, wish.width, wish.depth, focal, facts.frames)
    with say_disk_full(behind.data):
        file = keep(behind.data / LIBRARY, solve_bytes(found), "solve", "solve")
    return changed_by(behind, shot, lambda now: with_solve(now, file), NO_PLATE)


@router.get("/shots/{shot}/plate/report")
def read_report(behind: Behind, shot: UUID) -> SolveReport:
    """What the shot's solve is worth, in words and figures."""
    solve = _solve(store.read_shot(behind.store, shot).shot)
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


@router.get("/shots/{shot}/plate/points", response_class=Response)
def read_points(behind: Behind, shot: UUID) -> Response:
    """The points that bear a solve, as a block: ``xy`` (n, 2), shares of the picture, where each was seen, in
    order of frames; ``begin`` (frames + 1,) where each frame's begin; ``point`` (n,) which one it is;
    ``room`` (points, 3) where they are, in metres; ``off`` (n,) pixels by which they miss. ``moments``
    (frames of the shot,) says which frame of the plate is shown."""
    row = store.read_shot(behind.store, shot)
    solve = _solve(row.shot)
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


@router.get("/shots/{shot}/camera.csv", response_class=Response)
def read_camera(behind: Behind, shot: UUID) -> Response:
    """The camera as a table, a row a frame: place, turn, vertical angle of view."""
    table = camera_table(store.read_shot(behind.store, shot).shot)
    return Response(table, media_type="text/csv", headers=_named("camera.csv"))


@router.get("/shots/{shot}/plate/points.csv", response_class=Response)
def read_point_table(behind: Behind, shot: UUID) -> Response:
    """The points of the plate's solve as a table."""
    now = store.read_shot(behind.store, shot).shot
    _solve(now)
    return Response(points_table(now), media_type="text/csv", headers=_named("points.csv"))


def _named(file: str) -> dict[str, str]:
    return {"Content-Disposition": f'attachment; filename="{file}"'}


@router.get("/shots/{shot}/plate/grid")
def read_grid(behind: Behind, shot: UUID, frame: int = 0) -> list[list[Pick]]:
    """A grid on the ground as lines of places in the picture at a frame: metres near the origin."""
    row = store.read_shot(behind.store, shot)
    seen = sight(row.shot, min(max(frame, 0), row.shot.format.frames - 1))
    lines: list[list[Pick]] = []
    along = np.linspace(-8, 8, 65)
    for k in range(-8, 9):
        for swap in (False, True):
            points = np.stack([along, np.zeros(65), np.full(65, float(k))], axis=1)
            places = seen.seen(points[:, [2, 1, 0]] if swap else points)
            good = np.asarray(np.isfinite(places).all(axis=1) & (np.abs(places - 0.5) < 1.5).all(axis=1))
            for part in np.split(np.arange(65), np.flatnonzero(np.diff(good.astype(int))) + 1):
                if good[part[0]] and len(part) > 1:
                    lines.append([(float(x), float(y)) for x, y in places[part]])
    return lines


@router.post("/shots/{shot}/plate/align")
def align(behind: Behind, shot: UUID, wish: AlignWish) -> Offered:
    """Say where ground, origin, scale or direction of the plate are, by picks in the picture."""
    places = np.array(wish.places, np.float64)
    return changed_by(
        behind,
        shot,
        lambda now: aligned_by(now, wish.what, wish.frame, places, wish.metres, wish.box),
        NO_PLATE,
    )


@router.post("/shots/{shot}/plate/stand")
def stand(behind: Behind, shot: UUID, wish: StandWish) -> Offered:
    """Let a thing stand on the ground of the plate where one points."""
    return changed_by(
        behind,
        shot,
        lambda now: stood(now, wish.thing, wish.frame, np.array(wish.place), wish.facing),
        NO_SUCH_THING,
    )


@router.post("/shots/{shot}/plate/box")
def add_box(behind: Behind, shot: UUID, wish: BoxWish) -> Offered:
    """Add a box that stands for something in the plate: it takes shadow and hides what is behind it."""
    places = np.array(wish.places, np.float64)
    return changed_by(behind, shot, lambda now: with_box(now, wish.frame, places), NO_PLATE)


@router.post("/shots/{shot}/plate/sun")
def place_sun(behind: Behind, shot: UUID, wish: SunWish) -> SunFound:
    """Let the sun stand where shadows in the plate say."""
    spreads: list[float] = []

    def change(now: Shot) -> list[dict[str, Any]]:
        patch, spread = with_sun(now, wish.frame, np.array(wish.picks, np.float64))
        spreads[:] = [spread]
        return patch

    done = changed_by(behind, shot, change, NO_PLATE)
    return SunFound(changed=done.changed, revision=done.revision, spread=spreads[0])


@router.post("/shots/{shot}/plate/surroundings")
async def take_surroundings(behind: Behind, shot: UUID) -> Offered:
    """Let the words mirror the place: surroundings made of what the plate's camera saw, frame by frame."""
    return await asyncio.to_thread(_surrounded, behind, shot)


def _surrounded(behind: Behind, shot: UUID) -> Offered:
    now = store.read_shot(behind.store, shot).shot
    if not now.plate.clip or now.backdrop.kind != "plate":
        raise NotThere(NO_PLATE)
    picture = plate_panorama(now)
    with say_disk_full(behind.data):
        file = keep(behind.data / LIBRARY, panorama_bytes(picture), "panorama", "panorama")
    values = {
        "source": "picture",
        "picture": file,
        "rotation": 0.0,
        "tilt": 0.0,
        "strength": 0.0,
        "blur": 0.0,
    }

    def change(there: Shot) -> list[dict[str, Any]]:
        return [
            {"op": "replace", "path": f"/surroundings/{name}", "value": value}
            for name, value in values.items()
            if getattr(there.surroundings, name) != value
        ]

    return changed_by(behind, shot, change, NO_PLATE)


@router.post("/shots/{shot}/plate/grain")
async def measure_grain(behind: Behind, shot: UUID) -> GrainFound:
    """Lay the plate's own grain on the words: measured in some of its frames."""
    return await asyncio.to_thread(_grained, behind, shot)


def _grained(behind: Behind, shot: UUID) -> GrainFound:
    now = store.read_shot(behind.store, shot).shot
    facts = plate_facts(now.plate.clip) if now.plate.clip else None
    if facts is None:
        raise NotThere(NO_PLATE)
    numbers = np.unique(np.linspace(0, facts.frames - 1, GRAIN_FRAMES).round().astype(int)).tolist()
    frames = (plate_frame(now.plate.clip, number) for number in numbers)
    found = measured_grain(frame for frame in frames if frame is not None)
    dark, middle, light = found.strength
    values = {"dark": dark, "middle": middle, "light": light, "size": found.size, "colour": found.colour}
    patch = [
        {"op": "replace", "path": f"/plate/grain/{name}", "value": round(value, 4)}
        for name, value in values.items()
    ]
    done = changed_by(behind, shot, lambda _: patch, NO_PLATE)
    return GrainFound(changed=done.changed, revision=done.revision, strength=found.strength, size=found.size)


@router.post("/shots/{shot}/plate/shadow")
async def measure_shadow(behind: Behind, shot: UUID, wish: ShadowWish) -> ShadowFound:
    """Make shadows as dark, and of the colour, that strokes over the plate say."""
    return await asyncio.to_thread(_measured, behind, shot, wish)


def _measured(behind: Behind, shot: UUID, wish: ShadowWish) -> ShadowFound:
    found: list[Any] = []

    def change(now: Shot) -> list[dict[str, Any]]:
        at = int(plate_moments(now, np.array([float(wish.frame)]))[0] + 0.5)
        values = plate_frame(now.plate.clip, at) if now.plate.clip else None
        if values is None:
            raise NotThere(NO_PLATE)
        linear = from_display(np.clip(values, 0, 1), now.camera.view)
        left = shadow_share(_stroked(linear, wish.lit), _stroked(linear, wish.shade))
        found[:] = [left]
        return with_shadow(now, wish.frame, left)

    done = changed_by(behind, shot, change, NO_PLATE)
    r, g, b = (round(float(v), 4) for v in found[0])
    return ShadowFound(changed=done.changed, revision=done.revision, left=(r, g, b))


def _stroked(linear: np.ndarray[Any, Any], places: list[Pick]) -> np.ndarray[Any, Any]:
    """Colours (n, 3) under strokes."""
    rows, columns = linear.shape[:2]
    under = np.zeros((rows, columns), np.uint8)
    at = [(round(x * columns), round(y * rows)) for x, y in places]
    wide = max(2, round(STROKE * columns))
    for a, b in zip(at, at[1:] or at, strict=False):
        cv2.line(under, a, b, 1, wide)
    result: np.ndarray[Any, Any] = linear[under > 0]
    return result
