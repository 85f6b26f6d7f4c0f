"""How words are set: typeface, size, spacing, and what single letters and ranges do differently."""

from __future__ import annotations

import re
from typing import Annotated, Literal

from pydantic import Field, StringConstraints, field_validator, model_validator

from .finish import Finish
from .ground import Section, Turn, Vector, choice, number, part, switch, text
from .path_data import check_path, plain_path
from .plain_text import Line

MAX_WORDS = 600
FEATURE = re.compile(r"[-+]?[A-Za-z0-9]{4}(=\d{1,3})?")
AxisTag = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9 ]{4}$")]
GapName = Annotated[str, StringConstraints(pattern=r"^[0-9]{1,3}$")]
PoseName = Annotated[str, StringConstraints(pattern=r"^(letter|word|line)-[0-9]{1,3}$")]


class Axis(Section):
    """The place on one axis of a variable typeface (OpenType fvar)."""

    value: float = number(
        0.0, -32768, 32767, label="axis", step=1, tells="Moves the letters along this axis of the typeface."
    )


class Gap(Section):
    """Room between two letters, by hand."""

    value: float = number(
        0.0,
        -1000,
        2000,
        label="kerning",
        unit="‰ em",
        step=1,
        tells="Moves these two letters apart or together.",
    )


class Pose(Section):
    """What one letter, word or line does by itself, about its own middle."""

    move: Vector = Field(default_factory=Vector, title="move")
    turn: Turn = Field(default_factory=Turn, title="turn")
    scale: float = number(
        1.0,
        0,
        50,
        label="scale",
        unit="×",
        step=0.005,
        tells="Enlarges it, depth and all; at 0 it is not there.",
    )
    stretch: float = number(
        1.0, 0.05, 20, label="stretch", unit="×", step=0.005, tells="Widens or narrows it."
    )
    shear: float = number(
        0.0, -75, 75, label="shear", unit="°", step=0.25, tells="Leans it without turning it."
    )


class Setting(Section):
    """How the words are set."""

    typeface: Line = Field(
        "anton",
        min_length=1,
        max_length=80,
        title="typeface",
        description="The family the letters are drawn from.",
        json_schema_extra={"keyable": False},
    )
    axes: dict[AxisTag, Axis] = Field(default_factory=dict, max_length=16)
    size: float = number(0.5, 0.01, 50, label="cap height", unit="m", tells="Height of a capital letter.")
    tracking: float = number(
        20, -300, 2000, label="tracking", unit="‰ em", step=1, tells="Room added between all letters."
    )
    leading: float = number(
        1.45, 0.2, 6, label="leading", unit="× cap", tells="Distance from baseline to baseline."
    )
    align: Literal["left", "centre", "right"] = choice(
        "centre", label="alignment", tells="Which side the lines share."
    )
    optical: bool = switch(
        False,
        label="optical",
        tells="Aligns lines by the ink of their first and last letters, not by the room the typeface gives "
        "them.",
    )
    kerning: bool = switch(
        True, label="pair kerning", tells="Uses the kerning that the typeface has for pairs of letters."
    )
    case: Literal["as typed", "upper", "lower", "small caps"] = choice(
        "as typed",
        label="case",
        tells="Sets the words in capitals, small letters or small capitals without typing them anew.",
    )
    features: Line = text(
        "",
        label="features",
        tells="OpenType features by tag: ss01 switches on, -liga off, cv02=3 chooses an alternate.",
    )
    gaps: dict[GapName, Gap] = Field(default_factory=dict, max_length=MAX_WORDS)
    poses: dict[PoseName, Pose] = Field(default_factory=dict, max_length=MAX_WORDS)

    @model_validator(mode="after")
    def readable(self) -> Setting:
        for word in self.features.split():
            if not FEATURE.fullmatch(word):
                raise ValueError(
                    f"'{word[:20]}' is no OpenType feature; write tags of four characters like ss01, -liga "
                    "or cv02=3"
                )
        return self


class Range(Section):
    """Characters of a title that are set differently, from ``start`` up to but not including ``end``."""

    start: int = Field(0, ge=0, le=MAX_WORDS)
    end: int = Field(1, ge=0, le=MAX_WORDS)
    typeface: Line = Field(
        "",
        max_length=80,
        title="typeface",
        description="Empty: that of the title.",
        json_schema_extra={"keyable": False},
    )
    size: float = number(
        1.0, 0.05, 20, label="size", unit="×", step=0.005, tells="Size as a multiple of the title's."
    )
    tracking: float = number(
        0.0, -300, 2000, label="tracking", unit="‰ em", step=1, tells="Room added to that of the title."
    )
    lift: float = number(
        0.0, -5, 5, label="lift", unit="× cap", step=0.005, tells="Raises it above the baseline."
    )
    own_finish: bool = switch(False, label="own finish", tells="Gives these letters a surface of their own.")
    finish: Finish = part(Finish, when="own_finish=true")


class Path(Section):
    """The line the words run along.

    ``upright``: the line lies in the plane of the words and letters stand on it. ``lying``: the same,
    laid on the floor. ``bulging``: the line lies on the floor and the letters stand up from it, so
    that the words bulge towards the camera (or away, with a negative radius).
    """

    kind: Literal["none", "arc", "drawn"] = choice(
        "none", label="line", tells="What the words run along: a straight line, an arc, or a line you draw."
    )
    stance: Literal["upright", "lying", "bulging"] = choice(
        "upright",
        label="stance",
        tells="Standing on the line, laid on the floor with it, or bulging towards the camera.",
        when="kind=arc,drawn",
    )
    facing: Literal["outward", "camera", "parallel"] = choice(
        "outward",
        label="facing",
        tells="Where each letter of bulging words faces: outward from the line, at the camera, or all one "
        "way.",
        when="stance=bulging",
    )
    radius: float = number(
        1.5,
        -500,
        500,
        label="radius",
        unit="m",
        step=0.01,
        tells="Radius of the arc; negative curves the other way.",
        when="kind=arc",
    )
    sweep: float = number(
        0.0,
        0,
        720,
        label="sweep",
        unit="°",
        step=0.5,
        tells="Spreads the words over this angle of the arc; 0 keeps their own spacing.",
        when="kind=arc",
    )
    offset: float = number(
        0.0,
        -500,
        500,
        label="offset",
        unit="m",
        step=0.005,
        tells="Moves the words along the line.",
        when="kind=arc,drawn",
    )
    drawn: str = text(
        "M-1 0C-0.5 0.4 0.5 0.4 1 0",
        label="drawn",
        tells="The drawn line in metres, as SVG path data.",
        longest=8000,
        when="kind=drawn",
    )

    @field_validator("drawn")
    @classmethod
    def readable(cls, drawn: str) -> str:
        check_path(drawn, "the drawn line")
        return plain_path(drawn)
