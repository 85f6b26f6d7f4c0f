"""Named passes out of the tracer."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]
PassName = Literal["albedo", "normal", "depth", "motion", "part", "catcher shadow", "catcher reflection"]


@dataclass(frozen=True)
class Passes:
    """Pictures of one frame, all of one size, scene-linear float32.

    ``beauty`` (height, width, 4): light, premultiplied by coverage, its last channel; where there are
    catchers (height, width, 5): how much of the light that falls there is kept away. ``more``: what else was
    asked for, by name: albedo, normal (height, width, 3), depth in metres, part (height, width, 1), motion in
    pixels (height, width, 2), and what a catcher takes (height, width, 3). ``lights``: each light alone
    (height, width, 3). What nobody asked for is not there, and has cost nothing.
    """

    beauty: Floats
    more: dict[PassName, Floats] = field(default_factory=dict)
    lights: dict[str, Floats] = field(default_factory=dict)

    @property
    def size(self) -> tuple[int, int]:
        """Width and height in pixels."""
        return self.beauty.shape[1], self.beauty.shape[0]

    @property
    def shadow(self) -> Floats:
        """How much of the light on what is behind is kept away (height, width, 1), 0..1."""
        if self.beauty.shape[2] < 5:
            return np.zeros((*self.beauty.shape[:2], 1), np.float32)
        return np.clip(self.beauty[..., 4:5], 0, 1)

    @property
    def coverage(self) -> Floats:
        """Share of each pixel that is taken up (height, width, 1), 0..1."""
        return np.clip(self.beauty[..., 3:4], 0, 1)
