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
    """``light`` (height, width, 4), scene-linear and premultiplied; ``guides`` (height, width, 7): albedo,
    normal and the share that is taken up, and that share from all rays there are, ``covered`` (height,
    width), where guides tell it.

    It knows no stage: the next frame may be traced meanwhile.
    """

    light: Floats
    guides: Floats
    covered: Floats | None
    samples: int

    def denoised(self, quality: str, stopped: Callable[[], bool] = lambda: False) -> Floats:
        """The light without its noise. Raises Stopped when called off."""
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
