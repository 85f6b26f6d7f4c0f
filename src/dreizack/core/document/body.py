"""Bodies: outlines grown, hollowed and welded, depth, edges, shells and deformation."""

from __future__ import annotations

import itertools
from typing import Annotated, Literal

from pydantic import Field, field_validator

from .finish import Finish
from .ground import Section, choice, number, part, switch

Share = Annotated[float, Field(ge=0, le=1)]


class Edge(Section):
    """The profile that joins face (or back) and wall.

    ``drawn`` holds the drawn profile: pairs (across, up) from the wall (0, 0) to the face (1, 1),
    neither ever running back.
    """

    profile: Literal["none", "chamfer", "roundover", "cove", "ogee", "step", "drawn"] = choice(
        "roundover", label="profile", tells="The shape of the edge, from the wall to the face."
    )
    reach: float = number(
        0.018,
        0,
        5,
        label="reach",
        unit="m",
        step=0.0005,
        tells="How far the edge reaches into the face.",
        when="profile!=none",
    )
    rise: float = number(
        0.018,
        0,
        5,
        label="rise",
        unit="m",
        step=0.0005,
        tells="How far the edge reaches down the wall.",
        when="profile!=none",
    )
    counter: float = number(
        1.0,
        0,
        4,
        label="counter reach",
        unit="× reach",
        step=0.005,
        tells="Reach around the holes of letters; below 1 keeps them open.",
        when="profile!=none",
    )
    drawn: list[tuple[Share, Share]] = Field(
        default=[(0.0, 0.0), (0.15, 0.5), (0.5, 0.6), (0.7, 0.95), (1.0, 1.0)], min_length=2, max_length=32
    )

    @field_validator("drawn")
    @classmethod
    def rising(cls, drawn: list[tuple[float, float]]) -> list[tuple[float, float]]:
        if drawn[0] != (0, 0) or drawn[-1] != (1, 1):
            raise ValueError("a drawn profile begins at the wall (0, 0) and ends at the face (1, 1)")
        if any(b[0] < a[0] or b[1] < a[1] or a == b for a, b in itertools.pairwise(drawn)):
            raise ValueError("a drawn profile runs inward and upward, never back")
        return drawn


class Outlines(Section):
    """What happens to the outlines before they get a body."""

    spread: float = number(
        0.0, -1, 1, label="spread", unit="m", step=0.0005, tells="Grows the letters, or shrinks them below 0."
    )
    join: Literal["mitre", "round", "bevel"] = choice(
        "mitre", label="join", tells="How corners grow: pointed, round, or cut off."
    )
    hollow: bool = switch(False, label="hollow", tells="Keeps only a line along the outline.")
    width: float = number(
        0.02,
        0.001,
        1,
        label="line width",
        unit="m",
        step=0.0005,
        tells="Width of the line that is kept.",
        when="hollow=true",
    )
    side: Literal["inside", "centre", "outside"] = choice(
        "inside", label="line side", tells="On which side of the outline the line lies.", when="hollow=true"
    )
    weld: bool = switch(
        False,
        label="weld",
        tells="Joins letters that touch into one body, as scripts that are written joined always are.",
    )


class Body(Section):
    """Depth and edges."""

    depth: float = number(
        0.18, 0.001, 50, label="depth", unit="m", step=0.002, tells="How thick the letters are."
    )
    direction: Literal["both", "forward", "back"] = choice(
        "both", label="direction", tells="Which way the depth grows from the plane the words stand in."
    )
    tolerance: float = number(
        0.3,
        0.05,
        4,
        label="curve tolerance",
        unit="px",
        step=0.01,
        keyable=False,
        tells="How far curves may stray, in pixels of the final picture where the camera comes closest.",
    )
    front: Edge = Field(default_factory=Edge, title="front edge")
    back: Edge = Field(default_factory=Edge, title="back edge")


class Shell(Section):
    """A further body around each letter."""

    offset: float = number(
        0.03,
        -1,
        1,
        label="offset",
        unit="m",
        step=0.0005,
        tells="How far its outline stands out from the letter's.",
    )
    depth: float = number(
        0.06, 0.001, 50, label="depth", unit="m", step=0.002, tells="How thick the shell is."
    )
    place: float = number(
        -0.06,
        -50,
        50,
        label="place",
        unit="m",
        step=0.002,
        tells="Middle of its depth, before or behind that of the letter.",
    )
    front: Edge = Field(default_factory=Edge, title="front edge")
    back: Edge = Field(default_factory=Edge, title="back edge")
    finish: Finish = Field(default_factory=Finish)


class Wire(Section):
    """The edges of a body as thin tubes."""

    edges: Literal["none", "between parts", "all"] = choice(
        "none",
        label="wire",
        tells="Which edges are drawn as tubes: those between face, bevel, wall and back, or every sharp one.",
    )
    radius: float = number(
        0.004,
        0.0002,
        1,
        label="radius",
        unit="m",
        step=0.0002,
        tells="How thick the tubes are.",
        when="edges!=none",
    )
    solid: bool = switch(True, label="with the body", tells="Off, only the wire is left.", when="edges!=none")
    finish: Finish = part(Finish, when="edges!=none")


class Deformation(Section):
    """A bend, twist, taper or bulge.

    Along the ``axis``, from ``start`` to ``end`` of the extent of what it is applied to. ``amount`` is
    the angle of a bend or twist over that range, in degrees; for taper and bulge the size at the
    end, and in the middle, is 1 + amount / 100.
    """

    kind: Literal["bend", "twist", "taper", "bulge"] = choice(
        "bend", label="deformation", tells="What is done to the form."
    )
    over: Literal["letter", "word", "line", "title"] = choice(
        "title",
        label="over",
        tells="Whether each letter, word or line is deformed for itself, or the title as a whole.",
    )
    axis: Literal["x", "y", "z"] = choice(
        "x", label="along", tells="The axis along which it changes: x across, y up, z in depth."
    )
    amount: float = number(
        30.0,
        -1080,
        1080,
        label="amount",
        unit="° or %",
        step=0.5,
        tells="Angle of a bend or twist; percent for taper and bulge.",
    )
    direction: float = number(
        0.0,
        -360,
        360,
        label="towards",
        unit="°",
        step=0.5,
        tells="Which way a bend goes, turned about the axis: 0 bends back from the viewer.",
    )
    start: float = number(0.0, 0, 1, label="from", step=0.005, tells="Where along the extent it begins.")
    end: float = number(1.0, 0, 1, label="to", step=0.005, tells="Where along the extent it ends.")
