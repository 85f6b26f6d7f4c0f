"""A delivery, from order to file: the same loop for the command line and the worker."""

from __future__ import annotations

import os
import time
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from ..document import Shot
from ..optics import develop
from ..render import backdrop_picture
from .frames import FrameKeeper, pictures
from .order import Order, is_numbered
from .stills import still_writer, whole_file
from .video import MovieWriter


@dataclass(frozen=True)
class Progress:
    """How far a delivery is: frames done of all, seconds so far, whether this frame was kept from before."""

    frame: int
    done: int
    total: int
    seconds: float
    kept: bool


Watch = Callable[[Progress, NDArray[np.uint8]], None]


def deliver(
    shot: Shot, order: Order, path: Path, keeper: FrameKeeper | None = None,
    watch: Watch = lambda progress, picture: None, stopped: Callable[[], bool] = lambda: False,
) -> None:
    """Render an order to an MP4, or to frames where ``path`` has a number in it (``name.%05d.png``).

    The movie gets its name only when it is complete; Stopped leaves nothing behind.
    """
    begun = time.monotonic()
    numbered = is_numbered(path)
    order.check(shot, movie=not numbered)
    still = still_writer(path.suffix) if numbered else None
    partial = path.with_name(f".{path.stem}.part{path.suffix}")
    rate = Fraction(shot.format.rate.num, shot.format.rate.den)
    movie = None if numbered else MovieWriter(partial, order.width, order.height, rate)
    try:
        for done, (frame, state, rgba, kept) in enumerate(pictures(shot, order, keeper, stopped), 1):
            behind = backdrop_picture(state, order.width, order.height)
            picture = develop(rgba, state.exposure, behind, state.view)
            if movie:
                movie.write(picture)
            elif still:
                target = Path(str(path) % frame)
                whole_file(target, lambda p, s=state, a=rgba, b=behind: still(p, a, s.exposure, b, s.view))  # type: ignore[misc]
            watch(Progress(frame, done, order.count, time.monotonic() - begun, kept), picture)
        if movie:
            movie.close()
            os.replace(partial, path)
    finally:
        partial.unlink(missing_ok=True)
