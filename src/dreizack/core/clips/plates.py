"""Footage that words stand in, kept without loss: every frame at hand, in its own size, depth and colours."""

from __future__ import annotations

import json
import struct
import tempfile
from collections.abc import Callable, Iterator
from dataclasses import asdict, dataclass, replace
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import cv2
import numpy as np
from av.video.reformatter import ColorRange, Colorspace
from numpy.typing import NDArray

from ..caching import cached_by_size
from ..library import adopt, find, keep
from ..sandbox import FileRefused, Unreadable, sandboxed_file, tell_share
from .reading import clip_facts, decoded
from .taking import MAX_BYTES, Placed, copied, expected_frames, matrix_of, placed_frames, rate_of

Floats = NDArray[np.float32]
Grey = NDArray[np.uint8]

# Of a plate: frames at most, frames between those that stand alone.
FRAMES, GROUP = 6000, 6
SECONDS = 900.0
# Sizes that a solve looks at are this wide at most.
LOOKED_AT = 960
MOST_SAID = 10_000
# How planes are kept, by depth and how colour is subsampled.
_KEPT = {
    (8, "420"): "yuv420p",
    (8, "422"): "yuv422p",
    (8, "444"): "yuv444p",
    (10, "420"): "yuv420p10le",
    (10, "422"): "yuv422p10le",
    (10, "444"): "yuv444p10le",
}


@dataclass(frozen=True)
class PlateFacts:
    """What was found in footage: size in pixels, frames a second, frames, bits a channel, codec, and in words
    what was done to it."""

    width: int
    height: int
    rate: str
    frames: int
    bits: int
    codec: str
    sound: bool
    done: tuple[str, ...]

    @property
    def per_second(self) -> Fraction:
        return Fraction(self.rate)


def bring_plate(source: bytes | Path, folder: Path, told: Callable[[float], None] | None = None) -> str:
    """Make a plate of a movie, in a sandbox, and put it on a shelf; its name. ``told`` hears which share
    of it is read.

    FileRefused for what is no movie, too large or damaged.
    """
    if (len(source) if isinstance(source, bytes) else source.stat().st_size) > MAX_BYTES:
        raise FileRefused(f"the video is larger than {MAX_BYTES // 1_000_000} MB; cut it or make it smaller")
    made = sandboxed_file(
        "dreizack.core.clips.plates:take_plate",
        source,
        folder,
        what="video",
        seconds=SECONDS,
        megabytes=6000,
        most=6_000_000_000,
        told=told,
    )
    return adopt(folder, made, "clip", "plate")


def take_plate(path: str) -> bytes:
    """In the sandbox: every frame as it is, where its time stamp says."""
    return copied(path, _kept)


def _kept(movie: Any, path: Path) -> None:
    stream = movie.streams.video[0]
    stream.thread_type = "AUTO"
    rate = rate_of(stream)
    expected = expected_frames(movie, stream, rate)
    repeated, last = 0, -1

    def counted() -> Iterator[Placed]:
        nonlocal repeated, last
        for placed in placed_frames(movie, stream, rate, FRAMES):
            yield placed
            repeated += placed.last - placed.first
            last = placed.last
            tell_share(min(last / expected, 0.99))

    kept = _written(path, counted(), rate)
    if kept is None:
        raise Unreadable("there is no whole picture in this video; it may be cut short")
    done = list(kept.done)
    if repeated:
        done.append(f"{repeated} frames repeated where it has gaps, so that its rate is constant")
    if last + 1 >= FRAMES:
        done.append(f"cut after {FRAMES} frames")
    _tell_facts(
        path,
        PlateFacts(
            kept.width,
            kept.height,
            str(rate),
            last + 1,
            kept.bits,
            stream.codec_context.name,
            bool(movie.streams.audio),
            tuple(done),
        ),
    )


def plate_piece(file: str, first: int, last: int, folder: Path) -> str:
    """Frames ``first`` to ``last`` of a plate as a plate of their own on a shelf, without loss; its name.

    FileRefused where there is no such plate, or it has no such frames.
    """
    facts, source = plate_facts(file), find(file)
    if facts is None or source is None:
        raise FileRefused("the plate is gone from the library; bring it again")
    if not 0 <= first <= last < facts.frames:
        raise FileRefused(f"this plate has frames 0 to {facts.frames - 1}; take a piece of those")

    def placed() -> Iterator[Placed]:
        with av.open(str(source), "r") as movie:
            stream = movie.streams.video[0]
            stream.thread_type = "AUTO"
            for number, frame in enumerate(movie.decode(stream)):
                if number > last:
                    return
                if number >= first:
                    yield Placed(frame, number - first, number - first, 0)

    with tempfile.TemporaryDirectory(dir=folder, prefix=".piece-") as room:
        path = Path(room) / "piece.mp4"
        _written(path, placed(), facts.per_second)
        done = (*facts.done, f"frames {first} to {last} of a longer plate")
        _tell_facts(path, replace(facts, frames=last - first + 1, done=done))
        return keep(folder, path.read_bytes(), "clip", "plate")


def _written(path: Path, pictures: Iterator[Placed], rate: Fraction) -> _Keeping | None:
    """Write pictures without loss; how that was done, None where there is none."""
    kept = None
    movflags = {"movflags": "+faststart+write_colr+use_metadata_tags"}
    with av.open(str(path), "w", format="mp4", options=movflags) as out:
        for placed in pictures:
            if kept is None:
                kept = _Keeping.begun(out, placed, rate)
            shown = kept.fitted(placed)
            for number in range(placed.first, placed.last + 1):
                shown.pts, shown.time_base = number, 1 / rate
                out.mux(kept.stream.encode(shown))
        if kept is not None:
            out.mux(kept.stream.encode(None))
    return kept


def _tell_facts(path: Path, facts: PlateFacts) -> None:
    with path.open("ab") as file:
        file.write(_box(json.dumps(asdict(facts)).encode()))


@dataclass(frozen=True)
class _Keeping:
    """How pictures of footage are written without loss: size, layout of pixels, and what was done to them."""

    stream: Any
    width: int
    height: int
    layout: str
    bits: int
    rgb: bool
    full: bool
    matrix: int
    done: tuple[str, ...]

    @classmethod
    def begun(cls, out: Any, placed: Placed, rate: Fraction) -> _Keeping:
        """A stream in ``out`` for pictures like this one."""
        frame, done = placed.frame, []
        layout, bits = _format(frame)
        rgb = layout == "rgb24" or placed.turned != 0
        stream = out.add_stream("libx264rgb" if rgb else "libx264", rate=rate)
        across, down = frame.width, frame.height
        if placed.turned in (90, 270):
            across, down = down, across
        # Colours of two pixels are kept together.
        even = rgb or "444" in layout
        across, down = (side if even else side // 2 * 2 for side in (across, down))
        if (across, down) != (frame.width, frame.height) and not placed.turned:
            done.append(f"cut to {across}×{down}, as its colours lie in pairs of pixels")
        stream.width, stream.height = across, down
        stream.pix_fmt, stream.time_base = ("rgb24" if rgb else layout), 1 / rate
        stream.options = {"qp": "0", "preset": "ultrafast", "g": str(GROUP), "bf": "0"}
        if placed.turned:
            done.append(f"turned by {placed.turned}°, as a note in it says")
        if getattr(frame, "interlaced_frame", False):
            done.append("its fields are left interlaced; a progressive version can be matched better")
        matrix = matrix_of(frame)
        full = int(frame.color_range) == int(ColorRange.JPEG) or "yuvj" in frame.format.name
        if not rgb:
            stream.codec_context.colorspace = matrix
            stream.codec_context.color_range = ColorRange.JPEG if full else ColorRange.MPEG
        return cls(stream, across, down, layout, bits, rgb, full, matrix, tuple(done))

    def fitted(self, placed: Placed) -> Any:
        """A picture in the size and layout that is written."""
        frame = placed.frame
        if self.rgb:
            picture = frame.reformat(format="rgb24", src_colorspace=self.matrix).to_ndarray()
            picture = np.ascontiguousarray(np.rot90(picture, placed.turned // 90))
            return av.VideoFrame.from_ndarray(picture, format="rgb24")
        shown = frame if frame.format.name == self.layout else _planes(frame, self.layout, self.full)
        if (shown.width, shown.height) == (self.width, self.height):
            return shown
        picture = shown.reformat(format="rgb24").to_ndarray()[: self.height, : self.width]
        cut = av.VideoFrame.from_ndarray(np.ascontiguousarray(picture), format="rgb24")
        return cut.reformat(format=self.layout)


def _box(said: bytes) -> bytes:
    """A box that players pass over (ISO/IEC 14496-12, 8.1.2), its text's length at its end."""
    length = struct.pack(">I", len(said))
    return struct.pack(">I4s", len(said) + 12, b"free") + said + length


def _format(frame: Any) -> tuple[str, int]:
    """How the planes of a frame are kept, and how many bits a channel they have."""
    name = frame.format.name
    bits = max(part.bits for part in frame.format.components)
    if frame.format.is_rgb or name.startswith(("gbr", "pal")):
        return ("rgb24", 8) if bits <= 8 else ("yuv444p10le", 10)
    sub = next((one for one in ("420", "422", "444") if one in name), "420" if "nv12" in name else "444")
    depth = 8 if bits <= 8 else 10
    return _KEPT[depth, sub], depth


def _planes(frame: Any, kept: str, full: bool) -> Any:
    """The same frame with planes of another kind; its range stays what it is."""
    span = ColorRange.JPEG if full else ColorRange.MPEG
    if frame.format.is_rgb:
        return frame.reformat(format=kept, dst_colorspace=Colorspace.ITU709, dst_color_range=ColorRange.MPEG)
    return frame.reformat(format=kept, src_color_range=span, dst_color_range=span)


@cached_by_size(1)
def plate_facts(file: str) -> PlateFacts | None:
    """What a plate of the library is; None where there is none of this name."""
    path, facts = find(file) if file.endswith(".clip") else None, clip_facts(file)
    if path is None or facts is None:
        return None
    with path.open("rb") as opened:
        size = opened.seek(0, 2)
        opened.seek(size - 4)
        length = struct.unpack(">I", opened.read(4))[0]
        said = b""
        if length <= min(size - 4, MOST_SAID):
            opened.seek(size - 4 - length)
            said = opened.read(length)
    try:
        found = json.loads(said)
        return PlateFacts(**{**found, "done": tuple(found["done"])})
    except (ValueError, TypeError, KeyError):
        return PlateFacts(facts.width, facts.height, str(facts.rate), facts.frames, 8, "h264", False, ())


@cached_by_size(400)
def plate_frame(file: str, number: int) -> Floats | None:
    """Frame ``number`` (held at its ends) of a plate (rows, columns, 3): display values from 0 to 1, as the
    footage has them; None where there is no such plate."""
    last = decoded(file, number)
    return None if last is None else as_values(last)


def as_values(frame: Any) -> Floats:
    """Display values (rows, columns, 3) from 0 to 1 of a decoded frame, by what it says of itself."""
    deep = max(part.bits for part in frame.format.components) > 8
    if frame.format.is_rgb:
        codes = frame.to_ndarray(format="rgb24")
        return _shares(codes, 255)
    codes = frame.reformat(
        format="rgb48le" if deep else "rgb24",
        src_colorspace=matrix_of(frame),
        dst_color_range=ColorRange.JPEG,
    ).to_ndarray()
    return _shares(codes, 65535 if deep else 255)


def _shares(codes: Any, most: int) -> Floats:
    found: Floats = np.divide(codes, most, dtype=np.float32)
    return found


def plate_greys(file: str) -> Iterator[Grey]:
    """All frames of a plate one after the other, grey, LOOKED_AT wide at most: what is solved."""
    path = find(file)
    if path is None:
        return
    with av.open(str(path), "r") as movie:
        stream = movie.streams.video[0]
        stream.thread_type = "AUTO"
        for frame in movie.decode(stream):
            grey: Any = frame.to_ndarray(format="gray")
            share = min(1.0, LOOKED_AT / grey.shape[1])
            if share < 1:
                size = (round(grey.shape[1] * share), round(grey.shape[0] * share))
                grey = cv2.resize(np.asarray(grey, np.uint8), size, interpolation=cv2.INTER_AREA)
            yield np.ascontiguousarray(grey)
