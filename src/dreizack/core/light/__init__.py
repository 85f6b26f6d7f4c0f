"""Lights and surroundings: what they send, where, and the lighting a new title arrives in."""

from .around import Around, around_picture, blurred, looked_up
from .arrival import key_fill_rim
from .kelvin import kelvin_tint
from .sky import sun_angles, sun_direction, sun_level
from .sources import SHAPES, cone_cosines, source_matrix, source_radiance
from .studio import STUDIOS, panorama

__all__ = [
    "SHAPES", "STUDIOS", "Around", "around_picture", "blurred", "cone_cosines", "kelvin_tint", "key_fill_rim", "looked_up", "panorama",
    "source_matrix", "source_radiance", "sun_angles", "sun_direction", "sun_level",
]
