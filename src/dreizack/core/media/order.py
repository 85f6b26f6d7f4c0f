"""A delivery, from order to file: the same loop for the command line and the worker."""

from __future__ import annotations

import os
import re
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Protocol

import cv2
import numpy as np
from numpy.typing import NDArray

from ..document import Shot
from ..optics import develop
from ..render import QUALITIES, Stage, Stopped, backdrop_picture, trace
from ..scene import BodyStore, FrameState, bake, exposed, frame_names
from ..scene.frame import fingerprint
from .stills import still_writer, whole_file
from .video import MovieWriter

MAX_SIDE = 8192
# Qualities whose frames are good enough to be looked at in their place.
LASTING = ("final", "good")


class OrderError(ValueError):
    """An order that cannot be carried out; the text says what to change."""


@dataclass(frozen=True)
class Order:
    """What to render: first and last frame (both included), size, quality."""

    first: int
    last: int
    width: int
    height: int
    quality: str

    def check(self, shot: Shot, movie: bool = True) -> Order:
        """The order itself, or OrderError with the remedy."""
        if not 0 <= self.first <= self.last < shot.format.frames:
            raise OrderError(
                f"frames {self.first}-{self.last} are not all in the shot; choose from 0-{shot.format.frames - 1}"
            )
        if not (16 <= self.width <= MAX_SIDE and 16 <= self.height <= MAX_SIDE):
            raise OrderError(f"{self.width}x{self.height} is not a size we render; choose from 16 to {MAX_SIDE} pixels a side")
        if movie and (self.width % 2 or self.height % 2):
            raise OrderError(f"{self.width}x{self.height} cannot become H.264; choose even numbers of pixels")
        if self.quality not in QUALITIES:
            raise OrderError(f"'{self.quality}' is not a quality; choose {', '.join(QUALITIES)}")
        return self

    @property
    def count(self) -> int:
        return self.last - self.first + 1


@dataclass(frozen=True)
class Progress:
    """How far a delivery is: frames done of all, seconds so far, whether this frame was kept from before."""

    frame: int
    done: int
    total: int
    seconds: float
    kept: bool


class FrameKeeper(Protocol):
    """Keeps traced pictures by the hash of what they were made from."""

    def get(self, key: str) -> NDArray[np.float32] | None: ...

    def put(self, key: str, rgba: NDArray[np.float32]) -> None: ...

    def note(self, frame: str, key: str, width: int) -> None: ...

    def of(self, frame: str) -> NDArray[np.float32] | None: ...


def parse_frames(text: str | None, shot: Shot) -> tuple[int, int]:
    """``A-B`` or ``A``; the whole shot where nothing is said."""
    if text is None:
        return 0, shot.format.frames - 1
    match = re.fullmatch(r"(\d{1,6})(?:-(\d{1,6}))?", text.strip())
    if not match:
        raise OrderError(f"'{text}' is not a range of frames; write it like 0-47")
    first = int(match[1])
    return first, int(match[2]) if match[2] else first


def parse_size(text: str | None, shot: Shot) -> tuple[int, int]:
    """``WxH``; the shot's own size where nothing is said."""
    if text is None:
        return shot.format.width, shot.format.height
    match = re.fullmatch(r"(\d{1,6})[x×](\d{1,6})", text.strip())
    if not match:
        raise OrderError(f"'{text}' is not a size; write it like 1280x720")
    return int(match[1]), int(match[2])


def picture_key(state: FrameState, order: Order) -> str:
    """Name of a traced picture: scene, size and samples."""
    quality = QUALITIES[order.quality]
    return fingerprint(("traced 9", state.traced_key, order.width, order.height, quality.samples, quality.denoiser))


def pass_name(state: FrameState, quality: str) -> str:
    """Name of a frame traced at a quality, whatever its size."""
    chosen = QUALITIES[quality]
    return fingerprint(("traced 9", state.traced_key, chosen.samples, chosen.denoiser))


def fitted(rgba: NDArray[np.float32] | None, width: int, height: int) -> NDArray[np.float32] | None:
    """A traced picture averaged down to a size; None where it is smaller or of another shape."""
    if rgba is None or rgba.shape[1] < width or abs(rgba.shape[1] * height - rgba.shape[0] * width) > max(rgba.shape[:2]):
        return None
    # Pixels are boxes, and light is premultiplied: the mean over an area is what a smaller picture would have had.
    small: NDArray[np.float32] = cv2.resize(rgba, (width, height), interpolation=cv2.INTER_AREA).astype(np.float32)
    return small


Watch = Callable[[Progress, NDArray[np.uint8]], None]


def pictures(
    shot: Shot, order: Order, keeper: FrameKeeper | None, stopped: Callable[[], bool]
) -> Iterator[tuple[int, FrameState, NDArray[np.float32], bool]]:
    """Trace (or fetch) the frames of an order one after the other."""
    baked = bake(shot, np.arange(order.first, order.last + 1, dtype=np.float64))
    stage, quality = Stage(BodyStore()), QUALITIES[order.quality]
    names = frame_names(shot, np.arange(order.first, order.last + 1, dtype=np.float64)) if keeper is not None else []
    for index in range(order.count):
        if stopped():
            raise Stopped
        state = exposed(shot, float(order.first + index), baked, index)
        key = picture_key(state, order)
        kept = None
        if keeper is not None:
            kept = keeper.get(key)
            kept = kept if kept is not None else fitted(keeper.of(pass_name(state, order.quality)), order.width, order.height)
        if kept is not None:
            if keeper is not None and order.quality in LASTING:
                keeper.note(names[index], key, order.width)
            yield order.first + index, state, kept, True
            continue
        stage.show(state)
        rgba = trace(stage, order.width, order.height, quality, stopped).rgba
        if keeper is not None:
            keeper.put(key, rgba)
            keeper.note(pass_name(state, order.quality), key, order.width)
            if order.quality in LASTING:
                keeper.note(names[index], key, order.width)
        yield order.first + index, state, rgba, False


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


def is_numbered(path: Path) -> bool:
    """Whether a path names single frames; OrderError for names we cannot write."""
    numbered = re.search(r"%0?\d*d", path.name) is not None
    if numbered and still_writer(path.suffix) is None:
        raise OrderError(f"frames can be written as .png or .exr, not '{path.suffix}'")
    if not numbered and path.suffix.lower() != ".mp4":
        if still_writer(path.suffix):
            raise OrderError(f"frames need a number in their name, like {path.stem}.%05d{path.suffix}")
        raise OrderError(f"a movie is written as .mp4, frames as .png or .exr; '{path.name}' is neither")
    return numbered
