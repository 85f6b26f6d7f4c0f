"""Keys and the channels they form."""

from __future__ import annotations

import itertools
from typing import Literal

from pydantic import Field, field_validator

from .ground import Section

MAX_KEYS = 2000


class Ease(Section):
    """How a value travels from one key to the next.

    ``linear``, ``cubic-bezier`` and ``steps`` are those of CSS Easing Functions Level 2: a cubic-bezier runs
    through (0,0), (x1,y1), (x2,y2), (1,1), x within 0..1 so that time never runs backwards; steps make
    ``count`` jumps, ``jump`` says where. ``hold`` keeps the value until the next key. ``smooth`` runs through
    the keys in one curve that never goes beyond them. ``spring`` swings into the next key: ``stiffness`` and
    ``damping`` of a mass of 1, where the way to the next key takes a second. ``bounce`` falls onto the next
    key and comes up again ``count`` times, each time to ``rebound`` of the height before. ``handles`` is a
    cubic Bézier curve in time and value: its handles stand at x1 and x2 of the way in time, ``out`` above the
    value of this key and ``back`` above that of the next, so that a way between equal values may bend, too.
    """

    kind: Literal["linear", "cubic-bezier", "hold", "smooth", "steps", "spring", "bounce", "handles"] = (
        "cubic-bezier"
    )
    x1: float = Field(0.42, ge=0, le=1)
    y1: float = Field(0.0, ge=-4, le=4)
    x2: float = Field(0.58, ge=0, le=1)
    y2: float = Field(1.0, ge=-4, le=4)
    count: int = Field(3, ge=1, le=100)
    jump: Literal["start", "end", "none", "both"] = "end"
    stiffness: float = Field(200.0, ge=1, le=5000)
    damping: float = Field(16.0, ge=0.5, le=500)
    rebound: float = Field(0.25, ge=0, le=0.9)
    out: float = Field(0.0, ge=-1e6, le=1e6)
    back: float = Field(0.0, ge=-1e6, le=1e6)


class Key(Section):
    """A value at a frame; ``ease`` shapes the way to the following key."""

    frame: float = Field(ge=0, le=200_000)
    value: float = Field(ge=-1e6, le=1e6)
    ease: Ease = Field(default_factory=Ease)


class Channel(Section):
    """The keys of one value, in order of frames."""

    keys: list[Key] = Field(min_length=1, max_length=MAX_KEYS)

    @field_validator("keys")
    @classmethod
    def in_order(cls, keys: list[Key]) -> list[Key]:
        frames = [key.frame for key in keys]
        if any(b <= a for a, b in itertools.pairwise(frames)):
            raise ValueError("keys must stand in order of frames, one key a frame")
        return keys
