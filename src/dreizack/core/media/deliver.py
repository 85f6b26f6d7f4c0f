"""A delivery, from order to file: the same loop for the command line and the worker."""

from __future__ import annotations

import time
import zipfile
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor, wait
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..document import Shot
from ..files import say_disk_full, whole_file
from .formats import DeliveryFormat, chosen_format
from .formats.movies import MovieWriter
from .formats.stills import FrameWriter
from .formats.writers import frame_writer
from .order import Order, check_name, numbered_path
from .picture import FramePicture
from .reel import Reel, ShotReel
from .shelf import FrameKeeper


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
    written: str = "",
) -> None:
    """Render an order of a shot to a file, or to frames where ``path`` has a number in it
    (``name.%05d.png``); ``written`` names the format, where it is not the usual one of such files. OrderError
    for what cannot be carried out."""
    form = chosen_format(written, path.suffix)
    order.check(shot.format.frames, form)
    deliver_reel(ShotReel(shot, order, keeper), path, form, watch, stopped)


def deliver_reel(
    reel: Reel,
    path: Path,
    written: DeliveryFormat,
    watch: Watch = lambda progress, picture: None,
    stopped: Callable[[], bool] = lambda: False,
    inside: str = "",
) -> None:
    """Render to a movie, to numbered frames, or to frames in one archive where ``path`` ends with .zip; they
    are called ``inside`` there, or as the archive is.

    Files get their names only when they are complete; Stopped leaves none behind but whole frames.
    """
    check_name(path, written)
    with say_disk_full(path.parent):
        if written.movie:
            whole_file(path, lambda partial: _movie(partial, reel, written, watch, stopped))
        elif path.suffix == ".zip":
            whole_file(
                path, lambda partial: _archive(partial, inside or path.stem, reel, written, watch, stopped)
            )
        else:
            write = frame_writer(written, reel)

            def put(picture: FramePicture) -> None:
                whole_file(numbered_path(path, picture.number), lambda partial: write(partial, picture))

            _each(reel, put, watch, stopped, beside=not written.traces)


def _movie(
    path: Path, reel: Reel, written: DeliveryFormat, watch: Watch, stopped: Callable[[], bool]
) -> None:
    order = reel.order

    def depth(picture: FramePicture) -> Any:
        if written.holds == "titles":
            return picture.straight
        return picture.eight if written.bits == 8 else picture.deep

    with MovieWriter(
        path, order.width, order.height, reel.rate, sound=reel.sound(), encoding=written.encoding
    ) as movie:
        _each(reel, lambda picture: movie.write(depth(picture)), watch, stopped)


def _archive(
    path: Path,
    name: str,
    reel: Reel,
    written: DeliveryFormat,
    watch: Watch,
    stopped: Callable[[], bool],
) -> None:
    """Numbered frames in a ZIP, stored as they are: pictures are packed already."""
    write: FrameWriter = frame_writer(written, reel)
    with zipfile.ZipFile(path, "w", zipfile.ZIP_STORED, allowZip64=True) as archive:

        def put(picture: FramePicture) -> None:
            partial = path.with_name(f"{path.name}.frame{written.suffix}")
            try:
                write(partial, picture)
                archive.write(partial, f"{name}/{name}.{picture.number:05d}{written.suffix}")
            finally:
                partial.unlink(missing_ok=True)

        _each(reel, put, watch, stopped, beside=not written.traces)


def _each(
    reel: Reel,
    write: Callable[[FramePicture], None],
    watch: Watch,
    stopped: Callable[[], bool],
    beside: bool = True,
) -> None:
    """Every frame in order: finished, written, reported; ``beside``: while the next one is traced."""
    begun = time.monotonic()

    def put(done: int, picture: FramePicture) -> None:
        write(picture)
        watch(
            Progress(picture.number, done, reel.order.count, time.monotonic() - begun, picture.kept),
            picture.eight,
        )

    with ThreadPoolExecutor(1, "writing") as writer:
        writing: Future[None] | None = None
        for done, picture in enumerate(reel.pictures(stopped), 1):
            if writing is not None:
                writing.result()
            writing = writer.submit(put, done, picture)
            if not beside:
                wait([writing])
        if writing is not None:
            writing.result()
    # What could be rendered is kept, and written where frames are files of their own.
    reel.failing.tell()
