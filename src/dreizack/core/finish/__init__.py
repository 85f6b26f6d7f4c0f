"""Finishes: the surfaces titles are made of."""

from .bumps import BUMPS, SPAN, bump_heights
from .fills import fill_picture, library_picture
from .metals import METALS, metal_colour
from .observer import WAVELENGTHS, XYZ_TO_709, observer
from .pictures import gradient_colours, surface_picture
from .presets import PRESETS
from .terms import COLOURS, LAYERS, MASK, TERMS, TEXTURE_TRANSFORM, layers

__all__ = [
    "BUMPS",
    "COLOURS",
    "LAYERS",
    "MASK",
    "METALS",
    "PRESETS",
    "SPAN",
    "TERMS",
    "TEXTURE_TRANSFORM",
    "WAVELENGTHS",
    "XYZ_TO_709",
    "bump_heights",
    "fill_picture",
    "gradient_colours",
    "layers",
    "library_picture",
    "metal_colour",
    "observer",
    "surface_picture",
]
