"""Finishes: the surfaces titles are made of."""

from .fills import fill_picture
from .metals import METALS, metal_colour
from .presets import PRESETS
from .terms import LAYERS, TERMS, layers

__all__ = ["LAYERS", "METALS", "PRESETS", "TERMS", "fill_picture", "layers", "metal_colour"]
