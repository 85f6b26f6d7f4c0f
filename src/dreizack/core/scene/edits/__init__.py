"""Edits of a shot over time that need to know where things stand: offered whole, as patches (RFC 6902)."""

from .covering import follow_patch, outlines_at, with_carried, with_cover, with_patch, with_words_on
from .following import follow_spot
from .hanging import hung_on
from .plate_light import with_shadow, with_sun, with_sun_at, with_surroundings
from .plating import aligned_by, with_plate, with_solve
from .rigging import rigged
from .spans import respanned
from .standing import stood, stood_far, with_box, with_wall

__all__ = [
    "aligned_by",
    "follow_patch",
    "follow_spot",
    "hung_on",
    "outlines_at",
    "respanned",
    "rigged",
    "stood",
    "stood_far",
    "with_box",
    "with_carried",
    "with_cover",
    "with_patch",
    "with_plate",
    "with_shadow",
    "with_solve",
    "with_sun",
    "with_sun_at",
    "with_surroundings",
    "with_wall",
    "with_words_on",
]
