"""A shot over all its frames, as arrays."""

from .bake import bake
from .baked import Baked, BakedBody, BakedLight
from .places import place_matrix
from .window import window

__all__ = ["Baked", "BakedBody", "BakedLight", "bake", "place_matrix", "window"]
