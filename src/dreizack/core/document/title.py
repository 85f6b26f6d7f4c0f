"""A title: words with a body, a finish and a place."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .bodied import BodiedSection
from .body import Body, Deformation, Outlines, Shell, Wire
from .copies import Copies
from .finish import Finish
from .joining import joins
from .place import Place
from .plain_text import Line, Lines
from .reveal import Reveal
from .sets import LetterSet
from .setting import MAX_WORDS, Path, Range, Setting
from .span import Span, span
from .telling import Telling
from .visibility import Visibility


class Title(BodiedSection):
    """Words with a body; ``look`` is the name of the look it wears, if any."""

    kind: Literal["title"] = "title"
    look: Line = Field("", max_length=60)
    name: Line = Field("Title", min_length=1, max_length=120)
    words: Lines = Field("TITLE", max_length=MAX_WORDS)
    telling: Telling = Field(default_factory=Telling, title="words over time")
    setting: Setting = Field(default_factory=Setting)
    ranges: list[Range] = Field(
        default_factory=list,
        max_length=24,
        title="ranges",
        description="Characters that are set differently.",
    )
    path: Path = Field(default_factory=Path, title="line of the words")
    outlines: Outlines = Field(default_factory=Outlines, title="outline")
    body: Body = Field(default_factory=Body)
    shells: list[Shell] = Field(
        default_factory=list, max_length=6, title="shells", description="Further bodies around each letter."
    )
    wire: Wire = Field(default_factory=Wire, title="wire")
    deformations: list[Deformation] = Field(
        default_factory=list,
        max_length=8,
        title="deformation",
        description="What bends, twists, tapers or bulges the letters, one after the other.",
    )
    sets: list[LetterSet] = Field(
        default_factory=list,
        max_length=12,
        title="sets",
        description="Letters with a finish and movement of their own.",
    )
    finish: Finish = Field(default_factory=Finish)
    place: Place = Field(default_factory=Place)
    span: Span = span()
    reveal: Reveal = Field(default_factory=Reveal, title="reveal")
    copies: Copies = Field(default_factory=Copies, title="copies")
    visibility: Visibility = Field(default_factory=Visibility)

    @property
    def welds(self) -> bool:
        """Whether letters that touch are one body: where that is wished, and where they are written so."""
        return self.outlines.weld or joins(self.words)

    @property
    def extent(self) -> float:
        return self.setting.size

    @property
    def own_finishes(self) -> list[str]:
        sections = enumerate(self.ranges)
        return ["/finish", *(f"/ranges/{i}/finish" for i, section in sections if section.own_finish)]
