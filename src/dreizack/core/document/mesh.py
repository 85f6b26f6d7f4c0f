"""A mesh: an imported 3D object."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .bodied import BodiedSection
from .copies import Copies
from .finish import Finish
from .ground import choice, number, switch
from .place import Place
from .plain_text import Line
from .reveal import Reveal
from .span import Span, span
from .visibility import Visibility

UNITS = {"mm": 0.001, "cm": 0.01, "m": 1.0, "in": 0.0254}


class Mesh(BodiedSection):
    """An imported 3D object; its file lies in the library under ``file``.

    ``finishes`` are those of its parts, by material, in the order of the file.
    """

    kind: Literal["mesh"] = "mesh"
    name: Line = Field("Mesh", min_length=1, max_length=120)
    file: Line = Field("", max_length=90)
    unit: Literal["mm", "cm", "m", "in"] = choice("m", label="unit", tells="What a unit of the file is.")
    up: Literal["y", "z", "x"] = choice("y", label="up", tells="Which axis of the file points upward.")
    centred: bool = switch(
        True, label="centred", tells="Puts its middle at its place, its foot on the ground of the title."
    )
    fitted: float = number(
        0.0,
        0,
        500,
        label="scaled to",
        unit="m",
        step=0.005,
        tells="Longest side after scaling; 0 keeps the size of the file.",
    )
    part_names: list[Line] = Field(default_factory=list, max_length=32)
    finishes: list[Finish] = Field(
        default_factory=lambda: [Finish()],
        min_length=1,
        max_length=32,
        title="finishes",
        description="The finishes of its parts.",
    )
    place: Place = Field(default_factory=Place)
    span: Span = span()
    reveal: Reveal = Field(default_factory=Reveal, title="reveal")
    copies: Copies = Field(default_factory=Copies, title="copies")
    visibility: Visibility = Field(default_factory=Visibility)

    @property
    def own_finishes(self) -> list[str]:
        return [f"/finishes/{i}" for i in range(len(self.finishes))]
