"""A title: words with a body, a finish and a place."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .ground import Colour, Section, Turn, Vector, choice, colour, number

MAX_WORDS = 600


class Setting(Section):
    """How the words are set."""

    typeface: str = Field(
        "anton", min_length=1, max_length=80, title="typeface",
        description="The family the letters are drawn from.", json_schema_extra={"keyable": False},
    )
    size: float = number(0.5, 0.01, 50, label="cap height", unit="m", tells="Height of a capital letter.")
    tracking: float = number(
        20, -300, 2000, label="tracking", unit="‰ em", step=1, tells="Room added between all letters."
    )
    leading: float = number(1.45, 0.2, 6, label="leading", unit="× cap", tells="Distance from baseline to baseline.")
    align: Literal["left", "centre", "right"] = choice(
        "centre", label="alignment", tells="Which side the lines share."
    )


class Edge(Section):
    """The profile that joins face (or back) and wall."""

    profile: Literal["none", "chamfer", "roundover", "cove", "ogee", "step"] = choice(
        "roundover", label="profile", tells="The shape of the edge, from the wall to the face."
    )
    reach: float = number(
        0.018, 0, 5, label="reach", unit="m", step=0.0005, tells="How far the edge reaches into the face."
    )
    rise: float = number(
        0.018, 0, 5, label="rise", unit="m", step=0.0005, tells="How far the edge reaches down the wall."
    )


class Body(Section):
    """Depth and edges."""

    depth: float = number(0.18, 0.001, 50, label="depth", unit="m", step=0.002, tells="How thick the letters are.")
    direction: Literal["both", "forward", "back"] = choice(
        "both", label="direction", tells="Which way the depth grows from the plane the words stand in."
    )
    front: Edge = Field(default_factory=Edge, title="front edge")
    back: Edge = Field(default_factory=Edge, title="back edge")


class Finish(Section):
    """The surface, in the open physically based terms (glTF 2.0 metallic-roughness)."""

    base_colour: Colour = colour(
        0.78, 0.57, 0.24, label="base colour", tells="The colour of the material itself; of metal, what it mirrors."
    )
    metallic: float = number(1.0, 0, 1, label="metallic", step=0.005, tells="0 is paint, 1 is bare metal.")
    roughness: float = number(0.28, 0, 1, label="roughness", step=0.005, tells="0 mirrors sharply, 1 is matte.")


class Place(Section):
    """Where the title stands and how it is turned."""

    position: Vector = Field(default_factory=Vector, title="position")
    rotation: Turn = Field(default_factory=Turn, title="rotation")
    scale: float = number(1.0, 0.001, 100, label="scale", step=0.005, tells="Enlarges the whole title, depth and all.")


class Title(Section):
    """Words with a body."""

    kind: Literal["title"] = "title"
    name: str = Field("Title", min_length=1, max_length=120)
    words: str = Field("TITLE", max_length=MAX_WORDS)
    setting: Setting = Field(default_factory=Setting)
    body: Body = Field(default_factory=Body)
    finish: Finish = Field(default_factory=Finish)
    place: Place = Field(default_factory=Place)
