"""Edits of a shot over time that need to know where things stand: offered whole, as patches (RFC 6902)."""

from .covering import follow_patch, outlines_at, with_cover, with_patch, with_words_on
from .hanging import hung_on
from .plating import aligned_by, stood, with_box, with_plate, with_shadow, with_solve, with_sun, with_sun_at
from .rigging import rigged
from .spans import respanned

__all__ = [
    "aligned_by",
    "follow_patch",
    "hung_on",
    "outlines_at",
    "respanned",
    "rigged",
    "stood",
    "with_box",
    "with_cover",
    "with_patch",
    "with_plate",
    "with_shadow",
    "with_solve",
    "with_sun",
    "with_sun_at",
    "with_words_on",
]
