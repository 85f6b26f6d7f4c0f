"""A sheet: a flat picture or colour standing in space."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .bodied import BodiedSection
from .copies import Copies
from .finish import Finish
from .ground import Colour, Section, choice, colour, number, text
from .place import Place
from .plain_text import Line
from .reveal import Reveal
from .span import Span, span
from .visibility import Visibility


class Fill(Section):
    """What is on a sheet."""

    kind: Literal["colour", "linear", "radial", "picture"] = choice(
        "colour",
        label="filled with",
        tells="One colour, a gradient along a line or out from the middle, or a picture.",
    )
    second: Colour = colour(
        0.05,
        0.09,
        0.12,
        label="second colour",
        tells="The colour a gradient runs to from the base colour.",
        when="kind=linear,radial",
    )
    angle: float = number(
        90.0,
        -360,
        360,
        label="angle",
        unit="°",
        step=0.5,
        keyable=False,
        tells="Direction of a gradient.",
        when="kind=linear",
    )
    middle: float = number(
        0.5,
        0.01,
        0.99,
        label="middle",
        step=0.005,
        keyable=False,
        tells="Where both colours are mixed evenly.",
        when="kind=linear,radial",
    )
    picture: Line = text("", label="picture", tells="The picture on the sheet.", when="kind=picture")


class Sheet(BodiedSection):
    """A flat surface; letters of a title can be cut out of it."""

    kind: Literal["sheet"] = "sheet"
    name: Line = Field("Sheet", min_length=1, max_length=120)
    fit: Literal["own size", "fill the frame"] = choice(
        "own size",
        label="fit",
        tells="Keeps its own size, or grows to fill the camera's frame where it stands.",
    )
    width: float = number(
        3.0, 0.01, 500, label="width", unit="m", tells="Width of the sheet.", when="fit=own size"
    )
    height: float = number(
        1.7, 0.01, 500, label="height", unit="m", tells="Height of the sheet.", when="fit=own size"
    )
    thickness: float = number(
        0.004,
        0.0005,
        5,
        label="thickness",
        unit="m",
        step=0.0005,
        tells="How thick the sheet is: paper, card or slab.",
    )
    corner: float = number(
        0.0, 0, 50, label="corner radius", unit="m", step=0.002, tells="Rounds the corners."
    )
    cut: Line = text(
        "", label="cut out", tells="The title whose letters are cut out of the sheet.", longest=40
    )
    gap: float = number(
        0.0,
        0,
        1,
        label="gap",
        unit="m",
        step=0.0005,
        tells="How much wider the openings are than the letters.",
    )
    fill: Fill = Field(default_factory=Fill)
    finish: Finish = Field(
        default_factory=lambda: Finish(base_colour=Colour(r=0.62, g=0.6, b=0.55), metallic=0, roughness=0.8)
    )
    place: Place = Field(default_factory=Place)
    span: Span = span()
    reveal: Reveal = Field(default_factory=Reveal, title="reveal")
    copies: Copies = Field(default_factory=Copies, title="copies")
    visibility: Visibility = Field(default_factory=Visibility)

    @property
    def extent(self) -> float:
        return min(self.width, self.height)

    @property
    def goes_by(self) -> str:
        return self.cut
