"""Single frames: PNG as people see them, OpenEXR as light."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import cv2
import numpy as np
import OpenEXR
from numpy.typing import NDArray

from ..optics import Finishing, Passes, finished

Writer = Callable[[Path, Passes, Finishing], None]


def _png(path: Path, passes: Passes, settings: Finishing) -> None:
    done, data = cv2.imencode(".png", finished(passes, settings)[..., ::-1])
    if not done:
        raise OSError(f"{path.name} could not be encoded as PNG")
    path.write_bytes(data.tobytes())


def _exr(path: Path, passes: Passes, settings: Finishing) -> None:
    """Half floats, scene-linear Rec.709, premultiplied alpha, no backdrop, no view transform; exposure
    applied."""
    light = passes.beauty.copy()
    light[..., :3] *= 2.0**settings.exposure
    if light.shape[2] > 4:
        # Whoever puts it over the plate has the shadow too.
        light[..., 3] += light[..., 4] * np.float32(np.mean(settings.shadow_tone))
    write_exr(path, light[..., :4])


def write_exr(path: Path, rgba: NDArray[np.float32]) -> None:
    """Write (height, width, 4) as a half-float RGBA file, ZIPS compression; a fifth channel is the shadow."""
    header = {"compression": OpenEXR.ZIPS_COMPRESSION, "type": OpenEXR.scanlineimage}
    half = rgba.astype(np.float16)
    channels = {"RGBA": np.ascontiguousarray(half[..., :4])}
    if rgba.shape[2] > 4:
        channels["shadow"] = np.ascontiguousarray(half[..., 4])
    with OpenEXR.File(header, channels) as file:
        file.write(str(path))


def read_exr(path: Path) -> NDArray[np.float32]:
    """Read back (height, width, 4) float32, or five channels where there is shadow."""
    with OpenEXR.File(str(path)) as file:
        channels = file.channels()
        rgba = np.asarray(channels["RGBA"].pixels, dtype=np.float32)
        if "shadow" not in channels:
            return rgba
        shadow = np.asarray(channels["shadow"].pixels, dtype=np.float32)
        return np.concatenate([rgba, shadow[..., None]], axis=2)


_WRITERS: dict[str, Writer] = {".png": _png, ".exr": _exr}


def still_writer(suffix: str) -> Writer | None:
    """How frames with this suffix are written; None where we do not write such files."""
    return _WRITERS.get(suffix.lower())
