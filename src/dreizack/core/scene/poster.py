"""The picture a shot is known by: which frame, how large, what it is called."""

from __future__ import annotations

from ..document import Shot
from .frame import fingerprint
from .naming import RENDER_VERSION

# Pixels of its longer side, and where in the shot it is taken, from 0 to 1.
POSTER_SIDE = 640
POSTER_AT = 0.62


def poster_frame(shot: Shot) -> int:
    """The frame that is shown."""
    return int(shot.format.frames * POSTER_AT)


def poster_size(shot: Shot) -> tuple[int, int]:
    """Width and height in pixels."""
    aspect = shot.format.aspect
    width, height = min(1.0, aspect) * POSTER_SIDE, min(1.0, 1 / aspect) * POSTER_SIDE
    return max(16, round(width)), max(16, round(height))


def poster_name(shot: Shot) -> str:
    """What it is called: by all that the shot says, and how it is traced. What is as it is by default does
    not count, so that new values change nothing."""
    return fingerprint((RENDER_VERSION, shot.model_dump_json(exclude_defaults=True)))
