"""Edits that the core offers whole: whoever asks for them gets the same, and one undo takes them back."""

from __future__ import annotations

from typing import Literal
from uuid import UUID

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict

from ..core.document import Light
from ..core.light import measured_in
from ..store import NotThere
from ..store import shots as store
from .problems import PROBLEMS
from .services import Behind

router = APIRouter(tags=["shots"], responses=PROBLEMS)


class UnitWish(BaseModel):
    """What a light is to be measured in."""

    model_config = ConfigDict(extra="forbid")
    unit: Literal["stops", "candela", "lumen", "lux"]


class Offered(BaseModel):
    """Whether anything changed, and the revision now."""

    changed: bool
    revision: int


@router.post("/shots/{shot}/lights/{light}/unit")
def measure_light(behind: Behind, shot: UUID, light: str, wish: UnitWish) -> Offered:
    """Measure a light in another unit; it stays the light it is, keys and all."""
    if not isinstance(store.read_shot(behind.store, shot).shot.things.get(light), Light):
        raise NotThere("there is no light of this name in the shot")
    changed = store.change_shot(
        behind.store, shot, lambda now: measured_in(now, light, wish.unit) if light in now.lights else []
    )
    behind.posters.stale(shot)
    return Offered(changed=changed, revision=store.read_shot(behind.store, shot).revision)
