"""Painting with light: spots of a picture brighter, darker or warmer, and what lights make them so."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

import numpy as np
from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field

from ..core.colour import LUMINANCE
from ..core.light import paintable, painted_lights, repainted, wanted_light
from ..store import NotThere
from ..store import shots as store
from .problems import PROBLEMS
from .services import Behind

router = APIRouter(tags=["asking"], responses=PROBLEMS)

Level = Annotated[float, Field(ge=0, le=1e6)]
Light = tuple[Level, Level, Level]


class PaintedSpot(BaseModel):
    """A spot as it was measured: what each light brings, all its light; and how many stops brighter and how
    much warmer (-1 to 1) it is to be."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
    shares: dict[str, Light] = Field(max_length=80)
    light: Light
    stops: float = Field(0.0, ge=-8, le=8)
    warmth: float = Field(0.0, ge=-1, le=1)


class PaintWish(BaseModel):
    """Spots at a frame; lights change by ``limit`` stops at most, keep their colour unless ``tints``, and
    those named in ``keep`` stay as they are."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
    frame: int = Field(0, ge=0, le=200_000)
    spots: list[PaintedSpot] = Field(min_length=1, max_length=24)
    limit: float = Field(3.0, gt=0, le=8)
    tints: bool = False
    keep: list[str] = Field(default=[], max_length=80)


class LightChange(BaseModel):
    """What becomes of a light: ``stops`` brighter, and the values that make it so, by pointer."""

    light: str
    label: str
    stops: float
    tinted: bool
    values: dict[str, float]
    choices: dict[str, str]


class Painted(BaseModel):
    """Lights that change, the most first; ``reached`` is by how many stops each spot gets brighter then."""

    changes: list[LightChange]
    reached: list[float]


@router.post("/shots/{shot}/paint")
def paint(behind: Behind, shot: UUID, wish: PaintWish) -> Painted:
    """What lights must become so that spots look as wished; nothing is changed."""
    now = store.read_shot(behind.store, shot).shot
    names = [
        name
        for name in paintable(now)
        if name not in wish.keep and any(name in one.shares for one in wish.spots)
    ]
    if not names:
        raise NotThere("no light that may change reaches these spots: add one, or choose others")
    shares = np.array([[one.shares.get(name, (0, 0, 0)) for name in names] for one in wish.spots], np.float64)
    light = np.array([one.light for one in wish.spots], np.float64)
    rest = np.maximum(light - shares.sum(axis=1), 0)
    stops, warmth = (np.array([getattr(one, part) for one in wish.spots]) for part in ("stops", "warmth"))
    made = repainted(shares, rest, wanted_light(light, stops, warmth), wish.limit, wish.tints)
    changes = painted_lights(now, min(wish.frame, now.format.frames - 1), names, made.factors)
    reached = np.log2(np.maximum(made.light @ LUMINANCE, 1e-9) / np.maximum(light @ LUMINANCE, 1e-9))
    labels = {name: thing.name for name, thing in now.things.items()} | {"surroundings": "Surroundings"}
    return Painted(
        changes=[
            LightChange(
                light=one.light,
                label=labels[one.light],
                stops=round(one.stops, 3),
                tinted=one.tinted,
                values=one.values,
                choices=one.choices,
            )
            for one in sorted(changes, key=lambda one: -abs(one.stops))
        ],
        reached=[round(float(value), 3) for value in reached],
    )
