"""H.264 in MP4, tagged Rec.709."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path
from types import TracebackType
from typing import Any

import av
import numpy as np
from av.video.reformatter import ColorPrimaries, ColorRange, Colorspace, ColorTrc
from numpy.typing import NDArray

SOUND_RATE = 48_000
# Samples that are encoded together.
BLOCK = 1024


class MovieWriter:
    """Writes 8-bit R'G'B' frames (height, width, 3) to an H.264 MP4; width and height must be even. ``sound``
    is what is heard (samples, 2) at 48 kHz, written as AAC.

    Y'CbCr by ITU-R BT.709, limited range; primaries, transfer, matrix and range are set on the stream and on
    every frame, and the index stands in front (faststart).
    """

    def __init__(
        self,
        path: Path,
        width: int,
        height: int,
        rate: Fraction,
        preset: str = "medium",
        sound: NDArray[np.float32] | None = None,
    ) -> None:
        self._container = av.open(str(path), "w", format="mp4", options={"movflags": "+faststart+write_colr"})
        stream: Any = self._container.add_stream("libx264", rate=rate)
        stream.width, stream.height, stream.pix_fmt = width, height, "yuv420p"
        stream.options = {"crf": "16", "preset": preset}
        context = stream.codec_context
        context.time_base = 1 / rate
        context.color_primaries, context.color_trc = ColorPrimaries.BT709, ColorTrc.BT709
        context.colorspace, context.color_range = Colorspace.ITU709, ColorRange.MPEG
        self._stream, self._count = stream, 0
        self._sound = sound
        self._heard: Any = None
        if sound is not None:
            self._heard = self._container.add_stream("aac", rate=SOUND_RATE)
            self._heard.codec_context.layout, self._heard.codec_context.bit_rate = "stereo", 320_000
        self._mixed = 0

    def write(self, picture: NDArray[np.uint8]) -> None:
        frame = av.VideoFrame.from_ndarray(picture, format="rgb24").reformat(
            format="yuv420p",
            src_colorspace=Colorspace.ITU709,
            dst_colorspace=Colorspace.ITU709,
            src_color_range=ColorRange.JPEG,
            dst_color_range=ColorRange.MPEG,
        )
        frame.color_primaries, frame.color_trc = ColorPrimaries.BT709, ColorTrc.BT709
        frame.colorspace, frame.color_range = Colorspace.ITU709, ColorRange.MPEG
        frame.pts, frame.time_base = self._count, self._stream.codec_context.time_base
        self._count += 1
        for packet in self._stream.encode(frame):
            self._container.mux(packet)
        # As much sound as picture, so that both lie side by side in the file.
        self._mix(round(self._count * float(frame.time_base) * SOUND_RATE))

    def _mix(self, upto: int) -> None:
        """Write sound up to a sample, in whole blocks."""
        if self._sound is None:
            return
        upto = min(upto, len(self._sound))
        while self._mixed < upto:
            end = min(self._mixed + BLOCK, len(self._sound))
            if end > upto and end < len(self._sound):
                return
            block = np.ascontiguousarray(self._sound[self._mixed : end].T)
            heard = av.AudioFrame.from_ndarray(block, format="fltp", layout="stereo")
            heard.sample_rate, heard.pts, heard.time_base = SOUND_RATE, self._mixed, Fraction(1, SOUND_RATE)
            for packet in self._heard.encode(heard):
                self._container.mux(packet)
            self._mixed = end

    def close(self) -> None:
        for packet in self._stream.encode(None):
            self._container.mux(packet)
        if self._sound is not None:
            self._mix(len(self._sound))
            for packet in self._heard.encode(None):
                self._container.mux(packet)
        self._container.close()

    def __enter__(self) -> MovieWriter:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, why: BaseException | None, trace: TracebackType | None
    ) -> None:
        if kind is None:
            self.close()
        else:
            self._container.close()


def probe(path: Path) -> dict[str, Any]:
    """Decode a whole movie and state what it is: size, rate, frames, codec and colour tags."""
    with av.open(str(path)) as container:
        stream = container.streams.video[0]
        context = stream.codec_context
        frames = [(f.pts, int(f.color_primaries), int(f.color_trc)) for f in container.decode(stream)]
        return {
            "codec": context.name,
            "width": context.width,
            "height": context.height,
            "rate": stream.average_rate,
            "frames": len(frames),
            "pts": [f[0] for f in frames],
            "primaries": int(context.color_primaries),
            "transfer": int(context.color_trc),
            "matrix": int(context.colorspace),
            "range": int(context.color_range),
        }
