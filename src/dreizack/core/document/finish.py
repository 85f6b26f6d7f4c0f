"""The surface of things."""

from __future__ import annotations

from .ground import Colour, Section, colour, number


class Finish(Section):
    """The surface, in the open physically based terms (glTF 2.0 metallic-roughness, with the terms of its
    extensions KHR_materials_ior, _clearcoat, _sheen and _anisotropy).
    """

    base_colour: Colour = colour(
        0.78, 0.57, 0.24, label="base colour", tells="The colour of the material itself; of metal, what it mirrors."
    )
    metallic: float = number(1.0, 0, 1, label="metallic", step=0.005, tells="0 is paint, 1 is bare metal.")
    roughness: float = number(0.28, 0, 1, label="roughness", step=0.005, tells="0 mirrors sharply, 1 is matte.")
    ior: float = number(
        1.5, 1.0, 3.0, label="index of refraction", step=0.005,
        tells="How strongly what is no metal mirrors, seen straight on: 1.33 is water, 1.5 lacquer, 2.4 diamond.",
    )
    anisotropy: float = number(0.0, 0, 1, label="brushed", step=0.005, tells="Draws highlights out, as on metal brushed along the outline.")
    clearcoat: float = number(0.0, 0, 1, label="clearcoat", step=0.005, tells="A layer of clear lacquer on top, which mirrors by itself.")
    clearcoat_roughness: float = number(0.1, 0, 1, label="clearcoat roughness", step=0.005, tells="How dull that layer is.")
    sheen: float = number(0.0, 0, 1, label="sheen", step=0.005, tells="The bright rim of cloth, velvet and dust, seen from the side.")
