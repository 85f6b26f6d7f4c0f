"""A shot over all its frames, as arrays."""

from .bake import bake
from .baked import Baked, BakedLight, BakedTitle
from .places import place_matrix

__all__ = ["Baked", "BakedLight", "BakedTitle", "bake", "place_matrix"]
