"""Delivered pictures read again, and how two of them differ."""

from __future__ import annotations

import zipfile
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import av
import cv2
import numpy as np
from av.video.reformatter import ColorRange, Colorspace
from numpy.typing import NDArray

from ..optics import display_values
from .formats import DeliveryFormat

Bytes = NDArray[np.uint8]


class NoPicture(ValueError):
    """Why there is no picture to look at; a sentence."""


@dataclass(frozen=True)
class Difference:
    """``picture`` (height, width, 3): how far codes are apart, times the gain, on black; the ``most`` and the
    ``mean`` of it in codes of 255, and the ``share`` of pixels that differ by more than one."""

    picture: Bytes
    most: int
    mean: float
    share: float


def delivered_picture(path: Path, written: DeliveryFormat, number: int) -> Bytes:
    """Frame ``number`` (from 0) of a delivered file, as it is shown, (height, width, 3); what is clear is
    over black. NoPicture where there is none."""
    try:
        return _of_movie(path, number) if written.movie else _of_archive(path, written, number)
    except NoPicture:
        raise
    except Exception as why:
        raise NoPicture(f"frame {number} of this delivery cannot be read") from why


def _of_movie(path: Path, number: int) -> Bytes:
    with av.open(str(path), "r") as movie:
        stream = movie.streams.video[0]
        rate = stream.average_rate or 25
        assert stream.time_base is not None
        base = stream.start_time or 0
        movie.seek(base + round(number / rate / stream.time_base), stream=stream, backward=True)
        for frame in movie.decode(stream):
            if frame.pts is not None and round((frame.pts - base) * stream.time_base * rate) >= number:
                return _shown(frame)
    raise NoPicture(f"this delivery has no frame {number}")


def _shown(frame: Any) -> Bytes:
    if frame.format.is_rgb:
        codes = frame.to_ndarray(format="rgba")
    else:
        codes = frame.reformat(
            format="rgba", src_colorspace=Colorspace.ITU709, dst_color_range=ColorRange.JPEG
        ).to_ndarray()
    return _over_black(np.asarray(codes, np.uint8))


def _over_black(codes: Bytes) -> Bytes:
    alpha = codes[..., 3:].astype(np.float32) / 255
    made: Bytes = np.rint(codes[..., :3] * alpha).astype(np.uint8)
    return made


def _of_archive(path: Path, written: DeliveryFormat, number: int) -> Bytes:
    with zipfile.ZipFile(path) as archive:
        names = sorted(archive.namelist())
        if not 0 <= number < len(names):
            raise NoPicture(f"this delivery has no frame {number}")
        data = archive.read(names[number])
    if written.suffix == ".exr":
        return _of_light(data)
    read = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED)
    if read is None:
        raise NoPicture(f"frame {number} of this delivery cannot be read")
    codes = np.asarray(read / 257 if read.dtype == np.uint16 else read)
    codes = np.rint(codes).astype(np.uint8)
    if codes.ndim == 3 and codes.shape[2] == 4:
        return _over_black(np.ascontiguousarray(codes[..., [2, 1, 0, 3]]))
    made: Bytes = np.ascontiguousarray(codes[..., ::-1])
    return made


def _of_light(data: bytes) -> Bytes:
    """Scene light as it is shown plainly: the first part that has colours."""
    import tempfile

    import OpenEXR

    with tempfile.NamedTemporaryFile(suffix=".exr") as held:
        held.write(data)
        held.flush()
        with OpenEXR.File(held.name) as file:
            for part in file.parts:
                for name in ("RGB", "RGBA"):
                    if name in part.channels:
                        light = np.asarray(part.channels[name].pixels[..., :3], np.float32)
                        shown = display_values(np.maximum(light, 0), "shoulder")
                        made: Bytes = np.rint(shown * 255).astype(np.uint8)
                        return made
    raise NoPicture("there are no colours in this frame")


def difference(a: Bytes, b: Bytes, gain: float = 1.0) -> Difference:
    """How two pictures differ; the second is brought to the size of the first.

    >>> made = difference(np.full((2, 2, 3), 10, np.uint8), np.full((2, 2, 3), 14, np.uint8), 8.0)
    >>> made.most, made.mean, made.share, made.picture[0, 0].tolist()
    (4, 4.0, 1.0, [32, 32, 32])
    """
    if a.shape != b.shape:
        b = np.asarray(cv2.resize(b, (a.shape[1], a.shape[0]), interpolation=cv2.INTER_AREA), np.uint8)
    apart = np.abs(a.astype(np.int16) - b)
    picture: Bytes = np.rint(np.clip(apart * gain, 0, 255)).astype(np.uint8)
    return Difference(
        picture,
        int(apart.max()),
        round(float(apart.mean()), 4),
        round(float((apart > 1).any(axis=2).mean()), 5),
    )
