"""The picture bent."""

from __future__ import annotations

from pydantic import Field

from .area import Area
from .ground import Section, number, text
from .plain_text import Line


class Bend(Section):
    """The picture itself is bent, and what moves in it with it."""

    bulge: float = number(
        0.0, -1, 1, label="bulge", step=0.005, tells="Above 0 the middle swells, below 0 it shrinks."
    )
    twirl: float = number(
        0.0, -3600, 3600, label="twirl", unit="°", step=0.5, tells="Turns the middle, the edge stays."
    )
    reach: float = number(
        0.8,
        0.01,
        4,
        label="reach",
        unit="× h",
        step=0.005,
        tells="How far bulge and twirl go from the place.",
    )
    ripple: float = number(
        0.0, 0, 0.5, label="ripples", unit="× h", step=0.0005, tells="How high rings around the place are."
    )
    shimmer: float = number(
        0.0, 0, 0.2, label="shimmer", unit="× h", step=0.0002, tells="Trembles as air does over heat."
    )
    finest: float = number(
        0.08, 0.004, 4, label="waves", unit="× h", step=0.001, tells="Length of ripples and of shimmer."
    )
    flow: float = number(
        0.5, -20, 20, label="flows", unit="/s", step=0.01, tells="How fast ripples and shimmer run.",
        keyable=False,
    )  # fmt: skip
    x: float = number(0.5, -2, 3, label="across", step=0.002, tells="The place, 0 to 1 from the left.")
    y: float = number(0.5, -2, 3, label="down", step=0.002, tells="0 to 1 from the top.")
    broken: float = number(
        0.0,
        0,
        1,
        label="broken lines",
        unit="× h",
        step=0.0005,
        tells="How far strips of the picture jump aside.",
    )
    strip: float = number(
        0.04, 0.002, 1, label="strips", unit="× h", step=0.0005, tells="How wide they are, one with another.",
        when="broken!=0",
    )  # fmt: skip
    torn: float = number(
        0.4,
        0,
        1,
        label="broken share",
        step=0.005,
        tells="How many of them jump: 1 is all.",
        when="broken!=0",
    )
    jumps: float = number(
        12.0, 0, 60, label="jumps", unit="/s", step=0.1, tells="How often they jump anew; 0 holds them.",
        keyable=False, when="broken!=0",
    )  # fmt: skip
    lie: float = number(
        0.0, -3600, 3600, label="strips lie", unit="°", step=0.5, tells="0 across the picture, 90 upright.",
        when="broken!=0",
    )  # fmt: skip
    seed: int = Field(
        1, ge=0, le=100_000, title="strips by",
        description="Another number jumps another way.",
        json_schema_extra={"keyable": False, "unit": "", "step": 1, "when": "broken!=0"},
    )  # fmt: skip
    displaced: float = number(
        0.0, -1, 1, label="by a picture", unit="× h", step=0.0005,
        tells="How far a picture of its own moves what is seen: red to the right, green upward; middle grey "
        "leaves it.",
    )  # fmt: skip
    file: Line = text(
        "",
        label="picture",
        tells="The picture that moves what is seen; it lies over the whole frame.",
        when="displaced!=0",
    )
    area: Area = Field(default_factory=Area, title="area of the bending")
