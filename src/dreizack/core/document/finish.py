"""The surface of things."""

from __future__ import annotations

from .ground import Colour, Section, colour, number


class Finish(Section):
    """The surface, in the open physically based terms (glTF 2.0 metallic-roughness)."""

    base_colour: Colour = colour(
        0.78, 0.57, 0.24, label="base colour", tells="The colour of the material itself; of metal, what it mirrors."
    )
    metallic: float = number(1.0, 0, 1, label="metallic", step=0.005, tells="0 is paint, 1 is bare metal.")
    roughness: float = number(0.28, 0, 1, label="roughness", step=0.005, tells="0 mirrors sharply, 1 is matte.")
