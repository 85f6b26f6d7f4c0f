"""Frames of clips by number."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from typing import Any

import av
import numpy as np
from av.video.reformatter import ColorRange, Colorspace
from numpy.typing import NDArray

from ..caching import cached_by_size
from ..colour import codes_to_linear
from ..library import find

Floats = NDArray[np.float32]


@dataclass(frozen=True)
class Facts:
    """Size in pixels, frames a second, number of frames."""

    width: int
    height: int
    rate: Fraction
    frames: int


@cached_by_size(1)
def clip_facts(file: str) -> Facts | None:
    """What a clip of the library is; None where there is none of this name."""
    path = find(file) if file.endswith(".clip") else None
    if path is None:
        return None
    with av.open(str(path), "r") as movie:
        stream = movie.streams.video[0]
        return Facts(stream.width, stream.height, Fraction(stream.average_rate or 25), max(1, stream.frames))


def decoded(file: str, number: int) -> Any:
    """Frame ``number`` (held at its ends) of a clip as it is decoded; None where there is no such clip."""
    facts, path = clip_facts(file), find(file)
    if facts is None or path is None:
        return None
    with av.open(str(path), "r") as movie:
        stream = movie.streams.video[0]
        wanted = min(max(number, 0), facts.frames - 1)
        assert stream.time_base is not None
        # Stamps begin where the first frame does.
        base = stream.start_time or 0
        stamp = base + round(Fraction(wanted) / facts.rate / stream.time_base)
        movie.seek(stamp, stream=stream, backward=True)
        last = None
        for frame in movie.decode(stream):
            last = frame
            if frame.pts is not None and round((frame.pts - base) * stream.time_base * facts.rate) >= wanted:
                break
    return last


@cached_by_size(96)
def clip_frame(file: str, number: int) -> Floats | None:
    """Frame ``number`` (0 …, held at its ends) of a clip, scene-linear (rows, columns, 3); None where there
    is no such clip.

    Display values become scene-linear by IEC 61966-2-1.
    """
    last = decoded(file, number)
    if last is None:
        return None
    codes = last.reformat(
        format="rgb24",
        src_colorspace=Colorspace.ITU709,
        dst_colorspace=Colorspace.ITU709,
        src_color_range=ColorRange.MPEG,
        dst_color_range=ColorRange.JPEG,
    ).to_ndarray()
    return codes_to_linear(codes)
