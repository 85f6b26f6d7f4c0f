"""What there is to choose from, and what every value means."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from fastapi import APIRouter, Query
from pydantic import BaseModel

from ..core.document import Finish, describe, fresh
from ..core.finish import PRESETS
from ..core.lettering import Typeface, typefaces
from ..core.light import STUDIOS
from ..core.optics import SHOULDER_START
from ..core.proof import guides
from ..core.render import QUALITIES
from .problems import PROBLEMS

router = APIRouter(tags=["vocabulary"], responses=PROBLEMS)


class AxisChoice(BaseModel):
    tag: str
    label: str
    low: float
    default: float
    high: float


class TypefaceChoice(BaseModel):
    name: str
    label: str
    kind: str
    axes: list[AxisChoice]
    brought: bool


class QualityChoice(BaseModel):
    name: str
    samples: int


class FormatChoice(BaseModel):
    label: str
    width: int
    height: int


class FrameRate(BaseModel):
    num: int
    den: int


class GuideInfo(BaseModel):
    """Lines to compose by: boxes (left, top, width, height) and lines (from, to), shares of the picture."""

    name: str
    tells: str
    boxes: list[tuple[float, float, float, float]]
    lines: list[tuple[float, float, float, float]]


class ValueInfo(BaseModel):
    """One value of a document: its ``pointer`` below the thing it belongs to, the ``group`` it is shown in,
    and all that an interface needs to show it. ``needs`` are conditions, by pointer below the thing, under
    which it means anything; ``units`` says which unit goes with which choice of another value beside it; of a
    list, ``item`` is the kind of its items and ``most`` how many there may be; ``thing``: it names another
    thing, one with a place or a body."""

    pointer: str
    kind: Literal["number", "colour", "choice", "switch", "text", "list"]
    group: str
    label: str
    tells: str
    keyable: bool = False
    default: Any = None
    unit: str = ""
    step: float = 0.01
    low: float = 0.0
    high: float = 0.0
    choices: list[str] = []
    needs: list[str] = []
    units: dict[str, dict[str, str]] = {}
    item: str = ""
    thing: str = ""
    most: int = 8


class Vocabulary(BaseModel):
    """Values by kind of thing, and the lists to choose from."""

    values: dict[str, list[ValueInfo]]
    fresh: dict[str, dict[str, Any]]
    typefaces: list[TypefaceChoice]
    finishes: dict[str, Finish]
    studios: list[str]
    qualities: list[QualityChoice]
    formats: list[FormatChoice]
    rates: list[FrameRate]
    shoulder_start: float


FORMATS = [
    ("16:9", 1920, 1080),
    ("9:16", 1080, 1920),
    ("1:1", 1080, 1080),
    ("4:5", 1080, 1350),
    ("2.39:1", 2048, 858),
]
RATES = [(24000, 1001), (24, 1), (25, 1), (30000, 1001), (30, 1), (50, 1), (60000, 1001), (60, 1)]


def typeface_choice(face: Typeface) -> TypefaceChoice:
    axes = [
        AxisChoice(tag=a.tag, label=a.label, low=a.low, default=a.default, high=a.high) for a in face.axes
    ]
    return TypefaceChoice(name=face.name, label=face.label, kind=face.kind, axes=axes, brought=face.brought)


@router.get("/vocabulary")
def vocabulary() -> Vocabulary:
    """Labels, units, limits and choices."""
    return Vocabulary(
        values={
            kind: [ValueInfo.model_validate(value) for value in values] for kind, values in describe().items()
        },
        fresh=fresh(),
        typefaces=[typeface_choice(face) for face in typefaces()],
        finishes=PRESETS,
        studios=list(STUDIOS),
        qualities=[QualityChoice(name=name, samples=q.samples) for name, q in QUALITIES.items()],
        formats=[FormatChoice(label=label, width=w, height=h) for label, w, h in FORMATS],
        rates=[FrameRate(num=num, den=den) for num, den in RATES],
        shoulder_start=SHOULDER_START,
    )


@router.get("/guides")
def read_guides(
    width: Annotated[int, Query(ge=16, le=8192)], height: Annotated[int, Query(ge=16, le=8192)]
) -> list[GuideInfo]:
    """Safe areas, the middle, thirds and other formats within a picture of a size."""
    return [
        GuideInfo(name=one.name, tells=one.tells, boxes=list(one.boxes), lines=list(one.lines))
        for one in guides(width / height)
    ]
