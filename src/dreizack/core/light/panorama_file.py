"""Panoramas people bring: Radiance HDR, OpenEXR, and ordinary pictures."""

from __future__ import annotations

import io
import tempfile
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from ..colour import codes_to_linear
from ..sandbox import FileRefused, Unreadable, sandboxed

MAX_BYTES = 400_000_000
MAX_SIDE = 16_384
# Larger ones are averaged down: what is mirrored needs no more.
KEPT = (1024, 2048)
BRIGHTEST = 60_000.0


def load_panorama(source: bytes | Path) -> bytes:
    """Read a panorama in a sandbox: scene-linear half floats (rows, 2 rows, 3) as an NPY file."""
    if (len(source) if isinstance(source, bytes) else source.stat().st_size) > MAX_BYTES:
        raise FileRefused(f"the panorama is larger than {MAX_BYTES // 1_000_000} MB; scale it down")
    return sandboxed(
        "dreizack.core.light.panorama_file:read_panorama", source, what="panorama", seconds=40, megabytes=4000
    )


def panorama_bytes(picture: NDArray[np.float32]) -> bytes:
    """A panorama of ours (rows, 2 rows, 3), scene-linear, as it is kept: half floats in an NPY file."""
    out = io.BytesIO()
    np.save(out, np.clip(picture, 0, BRIGHTEST).astype(np.float16), allow_pickle=False)
    return out.getvalue()


def read_panorama(data: bytes) -> bytes:
    """In the sandbox."""
    import cv2

    picture = _light(data)
    if picture.ndim != 3 or picture.shape[2] != 3 or min(picture.shape[:2]) < 2:
        raise Unreadable("the panorama has no red, green and blue; save it as a colour picture")
    broken = ~np.isfinite(picture)
    if broken.mean() > 0.5:
        raise Unreadable("most of the panorama is no number at all; save it anew")
    picture[broken] = 0
    picture = np.clip(picture, 0, BRIGHTEST)
    rows = min(KEPT[0], max(16, picture.shape[0]))
    kept = cv2.resize(picture, (rows * 2, rows), interpolation=cv2.INTER_AREA)
    return panorama_bytes(kept.astype(np.float32))


def _light(data: bytes) -> NDArray[np.float32]:
    """Scene-linear (rows, columns, 3)."""
    import cv2

    if data[:4] == b"\x76\x2f\x31\x01":
        return _exr(data)
    radiance = data[:2] == b"#?"
    if not radiance and not (
        data[:8] == b"\x89PNG\r\n\x1a\n"
        or data[:3] == b"\xff\xd8\xff"
        or (data[:4] == b"RIFF" and data[8:12] == b"WEBP")
    ):
        raise Unreadable("this is no HDR, EXR, PNG, JPEG or WebP picture")
    if radiance:
        _check_radiance(data)
    read = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED if radiance else cv2.IMREAD_COLOR)
    if read is None:
        raise Unreadable("the panorama is damaged or cut short; save it anew")
    _check_size(read.shape[1], read.shape[0])
    picture = read[..., ::-1].astype(np.float32)
    if radiance:
        return np.ascontiguousarray(picture)
    return codes_to_linear(read[..., ::-1])


def _check_size(width: int, height: int) -> None:
    if not (2 <= width <= MAX_SIDE and 2 <= height <= MAX_SIDE):
        raise Unreadable(f"the panorama has {width}×{height} pixels; 2 to {MAX_SIDE} a side can be read")


def _check_radiance(data: bytes) -> None:
    """Refuse sizes that would take all memory before anything is decoded."""
    for line in data[:4000].split(b"\n"):
        words = line.split()
        if len(words) == 4 and words[0] in (b"-Y", b"+Y") and words[1].isdigit() and words[3].isdigit():
            _check_size(int(words[3]), int(words[1]))
            return
    raise Unreadable(
        "the panorama does not say how large it is in the usual order (-Y rows +X columns); save it anew"
    )


def _exr(data: bytes) -> NDArray[np.float32]:
    import OpenEXR

    with tempfile.NamedTemporaryFile(suffix=".exr") as file:
        file.write(data)
        file.flush()
        try:
            with OpenEXR.File(file.name, header_only=True) as header:
                low, high = header.header()["dataWindow"]
                _check_size(int(high[0] - low[0] + 1), int(high[1] - low[1] + 1))
            with OpenEXR.File(file.name, separate_channels=True) as whole:
                channels = whole.channels()
                if not all(name in channels for name in "RGB"):
                    raise Unreadable("the panorama has no channels R, G and B; save it as a colour picture")
                return np.stack([np.asarray(channels[name].pixels, np.float32) for name in "RGB"], axis=-1)
        except (RuntimeError, TypeError, KeyError, IndexError, OverflowError) as why:
            raise Unreadable("the panorama is damaged or cut short; save it anew") from why
