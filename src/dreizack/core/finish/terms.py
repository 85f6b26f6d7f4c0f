"""The terms of a surface that are one number or colour each, and which of them the renderer has to count
with."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

TERMS = (
    "metallic",
    "roughness",
    "ior",
    "anisotropy",
    "clearcoat",
    "clearcoat_roughness",
    "sheen",
    "transmission",
    "attenuation_distance",
    "scatter",
    "emission",
    "opacity",
    "bump_depth",
)
COLOURS = ("base_colour", "attenuation_colour", "emission_colour")
# Numbers that say how a picture lies on a surface.
TEXTURE_TRANSFORM = ("size", "shift_x", "shift_y", "angle")
# Terms that do nothing at 0; a surface without them is drawn with less work.
LAYERS = ("anisotropy", "clearcoat", "sheen", "transmission", "emission")
MASK = "opacity"


def layers(terms: NDArray[np.float64]) -> tuple[str, ...]:
    """Which of :data:`LAYERS` surfaces (..., TERMS) ever have, and :data:`MASK` where they are ever
    see-through."""
    flat = terms.reshape(-1, len(TERMS))
    most, least = flat.max(axis=0), flat.min(axis=0)
    found = tuple(name for name in LAYERS if most[TERMS.index(name)] > 0)
    return (*found, MASK) if least[TERMS.index(MASK)] < 1 else found
