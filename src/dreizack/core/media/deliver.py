"""A delivery, from order to file: the same loop for the command line and the worker."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from ..document import Shot
from ..files import say_disk_full, whole_file
from ..optics import Passes, finished
from .finishing import finishing
from .frames import FrameKeeper, pictures
from .order import Order, is_numbered, numbered_path
from .sound import shot_sound
from .stills import still_writer
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
    shot: Shot,
    order: Order,
    path: Path,
    keeper: FrameKeeper | None = None,
    watch: Watch = lambda progress, picture: None,
    stopped: Callable[[], bool] = lambda: False,
) -> None:
    """Render an order to an MP4, or to frames where ``path`` has a number in it (``name.%05d.png``).

    The movie gets its name only when it is complete; Stopped leaves nothing behind.
    """
    numbered = is_numbered(path)
    order.check(shot, movie=not numbered)
    still = still_writer(path.suffix)
    with say_disk_full(path.parent):
        if numbered and still is not None:
            _each(
                shot,
                order,
                keeper,
                stopped,
                watch,
                lambda frame, picture, passes, settings: whole_file(
                    numbered_path(path, frame),
                    lambda partial: still(partial, passes, settings),
                ),
            )
        else:
            whole_file(path, lambda partial: _movie(partial, shot, order, keeper, stopped, watch))


def _movie(
    path: Path,
    shot: Shot,
    order: Order,
    keeper: FrameKeeper | None,
    stopped: Callable[[], bool],
    watch: Watch,
) -> None:
    rate = Fraction(shot.format.rate.num, shot.format.rate.den)
    sound = shot_sound(shot, order.first, order.last)
    with MovieWriter(path, order.width, order.height, rate, sound=sound) as movie:
        _each(
            shot, order, keeper, stopped, watch, lambda frame, picture, passes, settings: movie.write(picture)
        )


def _each(
    shot: Shot,
    order: Order,
    keeper: FrameKeeper | None,
    stopped: Callable[[], bool],
    watch: Watch,
    write: Callable[..., None],
) -> None:
    """Every frame in order: finished, written, reported."""
    begun = time.monotonic()
    for done, (frame, state, rgba, kept) in enumerate(pictures(shot, order, keeper, stopped), 1):
        passes, settings = Passes(rgba), finishing(state, (order.width, order.height))
        picture = finished(passes, settings)
        write(frame, picture, passes, settings)
        watch(Progress(frame, done, order.count, time.monotonic() - begun, kept), picture)
