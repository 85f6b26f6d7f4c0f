"""A shot over all its frames, as arrays."""

from .bake import bake
from .baked import Baked, BakedAir, BakedBody, BakedLight
from .matched import alignment_of, matched_camera, plate_bending, plate_moments
from .places import place_matrix
from .window import window

__all__ = [
    "Baked",
    "BakedAir",
    "BakedBody",
    "BakedLight",
    "alignment_of",
    "bake",
    "matched_camera",
    "place_matrix",
    "plate_bending",
    "plate_moments",
    "window",
]
