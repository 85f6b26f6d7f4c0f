"""Point at the picture, and it answers; and lights placed by what they should do there."""

from __future__ import annotations

import asyncio
from typing import Annotated
from uuid import UUID

import numpy as np
from fastapi import APIRouter, Query
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from ..core.colour import LUMINANCE
from ..core.document import Floor, Light, Shot, Vector, original_of
from ..core.light import CannotPlace, footprint, for_highlight, for_shadow, shadow_tip
from ..core.optics import to_display
from ..core.scene import BakedBody, BodyStore, Form, bake, body_points, movers
from ..store import NotThere
from ..store import shots as store
from .problems import PROBLEMS
from .services import Behind

router = APIRouter(tags=["asking"], responses=PROBLEMS)

Unit = Annotated[float, Field(ge=0, le=1)]
Three = tuple[float, float, float]
Finite = Annotated[float, Field(ge=-1e6, le=1e6)]
FiniteThree = tuple[Finite, Finite, Finite]
Floats = NDArray[np.float64]
# Chords of what throws footprints may stray from curves by this share of its size: less than a plot shows.
COARSE = 0.004


class Spot(BaseModel):
    """A spot of a frame: x and y from 0 to 1 from the top left of a picture of this size."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
    frame: int = Field(0, ge=0, le=200_000)
    x: Unit
    y: Unit
    width: int = Field(960, ge=16, le=3840)
    height: int = Field(540, ge=16, le=3840)


class Contribution(BaseModel):
    """What a light brings to a spot: its scene-linear light, its share of all, how much of it is blocked, and
    by what."""

    name: str
    label: str
    light: Three
    share: float
    blocked: float
    by: list[str]
    behind: float


class MoverCard(BaseModel):
    """What moves the thing: ``at`` is the pointer of what to look at, ``says`` what it does, in words."""

    at: str
    label: str
    says: str


class AnswerCard(BaseModel):
    """What is at a spot and what makes it look so; ``light`` is scene-linear before exposure, ``shown``
    display codes of 8 bit."""

    thing: str | None
    part: str
    source: int
    position: Three
    normal: Three
    distance: float
    light: Three
    exposed: Three
    shown: tuple[int, int, int]
    contributions: list[Contribution]
    mirrored: str | None
    says: list[str]
    moves: list[MoverCard]


class HighlightWish(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
    frame: int = Field(0, ge=0, le=200_000)
    light: str = Field(max_length=40)
    point: FiniteThree
    normal: FiniteThree


class ShadowWish(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
    frame: int = Field(0, ge=0, le=200_000)
    light: str = Field(max_length=40)
    thing: str = Field(max_length=40)
    target: FiniteThree


class LightPlace(BaseModel):
    position: Vector
    aim: Vector


@router.post("/shots/{shot}/ask")
async def ask(behind: Behind, shot: UUID, spot: Spot) -> AnswerCard:
    """What is at a spot of the picture, measured by the renderer."""
    row = await asyncio.to_thread(store.read_shot, behind.store, shot)
    frame = min(spot.frame, row.shot.format.frames - 1)
    answered = await behind.views.ask(
        row.shot.model_dump_json(), frame, (spot.width, spot.height), spot.x, spot.y
    )
    found, total = answered.answer, max(float(LUMINANCE @ answered.answer.light), 1e-9)
    # A copy is named and pointed at as what it is a copy of.
    thing = original_of(found.thing) if found.thing else None
    labels = {
        **{name: thing.name for name, thing in row.shot.things.items()},
        "surroundings": "Surroundings",
        "@sun": "Sun of the sky",
    }
    contributions = [
        Contribution(
            name=s.name,
            label=labels.get(s.name, s.name),
            light=s.light,
            share=float(LUMINANCE @ s.light) / total,
            blocked=s.blocked,
            by=list(dict.fromkeys(labels.get(original_of(one), one) for one in s.by)),
            behind=s.behind,
        )
        for s in found.shares
    ]
    r, g, b = (channel * 2**answered.exposure for channel in found.light)
    red, green, blue = to_display(np.array([[r, g, b]], np.float32), row.shot.camera.view)[0].tolist()
    return AnswerCard(
        thing=thing,
        part=found.part,
        source=found.source,
        position=found.position,
        normal=found.normal,
        distance=found.distance,
        light=found.light,
        exposed=(r, g, b),
        shown=(red, green, blue),
        contributions=sorted(contributions, key=lambda c: -c.share),
        says=answered.says,
        mirrored=found.mirrored.what if found.mirrored is not None else None,
        moves=[
            MoverCard(at=one.at, label=one.label, says=one.says)
            for one in (movers(row.shot, thing, found.source, frame) if thing else [])
        ],
    )


@router.post("/shots/{shot}/highlight")
def highlight(behind: Behind, shot: UUID, wish: HighlightWish) -> LightPlace:
    """Where a light must go so that its highlight lies on a spot."""
    row = store.read_shot(behind.store, shot)
    at = _light(row.shot, wish.light, wish.frame)
    baked = bake(row.shot, np.array([float(min(wish.frame, row.shot.format.frames - 1))]))
    point = np.array(wish.point)
    place = for_highlight(point, np.array(wish.normal), baked.camera_position[0], at)
    return LightPlace(position=_vector(place), aim=_vector(point))


@router.post("/shots/{shot}/shadow")
def shadow(behind: Behind, shot: UUID, wish: ShadowWish) -> LightPlace:
    """Where a light must go so that the tip of a thing's shadow falls on a spot of the ground."""
    row = store.read_shot(behind.store, shot)
    at = _light(row.shot, wish.light, wish.frame)
    light = row.shot.lights[wish.light]
    frame = float(min(wish.frame, row.shot.format.frames - 1))
    baked = bake(row.shot, np.array([frame]))
    if wish.thing not in baked.titles:
        raise NotThere("there is nothing of this name in the shot that casts a shadow")
    title = baked.titles[wish.thing]
    points, _ = _mesh(title, title.forms[int(title.form[0])], behind.bodies)
    aim, target = np.array([light.aim.x, light.aim.y, light.aim.z]), np.array(wish.target)
    found = shadow_tip(points, float(target[1]), at, light.source == "sun", aim)
    # Without a shadow yet, what stands highest casts the tip.
    tip = found[0] if found is not None else points[int(np.argmax(points[:, 1]))]
    place = for_shadow(tip, target, at)
    return LightPlace(
        position=_vector(place), aim=_vector(place + (target - place) * 0.5 if light.source == "sun" else tip)
    )


class Footprint(BaseModel):
    """The shadow of a thing on the ground: ``rings`` of x and z filled by the even-odd rule, and its ``tip``
    (x, ground, z)."""

    light: str
    thing: str
    rings: list[list[tuple[float, float]]]
    tip: Three | None


@router.get("/shots/{shot}/footprints")
def footprints(
    behind: Behind, shot: UUID, frame: Annotated[int, Query(ge=0, le=200_000)] = 0
) -> list[Footprint]:
    """Where the shadows of all things fall on the floor at a frame, light by light; none where there is no
    floor."""
    row = store.read_shot(behind.store, shot)
    baked = bake(row.shot, np.array([float(min(frame, row.shot.format.frames - 1))]))
    floors = [
        float(baked.titles[name].matrix[0, 1, 3])
        for name, thing in row.shot.bodied.items()
        if isinstance(thing, Floor)
    ]
    if not floors:
        return []
    ground, found = max(floors), []
    for name, title in baked.titles.items():
        if isinstance(row.shot.bodied[name], Floor) or not row.shot.bodied[name].visibility.casts:
            continue
        try:
            points, triangles = _mesh(title, title.forms[int(title.form[0])].coarser(COARSE), behind.bodies)
        except CannotPlace:
            continue
        for light, held in baked.lights.items():
            if held.source == "ambient" or held.shadow[0, 3] <= 0:
                continue
            at, aim, sun = held.position[0], held.aim[0], held.source == "sun"
            rings = footprint(points, triangles, ground, at, sun, aim)
            tip = shadow_tip(points, ground, at, sun, aim)
            plain = [[(float(x), float(z)) for x, z in ring.round(4)] for ring in rings]
            if plain:
                found.append(
                    Footprint(
                        light=light,
                        thing=name,
                        rings=plain,
                        tip=tuple(tip[1].round(4).tolist()) if tip else None,
                    )
                )
    return found


def _light(shot: Shot, name: str, frame: int) -> Floats:
    light = shot.things.get(name)
    if not isinstance(light, Light):
        raise NotThere("there is no light of this name in the shot")
    if light.source == "ambient":
        raise CannotPlace("ambient light comes from everywhere and has no place; choose another light")
    baked = bake(
        shot.model_copy(
            update={"things": {**shot.things, name: light.model_copy(update={"on": True, "solo": False})}}
        ),
        np.array([float(frame)]),
    )
    if name in baked.lights:
        place: Floats = baked.lights[name].position[0]
        return place
    return np.array([light.position.x, light.position.y, light.position.z])


def _mesh(title: BakedBody, form: Form, bodies: BodyStore) -> tuple[Floats, NDArray[np.int64]]:
    """Points (n, 3) in the world and triangles (m, 3) of all letters at the first frame."""
    points, triangles = body_points(form, title.matrix[0], title.poses_at(0), bodies)
    if not len(points):
        raise CannotPlace("this thing has no body that could cast a shadow; type some words first")
    return points, triangles


def _vector(v: Floats) -> Vector:
    x, y, z = np.clip(v, -1e4, 1e4).round(4).tolist()
    return Vector(x=x, y=y, z=z)
