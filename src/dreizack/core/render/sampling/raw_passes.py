"""What was traced of a picture, before its noise is taken away."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .denoise import denoise
from .unpremultiply import unpremultiply

Floats = NDArray[np.float32]


@dataclass(frozen=True)
class RawPasses:
    """``light`` (height, width, 4), scene-linear and premultiplied; ``guides`` (height, width, 8): albedo,
    normal, the share that is taken up, and by catchers; that share from all rays there are, ``covered``
    (height, width), where guides tell it. Where there are catchers, their share, the luminance that lights
    bring there and what is left of it, ``caught`` (height, width, 3), and their share as well as it is known,
    ``catchers`` (height, width).

    It knows no stage: the next frame may be traced meanwhile.
    """

    light: Floats
    guides: Floats
    covered: Floats | None
    samples: int
    caught: Floats | None = None
    catchers: Floats | None = None

    def denoised(self, quality: str, stopped: Callable[[], bool] = lambda: False) -> Floats:
        """The light without its noise (height, width, 4); with catchers a fifth channel: their share times
        how much of their light is kept away. Raises Stopped when called off."""
        clean = self._light(quality, stopped)
        if self.caught is None or self.catchers is None:
            return clean
        lacks = self._shadow(quality, stopped) * self.catchers
        clean[..., 3] = np.clip(clean[..., 3] - self.catchers, 0, 1)
        return np.concatenate([clean, lacks[..., None]], axis=2)

    def _shadow(self, quality: str, stopped: Callable[[], bool]) -> Floats:
        """How much of the light that falls on catchers is kept away (height, width), without its noise.

        What is left and what would be there without shadow come from the same rays: where nothing is in the
        way their ratio has no noise.
        """
        assert self.caught is not None and self.catchers is not None
        share, unshaded, shaded = np.moveaxis(self.caught, 2, 0)
        lacks = np.where((share > 0) & (unshaded > 0), 1 - shaded / np.maximum(unshaded, 1e-9), 0)
        lacks = np.clip(lacks, 0, 1).astype(np.float32)
        if not lacks.any():
            return lacks
        there = np.maximum(self.catchers, 1e-3)
        same = np.repeat(there[..., None], 3, axis=2)
        clean = denoise(
            np.concatenate([np.repeat(lacks[..., None], 3, axis=2), there[..., None]], axis=2),
            same,
            self.guides[..., 3:6],
            quality,
            stopped,
        )
        found: Floats = np.clip(clean[..., :3].mean(axis=2), 0, 1)
        return found

    def _light(self, quality: str, stopped: Callable[[], bool]) -> Floats:
        if self.covered is None:
            return denoise(self.light, self.guides[..., :3], self.guides[..., 3:6], quality, stopped)
        colour, features = (
            unpremultiply(self.light[..., :3], self.light[..., 3]),
            unpremultiply(self.guides[..., :6], self.guides[..., 6]),
        )
        clean = denoise(
            np.concatenate([colour, self.covered[..., None]], axis=2),
            features[..., :3],
            features[..., 3:],
            quality,
            stopped,
        )
        clean[..., :3] *= self.covered[..., None]
        return clean
