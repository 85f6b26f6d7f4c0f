"""Keys and the channels they form."""

from __future__ import annotations

import itertools
from typing import Literal

from pydantic import Field, field_validator

from .ground import Section

MAX_KEYS = 2000


class Ease(Section):
    """How a value travels from one key to the next (CSS Easing Functions Level 2).

    ``cubic-bezier`` runs through (0,0), (x1,y1), (x2,y2), (1,1); x stays within 0..1 so that time
    never runs backwards. ``hold`` keeps the value until the next key.
    """

    kind: Literal["linear", "cubic-bezier", "hold"] = "cubic-bezier"
    x1: float = Field(0.42, ge=0, le=1)
    y1: float = Field(0.0, ge=-4, le=4)
    x2: float = Field(0.58, ge=0, le=1)
    y2: float = Field(1.0, ge=-4, le=4)


class Key(Section):
    """A value at a frame; ``ease`` shapes the way to the following key."""

    frame: int = Field(ge=0, le=200_000)
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
