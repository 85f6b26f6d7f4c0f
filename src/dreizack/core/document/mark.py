"""A mark: a drawn or imported outline with a body."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, field_validator, model_validator

from .bodied import BodiedSection
from .body import Body, Deformation, Outlines, Shell, Wire
from .copies import Copies
from .finish import Finish
from .ground import Section, number
from .path_data import check_path, plain_path
from .place import Place
from .plain_text import Line
from .reveal import Reveal
from .sets import LetterSet
from .setting import Pose, PoseName
from .span import Span, span
from .visibility import Visibility

MAX_PIECES = 400
MAX_PATH = 400_000
MAX_DRAWING = 2_000_000


class Piece(Section):
    """One outline of a mark, which counts as a letter.

    ``path`` is SVG path data (SVG 2, chapter 9) with y up, in units of the mark's height, its foot at 0
    and its middle at x = 0; areas are where the path winds around. ``finish`` counts from 0.
    """

    name: Line = Field("", max_length=80)
    path: str = Field("M-0.5 0L0.5 0L0.5 1L-0.5 1Z", max_length=MAX_PATH)
    finish: int = Field(0, ge=0, le=31)

    @field_validator("path")
    @classmethod
    def readable(cls, path: str) -> str:
        check_path(path, "the outline")
        return plain_path(path)


class Mark(BodiedSection):
    """A drawn or imported outline with a body."""

    kind: Literal["mark"] = "mark"
    name: Line = Field("Mark", min_length=1, max_length=120)
    size: float = number(0.5, 0.005, 100, label="height", unit="m", tells="Height of the whole mark.")
    pieces: list[Piece] = Field(default_factory=lambda: [Piece()], max_length=MAX_PIECES)
    poses: dict[PoseName, Pose] = Field(default_factory=dict, max_length=MAX_PIECES)
    outlines: Outlines = Field(default_factory=Outlines, title="outline")
    body: Body = Field(default_factory=Body)
    shells: list[Shell] = Field(
        default_factory=list, max_length=6, title="shells", description="Further bodies around each piece."
    )
    wire: Wire = Field(default_factory=Wire, title="wire")
    deformations: list[Deformation] = Field(
        default_factory=list,
        max_length=8,
        title="deformation",
        description="What bends, twists, tapers or bulges the mark, one after the other.",
    )
    sets: list[LetterSet] = Field(
        default_factory=list,
        max_length=12,
        title="sets",
        description="Pieces with a finish and movement of their own.",
    )
    finishes: list[Finish] = Field(
        default_factory=lambda: [Finish()],
        min_length=1,
        max_length=32,
        title="finishes",
        description="The finishes its pieces wear.",
    )
    place: Place = Field(default_factory=Place)
    span: Span = span()
    reveal: Reveal = Field(default_factory=Reveal, title="reveal")
    copies: Copies = Field(default_factory=Copies, title="copies")
    visibility: Visibility = Field(default_factory=Visibility)

    @model_validator(mode="after")
    def coherent(self) -> Mark:
        if sum(len(piece.path) for piece in self.pieces) > MAX_DRAWING:
            raise ValueError("the drawing has too many points to live in a shot; simplify it")
        if any(piece.finish >= len(self.finishes) for piece in self.pieces):
            raise ValueError("a piece names a finish that the mark does not have")
        return self

    @property
    def welds(self) -> bool:
        """Whether outlines that touch are one body."""
        return self.outlines.weld

    @property
    def extent(self) -> float:
        return self.size

    @property
    def own_finishes(self) -> list[str]:
        return [f"/finishes/{i}" for i in range(len(self.finishes))]
