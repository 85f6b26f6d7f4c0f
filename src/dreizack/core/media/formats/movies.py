"""Movies: every codec through one writer, tagged Rec.709."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path
from types import TracebackType
from typing import Any

import av
import numpy as np
from av.video.reformatter import ColorPrimaries, ColorRange, Colorspace, ColorTrc
from numpy.typing import NDArray
from PIL import Image

from .catalogue import FORMATS, Encoding

SOUND_RATE = 48_000
# Samples that are encoded together.
BLOCK = 1024
# What containers are told so that they can be played while they arrive, and carry colour tags.
FLAGS = {"mp4": {"movflags": "+faststart+write_colr"}, "mov": {"movflags": "+faststart+write_colr"}}
# Sound as FFmpeg takes it: samples, and bits a second where that can be chosen.
SOUNDS = {"aac": ("fltp", 320_000), "pcm_s24le": ("s32", 0), "libopus": ("flt", 256_000)}
# Pictures as they come, by shape and depth.
COMING = {(3, "uint8"): "rgb24", (3, "uint16"): "rgb48le", (4, "uint16"): "rgba64le", (4, "uint8"): "rgba"}
# Colours of a palette, and the codes a channel is cut down to when they are chosen.
PALETTE = 256


class MovieWriter:
    """Writes R'G'B' frames (height, width, 3), or with straight alpha (height, width, 4), of 8 or 16 bits to
    a movie as an ``encoding`` says. ``sound`` is what is heard (samples, 2) at 48 kHz.

    Y'CbCr by ITU-R BT.709, limited range; primaries, transfer, matrix and range are set on the stream and on
    every frame, and the index stands in front (faststart).
    """

    def __init__(
        self,
        path: Path,
        width: int,
        height: int,
        rate: Fraction,
        preset: str = "",
        sound: NDArray[np.float32] | None = None,
        encoding: Encoding | None = None,
    ) -> None:
        self.encoding = encoding = encoding or (
            FORMATS["mp4"].encoding or Encoding("libx264", "yuv420p", "mp4")
        )
        self._container = av.open(
            str(path), "w", format=encoding.container, options=FLAGS.get(encoding.container, {})
        )
        stream: Any = self._container.add_stream(encoding.codec, rate=rate)
        stream.width, stream.height, stream.pix_fmt = width, height, encoding.pixels
        options = {name: value for name, value in encoding.options.items() if name not in ("tag", "loop")}
        stream.options = options | ({"preset": preset} if preset else {})
        context = stream.codec_context
        context.time_base = 1 / rate
        if "tag" in encoding.options:
            context.codec_tag = encoding.options["tag"]
        if encoding.tagged:
            context.color_primaries, context.color_trc = ColorPrimaries.BT709, ColorTrc.BT709
            context.colorspace, context.color_range = Colorspace.ITU709, ColorRange.MPEG
        self._stream, self._count = stream, 0
        self._sound = sound if encoding.sound else None
        self._heard: Any = None
        if self._sound is not None:
            self._heard = self._container.add_stream(encoding.sound, rate=SOUND_RATE)
            self._heard.codec_context.layout = "stereo"
            self._heard.codec_context.format = SOUNDS[encoding.sound][0]
            if SOUNDS[encoding.sound][1]:
                self._heard.codec_context.bit_rate = SOUNDS[encoding.sound][1]
        self._mixed = 0

    def write(self, picture: NDArray[np.uint8] | NDArray[np.uint16]) -> None:
        frame = self._paletted(picture) if self.encoding.pixels == "pal8" else self._tagged(picture)
        frame.pts, frame.time_base = self._count, self._stream.codec_context.time_base
        self._count += 1
        for packet in self._stream.encode(frame):
            self._container.mux(packet)
        # As much sound as picture, so that both lie side by side in the file.
        self._mix(round(self._count * float(frame.time_base) * SOUND_RATE))

    def _tagged(self, picture: NDArray[Any]) -> Any:
        coming = COMING[picture.shape[2], str(picture.dtype)]
        frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(picture), format=coming).reformat(
            format=self.encoding.pixels,
            src_colorspace=Colorspace.ITU709,
            dst_colorspace=Colorspace.ITU709,
            src_color_range=ColorRange.JPEG,
            dst_color_range=ColorRange.MPEG,
        )
        frame.color_primaries, frame.color_trc = ColorPrimaries.BT709, ColorTrc.BT709
        frame.colorspace, frame.color_range = Colorspace.ITU709, ColorRange.MPEG
        return frame

    def _paletted(self, picture: NDArray[Any]) -> Any:
        """A picture of 256 colours of its own, errors spread (Floyd & Steinberg 1976)."""
        made = Image.fromarray(picture).quantize(
            PALETTE, Image.Quantize.MEDIANCUT, dither=Image.Dither.FLOYDSTEINBERG
        )
        colours = np.zeros((PALETTE, 4), np.uint8)
        given = np.asarray(made.getpalette(), np.uint8).reshape(-1, 3)
        # Alpha first.
        colours[: len(given), 1:], colours[:, 0] = given, 255
        paletted: Any = (np.asarray(made, np.uint8), colours)
        return av.VideoFrame.from_ndarray(paletted, format="pal8")

    def _mix(self, upto: int) -> None:
        """Write sound up to a sample, in whole blocks."""
        if self._sound is None:
            return
        upto = min(upto, len(self._sound))
        while self._mixed < upto:
            end = min(self._mixed + BLOCK, len(self._sound))
            if end > upto and end < len(self._sound):
                return
            samples, kind = _heard(self._sound[self._mixed : end], SOUNDS[self.encoding.sound][0])
            heard = av.AudioFrame.from_ndarray(samples, format=kind, layout="stereo")
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


def _heard(block: NDArray[np.float32], kind: str) -> tuple[NDArray[Any], str]:
    """Samples (n, 2) as an encoder takes them."""
    if kind == "fltp":
        return np.ascontiguousarray(block.T), kind
    if kind == "s32":
        # Full scale of 24 bits in the upper bytes of 32.
        codes = np.clip(np.rint(block.astype(np.float64) * 2**23), -(2**23), 2**23 - 1)
        return (codes.astype(np.int32) << 8).reshape(1, -1), kind
    return np.ascontiguousarray(block, np.float32).reshape(1, -1), kind


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
            "pixels": str(context.pix_fmt),
            "primaries": int(context.color_primaries),
            "transfer": int(context.color_trc),
            "matrix": int(context.colorspace),
            "range": int(context.color_range),
            "sounds": [s.codec_context.name for s in container.streams.audio],
        }
