"""Channels written shortly."""

from __future__ import annotations

from ..core.document import Channel, Ease, Key

SOFT = Ease(kind="cubic-bezier", x1=0.33, y1=0.0, x2=0.2, y2=1.0)
LAND = Ease(kind="cubic-bezier", x1=0.16, y1=0.84, x2=0.3, y2=1)
LEAVE = Ease(kind="cubic-bezier", x1=0.6, y1=0, x2=0.85, y2=0.3)


def keys(*pairs: tuple[int, float], ease: Ease = SOFT) -> Channel:
    """A channel through (frame, value) pairs."""
    return Channel(keys=[Key(frame=frame, value=value, ease=ease) for frame, value in pairs])
