"""Picks in a plate: where its ground is, what stands there, where its sun stands, what is measured in it."""

from __future__ import annotations

import asyncio
from typing import Any, Literal
from uuid import UUID

import cv2
import numpy as np
from fastapi import APIRouter
from numpy.typing import NDArray
from pydantic import Field

from ..core.clips import plate_facts, plate_frame
from ..core.colour import AS_SEEN, decoded_light, footage_light, srgb_to_linear
from ..core.document import Shot
from ..core.files import say_disk_full
from ..core.library import keep
from ..core.light.panorama_file import panorama_bytes
from ..core.match import measured_black, measured_blur, measured_grain, shadow_share
from ..core.optics import display_values
from ..core.scene import (
    aligned_by,
    plate_moments,
    plate_panorama,
    sight,
    stood,
    stood_far,
    with_box,
    with_shadow,
    with_sun,
    with_sun_at,
    with_surroundings,
    with_wall,
)
from ..store import NotThere
from ..store import shots as store
from .library import LIBRARY
from .offers import NO_SUCH_THING, Offered, Wish, changed_by
from .plates import NO_PLATE, Pick
from .problems import PROBLEMS
from .services import Behind

router = APIRouter(tags=["plates"], responses=PROBLEMS)

# Pixels around a stroke that are looked at, in shares of the picture's width.
STROKE = 0.006
# Frames that grain, sharpness and blacks are measured in.
SOME_FRAMES = 6


class AlignWish(Wish):
    """Picks in the picture at a frame, shares of its width and height from the top left."""

    what: Literal["ground", "origin", "distance", "direction"]
    frame: int = Field(0, ge=0, le=200_000)
    places: list[Pick] = Field(min_length=1, max_length=200)
    metres: float = Field(1.0, gt=0, le=100_000)
    box: bool = False


class StandWish(Wish):
    """Where a thing is to stand: at a place on the ground or on a wall, or along the line between two."""

    thing: str = Field(max_length=40)
    frame: int = Field(0, ge=0, le=200_000)
    places: list[Pick] = Field(min_length=1, max_length=2)
    facing: bool = True


class FarWish(Wish):
    """Where a thing is to stand, how far away, and which share of the picture's width it takes up."""

    thing: str = Field(max_length=40)
    frame: int = Field(0, ge=0, le=200_000)
    place: Pick
    metres: float = Field(gt=0, le=100_000)
    share: float = Field(gt=0, le=4)


class BoxWish(Wish):
    """A corner of its foot, the next one along its front, the one behind that, its top over the first one."""

    frame: int = Field(0, ge=0, le=200_000)
    places: tuple[Pick, Pick, Pick, Pick]


class WallWish(Wish):
    """Both ends of its foot, and its top over the first one."""

    frame: int = Field(0, ge=0, le=200_000)
    places: tuple[Pick, Pick, Pick]


class SunWish(Wish):
    """Feet, tips and tips of shadows."""

    frame: int = Field(0, ge=0, le=200_000)
    picks: list[tuple[Pick, Pick, Pick]] = Field(min_length=1, max_length=50)


class SunFound(Offered):
    """``spread`` is how far picks differ, in degrees; none of one alone."""

    spread: float


class SunMomentWish(Wish):
    """Where the plate was filmed, when, and where its camera looked: degrees clockwise from north."""

    frame: int = Field(0, ge=0, le=200_000)
    latitude: float = Field(ge=-90, le=90)
    longitude: float = Field(ge=-180, le=180)
    day: int = Field(ge=1, le=366)
    hour: float = Field(ge=0, le=24)
    bearing: float = Field(ge=-360, le=360)


class SunMomentFound(Offered):
    """Where the sun was, in degrees."""

    elevation: float
    azimuth: float


class ShadowWish(Wish):
    """Strokes over some ground in light, and over the same ground in shade."""

    frame: int = Field(0, ge=0, le=200_000)
    lit: list[Pick] = Field(min_length=1, max_length=2000)
    shade: list[Pick] = Field(min_length=1, max_length=2000)


class FilmedFound(Offered):
    """Blur in pixels of the plate, and its darkest display values."""

    blur: float
    black: tuple[float, float, float]


class GrainFound(Offered):
    """Standard deviation in codes in dark, middle and light, and the size of a grain in pixels."""

    strength: tuple[float, float, float]
    size: float


class ShadowFound(Offered):
    """What is left of the light in shadow, channel by channel."""

    left: tuple[float, float, float]


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
    """Let a thing stand in the plate where one points: on its ground, on a box, on a wall, along a line."""
    places = np.array(wish.places, np.float64)
    return changed_by(
        behind,
        shot,
        lambda now: stood(now, wish.thing, wish.frame, places, behind.bodies, wish.facing),
        NO_SUCH_THING,
    )


@router.post("/shots/{shot}/plate/far")
def stand_far(behind: Behind, shot: UUID, wish: FarWish) -> Offered:
    """Let a thing stand far away in the plate, as large as it is to be in the picture."""
    place = np.array(wish.place, np.float64)
    return changed_by(
        behind,
        shot,
        lambda now: stood_far(now, wish.thing, wish.frame, place, wish.metres, wish.share, behind.bodies),
        NO_SUCH_THING,
    )


@router.post("/shots/{shot}/plate/box")
def add_box(behind: Behind, shot: UUID, wish: BoxWish) -> Offered:
    """Add a box that stands for something in the plate: it takes shadow and hides what is behind it."""
    places = np.array(wish.places, np.float64)
    return changed_by(behind, shot, lambda now: with_box(now, wish.frame, places), NO_PLATE)


@router.post("/shots/{shot}/plate/wall")
def add_wall(behind: Behind, shot: UUID, wish: WallWish) -> Offered:
    """Add a wall that stands for one in the plate: it takes shadow, and words hang on it."""
    places = np.array(wish.places, np.float64)
    return changed_by(behind, shot, lambda now: with_wall(now, wish.frame, places), NO_PLATE)


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


@router.post("/shots/{shot}/plate/sun-at")
def place_sun_at(behind: Behind, shot: UUID, wish: SunMomentWish) -> SunMomentFound:
    """Let the sun stand where it was when the plate was filmed."""
    found: list[float] = []

    def change(now: Shot) -> list[dict[str, Any]]:
        place = (wish.latitude, wish.longitude)
        patch, *found[:] = with_sun_at(now, wish.frame, place, wish.day, wish.hour, wish.bearing)
        return patch

    done = changed_by(behind, shot, change, NO_PLATE)
    return SunMomentFound(changed=done.changed, revision=done.revision, elevation=found[0], azimuth=found[1])


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
    return changed_by(behind, shot, lambda there: with_surroundings(there, file), NO_PLATE)


@router.post("/shots/{shot}/plate/grain")
async def measure_grain(behind: Behind, shot: UUID) -> GrainFound:
    """Lay the plate's own grain on the words: measured in some of its frames."""
    return await asyncio.to_thread(_grained, behind, shot)


def _some_frames(behind: Behind, shot: UUID) -> list[NDArray[np.float32]]:
    """Some frames of the plate of a shot, evenly over it."""
    now = store.read_shot(behind.store, shot).shot
    facts = plate_facts(now.plate.clip) if now.plate.clip else None
    if facts is None:
        raise NotThere(NO_PLATE)
    numbers = np.unique(np.linspace(0, facts.frames - 1, SOME_FRAMES).round().astype(int)).tolist()
    frames = (plate_frame(now.plate.clip, number) for number in numbers)
    return [_as_seen(frame, now) for frame in frames if frame is not None]


def _as_seen(values: NDArray[np.float32], now: Shot) -> NDArray[np.float32]:
    """Display values of a frame of the plate, whatever encoding it comes in."""
    if now.plate.encoding == AS_SEEN:
        return values
    exposed = decoded_light(values, now.plate.encoding) * np.float32(2.0**now.camera.exposure)
    return display_values(np.maximum(exposed, 0), now.camera.view)


def _grained(behind: Behind, shot: UUID) -> GrainFound:
    found = measured_grain(_some_frames(behind, shot))
    dark, middle, light = found.strength
    values = {"dark": dark, "middle": middle, "light": light, "size": found.size, "colour": found.colour}
    patch = [
        {"op": "replace", "path": f"/plate/grain/{name}", "value": round(value, 4)}
        for name, value in values.items()
    ]
    done = changed_by(behind, shot, lambda _: patch, NO_PLATE)
    return GrainFound(changed=done.changed, revision=done.revision, strength=found.strength, size=found.size)


@router.post("/shots/{shot}/plate/filmed")
async def measure_filmed(behind: Behind, shot: UUID) -> FilmedFound:
    """Make words as soft as the plate is, and no darker: measured in some of its frames."""
    return await asyncio.to_thread(_filmed, behind, shot)


def _filmed(behind: Behind, shot: UUID) -> FilmedFound:
    frames = _some_frames(behind, shot)
    blur, black = measured_blur(frames), measured_black(frames)
    light = srgb_to_linear(np.array(black, np.float32)).tolist()
    patch: list[dict[str, Any]] = [
        {"op": "replace", "path": "/plate/filmed/blur", "value": round(blur, 3)},
        *(
            {"op": "replace", "path": f"/plate/filmed/black/{name}", "value": round(value, 5)}
            for name, value in zip("rgb", light, strict=True)
        ),
    ]
    done = changed_by(behind, shot, lambda _: patch, NO_PLATE)
    return FilmedFound(changed=done.changed, revision=done.revision, blur=blur, black=black)


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
        linear = footage_light(values, now.plate.encoding, now.camera.view, 0.0)
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
