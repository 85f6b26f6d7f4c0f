"""What letters of a thing look like by themselves, as attributes of the renderer's meshes."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...finish import TERMS
from ...scene import BodyState
from ..kernel.engine import engine
from ..transport.materials import SMOOTHEST, emission
from .meshes import PartMesh

Floats = NDArray[np.float64]

# Attributes of triangles, by what they say of a surface, and how many numbers each has. Between points the
# renderer would interpolate, and in a triangle as thin as a hair find nothing to do it by.
ATTRIBUTES = {
    "base colour": ("face_base_colour", 3),
    "roughness": ("face_roughness", 1),
    "opacity": ("face_opacity", 1),
}
OPACITY, GLOW, ROUGHNESS, TINT = 0, 1, 2, slice(3, 6)


def attribute_values(
    title: BodyState, number: int, mesh: PartMesh, pictured: str
) -> dict[str, NDArray[np.float32]]:
    """Values of :data:`ATTRIBUTES` (n * k,) of the triangles of a mesh that wears a surface.

    What a picture sets (the channel ``pictured``) is changed by the letters' own values alone.
    """
    looks, terms = title.looks, title.terms[number]
    assert looks is not None
    base = np.ones(3) if pictured == "base colour" else title.colours[number, 0]
    rough = looks[:, ROUGHNESS]
    if pictured != "roughness":
        rough = np.clip(rough + terms[TERMS.index("roughness")], SMOOTHEST, 1)
    opacity = looks[:, OPACITY] * (1 if pictured == "opacity" else terms[TERMS.index("opacity")])
    letters = {"base colour": looks[:, TINT] * base, "roughness": rough, "opacity": opacity}
    pieces = mesh.piece[mesh.triangles[:, 0]]
    return {
        name: np.ascontiguousarray(values[pieces], np.float32).ravel() for name, values in letters.items()
    }


def attribute_textures(pictures: dict[str, dict[str, Any]]) -> dict[str, dict[str, Any]]:
    """Textures by the channel they set, that read what letters have by themselves; pictures are changed by
    it."""
    found: dict[str, dict[str, Any]] = {}
    for channel, (name, _) in ATTRIBUTES.items():
        own: dict[str, Any] = {"type": "mesh_attribute", "name": name}
        if channel in pictures:
            own = {
                "type": "by letter",
                "picture": engine().load_dict(pictures[channel]),
                "own": engine().load_dict(own),
                "adds": channel == "roughness",
            }
        found[channel] = own
    return {**pictures, **found}


def letter_glow(title: BodyState, number: int, mesh: PartMesh) -> Floats:
    """Radiance (letters of the mesh, 3) that each of them sends by itself."""
    looks, terms, colours = title.looks, title.terms[number].copy(), title.colours[number]
    assert looks is not None
    terms[TERMS.index("emission")] = 1.0
    own = looks[mesh.letter_pieces]
    strength = own[:, GLOW] + title.terms[number][TERMS.index("emission")]
    radiance: Floats = strength[:, None] * own[:, TINT] * emission(colours, terms)
    return radiance
