"""Sets of letters: some of them, chosen by a rule, with a finish and movement of their own."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .finish import Finish
from .ground import Colour, Section, Turn, Vector, choice, colour, number, part, switch, text
from .plain_text import Line
from .timing import Timing


class LetterSet(Section):
    """Letters chosen by a rule; each moves about its own hinge."""

    rule: Literal["every", "range", "word", "by hand", "seed"] = choice(
        "every",
        label="which",
        tells="Every so many letters, a range, whole words, letters named by hand, or a share drawn by a "
        "seed.",
    )
    step: int = Field(
        2,
        ge=1,
        le=600,
        title="every",
        description="1 is every letter, 2 every second one.",
        json_schema_extra={"keyable": False, "unit": "letters", "step": 1, "when": "rule=every"},
    )
    first: int = Field(
        0,
        ge=0,
        le=600,
        title="first",
        description="The first letter or word, from 0.",
        json_schema_extra={"keyable": False, "unit": "", "step": 1, "when": "rule=every,range,word"},
    )
    last: int = Field(
        0,
        ge=0,
        le=600,
        title="last",
        description="The last letter or word.",
        json_schema_extra={"keyable": False, "unit": "", "step": 1, "when": "rule=range,word"},
    )
    chosen: Line = text(
        "0",
        label="letters",
        tells="Numbers of the letters, from 0, with spaces between.",
        when="rule=by hand",
    )
    share: float = number(
        0.5,
        0,
        1,
        label="share",
        step=0.01,
        keyable=False,
        tells="How many of the letters are drawn.",
        when="rule=seed",
    )
    seed: int = Field(
        1,
        ge=0,
        le=100_000,
        title="seed",
        description="Another number draws other letters.",
        json_schema_extra={"keyable": False, "unit": "", "step": 1, "when": "rule=seed"},
    )
    hinge: Literal["left", "right", "top", "bottom", "middle", "baseline", "word", "line", "title"] = choice(
        "left",
        label="hinge",
        tells="The side of each letter about which it turns, its baseline, or the middle of its word, its "
        "line or the "
        "whole title.",
    )
    move: Vector = Field(default_factory=Vector, title="move")
    turn: Turn = Field(default_factory=Turn, title="turn")
    scale: float = number(
        1.0,
        0,
        50,
        label="scale",
        unit="×",
        step=0.005,
        tells="Enlarges each of them; at 0 they are not there.",
    )
    stretch: float = number(
        1.0, 0.05, 20, label="stretch", unit="×", step=0.005, tells="Widens or narrows each of them."
    )
    depth: float = number(
        1.0, 0, 50, label="depth", unit="×", step=0.005, tells="How deep each of them is; at 0 flat."
    )
    edges: float = number(
        1.0,
        0,
        4,
        label="edges",
        unit="×",
        step=0.01,
        tells="How far the edges of each of them reach and rise, as a multiple of the body's; 0 is sharp.",
    )
    axis: Line = text(
        "",
        label="axis",
        tells="The tag of an axis of a variable typeface, such as wght or wdth; letters keep their places.",
        longest=4,
    )
    axis_by: float = number(
        0.0,
        -2000,
        2000,
        label="moved along it",
        step=1,
        tells="How far each of them is moved along the axis, from where the title stands on it.",
    )
    shear: float = number(
        0.0, -75, 75, label="shear", unit="°", step=0.25, tells="Leans each of them without turning it."
    )
    opacity: float = number(
        1.0,
        0,
        1,
        label="opacity",
        step=0.005,
        tells="How much of each of them is there; 0 lets all light through.",
    )
    glow: float = number(
        0.0,
        0,
        1000,
        label="glow",
        step=0.02,
        tells="Light that each of them sends by itself, in the colour in which its finish glows.",
    )
    tint: Colour = colour(1, 1, 1, label="tint", tells="Colours each of them; white leaves them as they are.")
    roughness: float = number(
        0.0,
        -1,
        1,
        label="roughness added",
        step=0.005,
        tells="Makes each of them duller, or clearer below 0.",
    )
    scatter: Vector = Field(
        default_factory=Vector,
        title="scatter",
        description="How far each is moved, one way or the other, by chance.",
    )
    spin: Turn = Field(
        default_factory=Turn,
        title="scatter turn",
        description="How far each is turned, one way or the other, by chance.",
    )
    scatter_seed: int = Field(
        1,
        ge=0,
        le=100_000,
        title="seed of the scatter",
        description="Another number scatters them otherwise.",
        json_schema_extra={"keyable": False, "unit": "", "step": 1},
    )
    timing: Timing = Field(default_factory=Timing, title="when each begins")
    own_finish: bool = switch(False, label="own finish", tells="Gives these letters a surface of their own.")
    finish: Finish = part(Finish, when="own_finish=true")
