"""Foreign movies become clips: constant rate, few frames between those that stand alone, a size that suits surfaces."""

from __future__ import annotations

import tempfile
from fractions import Fraction
from pathlib import Path
from typing import Any

from ..confine import Confined, confined

MAX_BYTES = 2_000_000_000
MAX_SIDE = 8192
# Of a clip: longest side in pixels, frames, frames between those that stand alone.
SIDE, FRAMES, GROUP = 1280, 3000, 6
SECONDS = 240.0


def load_clip(data: bytes) -> bytes:
    """A clip (MP4) of a movie, made in a confined process. Confined for what is no movie, too large or damaged."""
    if len(data) > MAX_BYTES:
        raise Confined(f"the video is larger than {MAX_BYTES // 1_000_000} MB; cut it or make it smaller")
    return confined("dreizack.core.clips.taking:take", data, what="video", seconds=SECONDS, megabytes=4000, most=1_500_000_000)


def take(data: bytes) -> bytes:
    """In the confined process: every frame where its time stamp says, at a constant rate."""
    import av

    with tempfile.TemporaryDirectory() as folder:
        source, made = Path(folder) / "in", Path(folder) / "out.mp4"
        source.write_bytes(data)
        try:
            with av.open(str(source), "r") as movie:
                if not movie.streams.video:
                    raise ValueError("there is no picture in this video")
                _copy(movie, made)
        except av.FFmpegError as why:
            raise ValueError(f"the video is damaged or of an unknown kind ({type(why).__name__}); save it as H.264 or ProRes") from why
        return made.read_bytes()


def _copy(movie: Any, path: Path) -> None:
    import av
    from av.video.reformatter import ColorRange, Colorspace

    stream = movie.streams.video[0]
    stream.thread_type = "AUTO"
    if not (1 < stream.width <= MAX_SIDE and 1 < stream.height <= MAX_SIDE):
        raise ValueError(f"the video has {stream.width}×{stream.height} pixels; up to {MAX_SIDE} a side can be read")
    rate = Fraction(stream.average_rate or 25)
    if not 1 <= rate <= 240:
        raise ValueError(f"the video says it has {float(rate):.3g} frames a second; between 1 and 240 can be read")
    rate = rate.limit_denominator(1001)
    out = av.open(str(path), "w", format="mp4", options={"movflags": "+faststart"})
    written, kept, start = None, 0, None
    for frame in movie.decode(stream):
        # Some containers turn their pictures by a note only.
        turned = int(getattr(frame, "rotation", 0) or 0) % 360
        if written is None:
            scale = min(1.0, SIDE / max(frame.width, frame.height))
            width, height = (max(2, round(side * scale / 2) * 2) for side in (frame.width, frame.height))
            written = out.add_stream("libx264", rate=rate)
            written.width, written.height = (height, width) if turned in (90, 270) else (width, height)
            written.pix_fmt, written.time_base = "yuv444p", 1 / rate
            written.options = {"crf": "14", "preset": "veryfast", "g": str(GROUP), "bf": "0"}
        seconds = Fraction(frame.pts or 0) * frame.time_base if frame.pts is not None else Fraction(kept) / rate
        start = seconds if start is None else start
        place = round((seconds - start) * rate)
        # Where time stamps leave gaps the last picture stays; where they crowd only one is kept.
        if place < kept:
            continue
        # What does not say so is Rec.601 where it is small, Rec.709 else (ITU-R BT.601, BT.709).
        said = {1: Colorspace.ITU709, 2: Colorspace.ITU709 if frame.height >= 720 else Colorspace.ITU601}.get(int(frame.colorspace))
        plain = frame.reformat(width=width, height=height, format="rgb24", src_colorspace=said)
        picture = plain.to_ndarray()
        if turned:
            import numpy as np

            picture = np.ascontiguousarray(np.rot90(picture, turned // 90))
        for number in range(kept, min(place, FRAMES - 1) + 1):
            shown = av.VideoFrame.from_ndarray(picture, format="rgb24").reformat(
                format="yuv444p", src_colorspace=Colorspace.ITU709, dst_colorspace=Colorspace.ITU709,
                src_color_range=ColorRange.JPEG, dst_color_range=ColorRange.MPEG,
            )
            shown.pts, shown.time_base = number, 1 / rate
            out.mux(written.encode(shown))
        kept = place + 1
        if kept >= FRAMES:
            break
    if written is None:
        out.close()
        raise ValueError("there is no whole picture in this video; it may be cut short")
    out.mux(written.encode(None))
    out.close()
