"""The picture all around: a made-up room, a panorama, or the sky; tinted and blurred."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from ..caching import cached_by_size
from ..clips import clip_frame
from ..library import find
from .sky import sky_picture
from .studio import panorama

Pictures = NDArray[np.float32]


@dataclass(frozen=True)
class SurroundingsState:
    """What the surroundings show at one moment; ``sun`` is elevation and azimuth in degrees, of a sky,
    ``frame`` that of a video."""

    source: str = "made-up room"
    studio: str = "dusk"
    picture: str = ""
    haze: float = 3.0
    sun: tuple[float, float] = (0.0, 0.0)
    tint: tuple[float, float, float] = (1.0, 1.0, 1.0)
    blur: float = 0.0
    frame: int = 0

    @property
    def shape(self) -> tuple[str, int]:
        """What stays the same as long as pictures have the same size."""
        return self.source, around_picture(self).shape[0]


def around_picture(around: SurroundingsState) -> Pictures:
    """Scene-linear picture (rows, 2 rows, 3), zenith first; columns as in :func:`.studio.panorama`.

    A panorama or video that is not in the library leaves plain grey.
    """
    found = _tinted(around)
    return (
        np.full((256, 512, 3), 0.18, np.float32) * np.array(around.tint, np.float32)
        if found is None
        else found
    )


@cached_by_size(40)
def _tinted(around: SurroundingsState) -> Pictures | None:
    picture = _plain(around.source, around.studio, around.picture, around.haze, around.sun, around.frame)
    if picture is None:
        return None
    if around.blur > 0:
        picture = blurred(picture, around.blur)
    made: Pictures = (picture * np.array(around.tint, np.float32)).astype(np.float32)
    return made


@cached_by_size(40)
def _plain(
    source: str, studio: str, picture: str, haze: float, sun: tuple[float, float], frame: int
) -> Pictures | None:
    """The picture itself; None where its file is not in the library."""
    if source == "sky":
        return sky_picture(sun[0], sun[1], haze)
    if source == "video":
        shown = clip_frame(picture, frame)
        return (
            None
            if shown is None
            else cv2.resize(shown, (1024, 512), interpolation=cv2.INTER_AREA).astype(np.float32)
        )
    if source == "picture":
        path = find(picture)
        if path is None or path.suffix != ".panorama":
            return None
        kept: Pictures = np.load(path, allow_pickle=False).astype(np.float32)
        return kept
    return panorama(studio)


def blurred(picture: Pictures, angle: float) -> Pictures:
    """A panorama blurred by a Gaussian of standard deviation ``angle`` degrees on the sphere.

    Rows are blurred in the frequency domain, wider towards the poles; columns run on over the poles. No
    steps: both are exact Gaussians, in single precision.
    """
    rows, columns = picture.shape[:2]
    step = 180 / rows
    elevation = np.radians(90 - (np.arange(rows) + 0.5) * step)
    # Up to the whole circle at the poles.
    wide = np.minimum(angle / np.maximum(np.cos(elevation), 1e-3), 180.0) / step
    waves = np.fft.rfftfreq(columns)
    kernel = np.exp(-2 * (np.pi * waves[None] * wide[:, None]) ** 2)
    flat = np.fft.irfft(np.fft.rfft(picture.astype(np.float64), axis=1) * kernel[..., None], columns, axis=1)
    # A great circle through both poles: this column down, the opposite one up again.
    opposite = np.roll(flat, columns // 2, axis=1)[::-1]
    circle = np.concatenate([flat, opposite], axis=0)
    waves = np.fft.rfftfreq(2 * rows)
    kernel = np.exp(-2 * (np.pi * waves * angle / step) ** 2)
    whole = np.fft.irfft(np.fft.rfft(circle, axis=0) * kernel[:, None, None], 2 * rows, axis=0)
    result: Pictures = np.maximum(whole[:rows], 0).astype(np.float32)
    return result


def looked_up(picture: Pictures, direction: NDArray[np.floating]) -> Pictures:
    """Bilinear values (rows, columns, 3) of a panorama in directions (rows, columns, 3)."""
    rows, columns = picture.shape[:2]
    x, y, z = (np.ascontiguousarray(direction[..., k], np.float32) for k in range(3))
    turn = np.arctan2(x, -z)
    up = np.arctan2(y, np.hypot(x, z))
    # A column more on either side, where the panorama goes on.
    wider = cv2.copyMakeBorder(picture, 0, 0, 1, 1, cv2.BORDER_WRAP)
    across = (turn * np.float32(columns / (2 * np.pi)) - np.float32(0.5)) % np.float32(columns) + np.float32(
        1
    )
    down = (0.5 - up * np.float32(1 / np.pi)) * rows - np.float32(0.5)
    result: Pictures = cv2.remap(
        wider, across, down, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
    ).astype(np.float32)
    return result
