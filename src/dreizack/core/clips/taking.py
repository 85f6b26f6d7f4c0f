"""Foreign movies become clips: constant rate, few frames between those that stand alone, a size that suits
surfaces."""

from __future__ import annotations

import tempfile
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

from ..files import DiskFull, disk_is_full
from ..library import adopt
from ..sandbox import FileRefused, Unreadable, sandboxed_file

MAX_BYTES = 2_000_000_000
MAX_SIDE = 8192
# Of a clip: longest side in pixels, frames, frames between those that stand alone.
SIDE, FRAMES, GROUP = 1280, 3000, 6
SECONDS = 240.0


def bring_clip(source: bytes | Path, folder: Path) -> str:
    """Make a clip (MP4) of a movie, in a sandbox, and put it on a shelf; its name.

    FileRefused for what is no movie, too large or damaged.
    """
    if (len(source) if isinstance(source, bytes) else source.stat().st_size) > MAX_BYTES:
        raise FileRefused(f"the video is larger than {MAX_BYTES // 1_000_000} MB; cut it or make it smaller")
    made = sandboxed_file(
        "dreizack.core.clips.taking:take",
        source,
        folder,
        what="video",
        seconds=SECONDS,
        megabytes=4000,
        most=1_500_000_000,
    )
    return adopt(folder, made, "clip", "clip")


def take(path: str) -> bytes:
    """In the sandbox: every frame where its time stamp says, at a constant rate."""
    return copied(path, _copy)


def copied(path: str, copy: Callable[[Any, Path], None]) -> bytes:
    """What ``copy`` makes of a movie, as bytes; faults in our words."""
    import av

    with tempfile.TemporaryDirectory() as folder:
        made = Path(folder) / "out.mp4"
        try:
            with av.open(path, "r") as movie:
                if not movie.streams.video:
                    raise Unreadable("there is no picture in this video")
                copy(movie, made)
        except av.FFmpegError as why:
            if disk_is_full(why, Path(folder)):
                raise DiskFull from why
            raise Unreadable(
                "the video is damaged or of an unknown kind; save it as H.264 or ProRes"
            ) from why
        return made.read_bytes()


@dataclass(frozen=True)
class Placed:
    """A decoded frame, the numbers it has at a constant rate (from ``first`` to ``last``), and how far it is
    to be turned (degrees, counter-clockwise)."""

    frame: Any
    first: int
    last: int
    turned: int


def rate_of(stream: Any) -> Fraction:
    """Frames a second of a stream. Unreadable where they or the picture's size make no sense."""
    if not (1 < stream.width <= MAX_SIDE and 1 < stream.height <= MAX_SIDE):
        raise Unreadable(
            f"the video has {stream.width}×{stream.height} pixels; up to {MAX_SIDE} a side can be read"
        )
    rate = Fraction(stream.average_rate or 25)
    if not 1 <= rate <= 240:
        raise Unreadable(
            f"the video says it has {float(rate):.3g} frames a second; between 1 and 240 can be read"
        )
    return rate.limit_denominator(1001)


def expected_frames(movie: Any, stream: Any, rate: Fraction) -> float:
    """How many frames a movie says it has, 1 at least: whoever reads it may find others."""
    if stream.duration and stream.time_base:
        return max(1.0, float(stream.duration * stream.time_base * rate))
    # Microseconds, where only the whole says how long it is.
    return max(1.0, float(movie.duration or 0) / 1e6 * float(rate), float(stream.frames))


def placed_frames(movie: Any, stream: Any, rate: Fraction, most: int) -> Iterator[Placed]:
    """Every frame where its time stamp says, at a constant rate: where stamps leave gaps the last picture
    stays, where they crowd only one is kept."""
    kept, start = 0, None
    for frame in movie.decode(stream):
        seconds = (
            Fraction(frame.pts or 0) * frame.time_base if frame.pts is not None else Fraction(kept) / rate
        )
        start = seconds if start is None else start
        place = round((seconds - start) * rate)
        if place < kept:
            continue
        # Some containers turn their pictures by a note only.
        yield Placed(frame, kept, min(place, most - 1), int(getattr(frame, "rotation", 0) or 0) % 360)
        kept = place + 1
        if kept >= most:
            break


def matrix_of(frame: Any) -> Any:
    """The matrix of a frame: what does not say so is Rec.601 where it is small, Rec.709 else (ITU-R BT.601,
    BT.709)."""
    from av.video.reformatter import Colorspace

    unsaid = Colorspace.ITU709 if frame.height >= 720 else Colorspace.ITU601
    known = {1: Colorspace.ITU709, 5: Colorspace.ITU601, 6: Colorspace.ITU601, 9: Colorspace.BT2020}
    return known.get(int(frame.colorspace), unsaid)


def _copy(movie: Any, path: Path) -> None:
    import av
    import numpy as np
    from av.video.reformatter import ColorRange, Colorspace

    stream = movie.streams.video[0]
    stream.thread_type = "AUTO"
    rate = rate_of(stream)
    out = av.open(str(path), "w", format="mp4", options={"movflags": "+faststart"})
    written = None
    for placed in placed_frames(movie, stream, rate, FRAMES):
        frame, turned = placed.frame, placed.turned
        if written is None:
            scale = min(1.0, SIDE / max(frame.width, frame.height))
            width, height = (max(2, round(side * scale / 2) * 2) for side in (frame.width, frame.height))
            written = out.add_stream("libx264", rate=rate)
            written.width, written.height = (height, width) if turned in (90, 270) else (width, height)
            written.pix_fmt, written.time_base = "yuv444p", 1 / rate
            written.options = {"crf": "14", "preset": "veryfast", "g": str(GROUP), "bf": "0"}
        plain = frame.reformat(width=width, height=height, format="rgb24", src_colorspace=matrix_of(frame))
        picture = plain.to_ndarray()
        if turned:
            picture = np.ascontiguousarray(np.rot90(picture, turned // 90))
        for number in range(placed.first, placed.last + 1):
            shown = av.VideoFrame.from_ndarray(picture, format="rgb24").reformat(
                format="yuv444p",
                src_colorspace=Colorspace.ITU709,
                dst_colorspace=Colorspace.ITU709,
                src_color_range=ColorRange.JPEG,
                dst_color_range=ColorRange.MPEG,
            )
            shown.pts, shown.time_base = number, 1 / rate
            out.mux(written.encode(shown))
    if written is None:
        out.close()
        raise Unreadable("there is no whole picture in this video; it may be cut short")
    out.mux(written.encode(None))
    out.close()
