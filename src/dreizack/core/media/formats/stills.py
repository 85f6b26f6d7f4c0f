"""Single frames: PNG and TIFF as people see them, OpenEXR as light."""

from __future__ import annotations

import struct
import zlib
from collections.abc import Callable
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import OpenEXR
from numpy.typing import NDArray

from ...optics import as_filmed
from ..picture import FramePicture
from .catalogue import DeliveryFormat, FormatError

Floats = NDArray[np.float32]
FrameWriter = Callable[[Path, FramePicture], None]

# PNG, Third Edition (W3C 2023), 11.3.2.5: sRGB, relative colorimetric.
SRGB = b"sRGB" + bytes([1])
# ITU-R BT.709-6, 1: red, green, blue and white, x and y.
REC_709 = (0.64, 0.33, 0.30, 0.60, 0.15, 0.06, 0.3127, 0.3290)
# Where chunks may follow: after the signature and the header.
AFTER_HEADER = 8 + 25


def write_png(path: Path, picture: FramePicture) -> None:
    """The finished picture, 8 bit."""
    path.write_bytes(_png(picture.eight[..., ::-1], path))


def write_png_alpha(path: Path, picture: FramePicture) -> None:
    """Titles alone, 16 bit, straight alpha as PNG wants it."""
    path.write_bytes(_png(picture.straight[..., [2, 1, 0, 3]], path))


def write_tiff(path: Path, picture: FramePicture) -> None:
    """The finished picture, 16 bit, LZW."""
    done, data = cv2.imencode(".tif", np.ascontiguousarray(picture.deep[..., ::-1]))
    if not done:
        raise OSError(f"{path.name} could not be encoded as TIFF")
    path.write_bytes(data.tobytes())


def write_light(path: Path, picture: FramePicture) -> None:
    """Half floats, scene-linear Rec.709, premultiplied alpha, no backdrop, no view transform; exposure
    applied."""
    write_exr(path, titles_light(picture))


def titles_light(picture: FramePicture) -> Floats:
    """Light of titles (height, width, 4) as it was traced, exposed, and as the plate's camera would have
    filmed it; where there is shadow, alpha has it too: whoever puts it over the plate darkens that."""
    passes, settings = picture.passes, picture.settings
    if passes is None or settings is None:
        return picture.alone.premultiplied
    light = as_filmed(passes, settings).beauty.copy()
    light[..., :3] *= 2.0**settings.exposure
    if light.shape[2] > 4:
        light[..., 3] += light[..., 4] * np.float32(np.mean(settings.shadow_tone))
    return light[..., :4]


def write_exr(path: Path, rgba: Floats) -> None:
    """Write (height, width, 4) as a half-float RGBA file, ZIPS compression; a fifth channel is the shadow."""
    half = rgba.astype(np.float16)
    channels = {"RGBA": np.ascontiguousarray(half[..., :4])}
    if rgba.shape[2] > 4:
        channels["shadow"] = np.ascontiguousarray(half[..., 4])
    with OpenEXR.File(exr_header(), channels) as file:
        file.write(str(path))


def exr_header(colour: bool = True, **more: Any) -> dict[str, Any]:
    """Attributes of a part: its primaries, and what its values are, ``colour`` or data (OpenEXR, Standard
    Attributes: chromaticities, colorInteropID)."""
    return {
        "compression": OpenEXR.ZIPS_COMPRESSION,
        "type": OpenEXR.scanlineimage,
        "chromaticities": REC_709,
        "colorInteropID": "lin_rec709_scene" if colour else "data",
        **more,
    }


def read_exr(path: Path) -> Floats:
    """Read back (height, width, 4) float32, or five channels where there is shadow."""
    with OpenEXR.File(str(path)) as file:
        channels = file.channels()
        rgba = np.asarray(channels["RGBA"].pixels, dtype=np.float32)
        if "shadow" not in channels:
            return rgba
        shadow = np.asarray(channels["shadow"].pixels, dtype=np.float32)
        return np.concatenate([rgba, shadow[..., None]], axis=2)


_WRITERS: dict[str, FrameWriter] = {
    "png": write_png,
    "png-alpha": write_png_alpha,
    "tiff": write_tiff,
    "exr": write_light,
}


def plain_writer(written: DeliveryFormat) -> FrameWriter:
    """How frames of a format are written that need no more than the picture; FormatError for others."""
    if written.name not in _WRITERS:
        raise FormatError(f"{written.label} can only be written of a single shot")
    return _WRITERS[written.name]


def _png(picture: NDArray[Any], path: Path) -> bytes:
    done, encoded = cv2.imencode(".png", np.ascontiguousarray(picture))
    if not done:
        raise OSError(f"{path.name} could not be encoded as PNG")
    data = encoded.tobytes()
    chunk = struct.pack(">I", 1) + SRGB + struct.pack(">I", zlib.crc32(SRGB))
    return data[:AFTER_HEADER] + chunk + data[AFTER_HEADER:]
