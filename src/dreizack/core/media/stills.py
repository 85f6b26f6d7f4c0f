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
    write_exr(path, light)


def write_exr(path: Path, rgba: NDArray[np.float32]) -> None:
    """Write (height, width, 4) as a half-float RGBA file, ZIPS compression."""
    header = {"compression": OpenEXR.ZIPS_COMPRESSION, "type": OpenEXR.scanlineimage}
    with OpenEXR.File(header, {"RGBA": np.ascontiguousarray(rgba.astype(np.float16))}) as file:
        file.write(str(path))


def read_exr(path: Path) -> NDArray[np.float32]:
    """Read back (height, width, 4) float32."""
    with OpenEXR.File(str(path)) as file:
        return np.asarray(file.channels()["RGBA"].pixels, dtype=np.float32)


_WRITERS: dict[str, Writer] = {".png": _png, ".exr": _exr}


def still_writer(suffix: str) -> Writer | None:
    """How frames with this suffix are written; None where we do not write such files."""
    return _WRITERS.get(suffix.lower())
