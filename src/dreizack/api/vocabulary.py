"""What there is to choose from, and what every value means."""

from __future__ import annotations

from typing import Any

from fastapi import APIRouter
from pydantic import BaseModel

from ..core.document import Finish, describe
from ..core.finish import PRESETS
from ..core.lettering import typefaces
from ..core.light import STUDIOS
from ..core.optics import SHOULDER_START
from ..core.render import QUALITIES

router = APIRouter(tags=["vocabulary"])


class TypefaceChoice(BaseModel):
    name: str
    label: str
    kind: str


class QualityChoice(BaseModel):
    name: str
    samples: int


class FormatChoice(BaseModel):
    label: str
    width: int
    height: int


class Vocabulary(BaseModel):
    """Values by kind of thing, and the lists to choose from."""

    values: dict[str, list[dict[str, Any]]]
    typefaces: list[TypefaceChoice]
    finishes: dict[str, Finish]
    studios: list[str]
    qualities: list[QualityChoice]
    formats: list[FormatChoice]
    rates: list[tuple[int, int]]
    shoulder_start: float


FORMATS = [("16:9", 1920, 1080), ("9:16", 1080, 1920), ("1:1", 1080, 1080), ("4:5", 1080, 1350), ("2.39:1", 2048, 858)]
RATES = [(24000, 1001), (24, 1), (25, 1), (30000, 1001), (30, 1), (50, 1), (60000, 1001), (60, 1)]


@router.get("/vocabulary")
def vocabulary() -> Vocabulary:
    """Labels, units, limits and choices."""
    return Vocabulary(
        values=describe(),
        typefaces=[TypefaceChoice(name=t.name, label=t.label, kind=t.kind) for t in typefaces()],
        finishes=PRESETS, studios=list(STUDIOS),
        qualities=[QualityChoice(name=name, samples=q.samples) for name, q in QUALITIES.items()],
        formats=[FormatChoice(label=label, width=w, height=h) for label, w, h in FORMATS],
        rates=RATES, shoulder_start=SHOULDER_START,
    )
