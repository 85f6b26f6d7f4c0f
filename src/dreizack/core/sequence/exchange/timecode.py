"""Frames as timecode (SMPTE ST 12-1), without dropped numbers."""

from __future__ import annotations

import re

HOUR = 3600


def written(frame: int, rate: float) -> str:
    """A frame as hours, minutes, seconds, frames, counted at the nearest whole rate.

    >>> written(90_000 + 27, 25)
    '01:00:01:02'
    """
    each = round(rate)
    seconds, rest = divmod(frame, each)
    return f"{seconds // HOUR:02d}:{seconds // 60 % 60:02d}:{seconds % 60:02d}:{rest:02d}"


def read(text: str, rate: float) -> int:
    """The frame of a timecode; ValueError where it is none.

    >>> read("01:00:01:02", 25)
    90027
    """
    found = re.fullmatch(r"(\d{2})[:;](\d{2})[:;](\d{2})[:;.](\d{2,3})", text.strip())
    if found is None:
        raise ValueError(f"'{text[:40]}' is no timecode")
    hours, minutes, seconds, frames = (int(part) for part in found.groups())
    if minutes > 59 or seconds > 59 or frames >= round(rate):
        raise ValueError(f"'{text[:40]}' is no timecode at {round(rate)} frames a second")
    return (hours * HOUR + minutes * 60 + seconds) * round(rate) + frames
