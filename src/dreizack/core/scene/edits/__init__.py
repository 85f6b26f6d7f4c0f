"""Edits of a shot over time that need to know where things stand: offered whole, as patches (RFC 6902)."""

from .hanging import hung_on
from .plating import aligned_by, stood, with_box, with_plate, with_shadow, with_solve, with_sun
from .rigging import rigged
from .spans import respanned

__all__ = [
    "aligned_by",
    "hung_on",
    "respanned",
    "rigged",
    "stood",
    "with_box",
    "with_plate",
    "with_shadow",
    "with_solve",
    "with_sun",
]
