"""How much of a long shot is evaluated at once, so that it can be held."""

from __future__ import annotations

from dataclasses import fields
from typing import Any

import numpy as np

from ...document import Mark, Shot, Title, run_of, shot_at, with_copies
from .bake import bake
from .baked import Baked, BakedBody, BakedLight

# What is evaluated at once may take so many bytes.
MOST_BYTES = 96_000_000
# Of a body that changes: its document, and what is noted of it.
FORM_BYTES = 40_000
# Bytes a frame takes at most: of a thing with all its surfaces, and of a letter that moves.
THING_BYTES, LETTER_BYTES = 30_000, 96
# Frames that are looked at to tell what one takes.
PROBES = 8


def window(shot: Shot, around: int, most: int = MOST_BYTES) -> tuple[int, int]:
    """First frame and number of those around a frame that take no more than ``most`` bytes: all of an
    ordinary shot, but no further than to the next change of a choice, switch or text."""
    begin, end = run_of(shot, around) if shot.changes else (0, shot.format.frames)
    first, count = _held(shot_at(shot, around), around, most)
    low = max(first, begin)
    return low, max(1, min(first + count, end) - low)


def _held(shot: Shot, around: int, most: int) -> tuple[int, int]:
    """The same of a shot in which nothing changes."""
    frames, shot = shot.format.frames, with_copies(shot)
    letters = sum(len(thing.words) for thing in shot.bodied.values() if isinstance(thing, Title))
    marks = sum(isinstance(thing, Mark) for thing in shot.bodied.values())
    if frames * (len(shot.things) * THING_BYTES + letters * LETTER_BYTES) <= most and not marks:
        return 0, frames
    # A few frames, also between holds, tell what changes at all.
    each = max(_bytes(bake(shot, np.linspace(0, frames - 1, PROBES))) / PROBES, 1.0)
    count = int(max(2, min(frames, most / each)))
    first = min(max(0, around - count // 2), frames - count) if count < frames else 0
    return first, min(count, frames)


def _bytes(baked: Baked) -> int:
    return (
        _arrays(baked)
        + sum(_arrays(body) + FORM_BYTES * max(0, len(body.forms) - 1) for body in baked.titles.values())
        + sum(_arrays(light) for light in baked.lights.values())
        + sum(values.nbytes for values in baked.channels.values())
    )


def _arrays(whole: Baked | BakedBody | BakedLight) -> int:
    held: list[Any] = [getattr(whole, field.name) for field in fields(whole)]
    return sum(one.nbytes for one in held if isinstance(one, np.ndarray))
