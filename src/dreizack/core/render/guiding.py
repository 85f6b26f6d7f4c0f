"""Guides of the denoiser, traced where something is seen."""

from __future__ import annotations

from collections.abc import Callable

import cv2
import numpy as np
from numpy.typing import NDArray

from .lens import Numbers
from .pictures import feature_samples
from .stage import Stage
from .stopping import heeding

Floats = NDArray[np.float32]
Mask = NDArray[np.bool_]

# Samples of every pixel, and of those that lie where guides change from one pixel to the next.
SAMPLES, AT_EDGES = 8, 32
# Difference between neighbours from which on there is an edge.
EDGE = 0.2
# Moments of the open shutter that guides know.
MOMENTS = 4
# A pixel and its neighbours.
AROUND = np.ones((3, 3), np.uint8)


class Guiding:
    """What guides the denoiser, step by step, of a picture ``size`` (width, height) large; steps have ``rays`` rays at most.

    Few samples do where a surface goes on; at edges the denoiser takes every error of its guides for a feature, and
    pictures in a row flicker.
    """

    def __init__(self, stage: Stage, size: tuple[int, int], rays: int) -> None:
        self.stage, self.size, self.rays = stage, size, rays
        self._sum = np.zeros((size[0] * size[1], 6), np.float32)
        self._count = np.zeros(size[0] * size[1], np.int32)
        self._moments = min(stage.moments, MOMENTS)
        # Moment, pixels, samples and the first of them; a stack.
        self._left: list[tuple[int, Numbers, int, int]] = []
        self._begun = self._careful = False

    @property
    def ready(self) -> bool:
        """Whether every pixel has guides."""
        return self._careful or (self._begun and not self._left)

    @property
    def done(self) -> bool:
        """Whether edges have theirs too."""
        return self._careful and not self._left

    @property
    def picture(self) -> Floats:
        """Albedo and normal so far (height, width, 6)."""
        mean: Floats = self._sum / np.maximum(self._count, 1).astype(np.float32)[:, None]
        return mean.reshape(self.size[1], self.size[0], 6)

    def step(self, alpha: Floats, stopped: Callable[[], bool] | None) -> None:
        """One piece of work. Guides are traced where ``alpha`` (height, width), known when it begins, says that something
        is or may be. Raises Stopped when called off.
        """
        if not self._begun:
            self._begun = True
            self._lay_out(_near(alpha > 0), SAMPLES, 0)
        elif self._left:
            number, pixels, samples, first = self._left[-1]
            moment = self.stage.at_moment(number * self.stage.moments // self._moments)
            with heeding(stopped):
                found = feature_samples(self.stage, moment, self.size, pixels, samples, first)
            self._sum[pixels] += found * np.float32(samples)
            self._count[pixels] += samples
            self._left.pop()
        elif not self._careful:
            self._careful = True
            self._lay_out(_edges(self.picture), AT_EDGES - SAMPLES, SAMPLES)

    def _lay_out(self, where: Mask, samples: int, first: int) -> None:
        """Put down work on pixels, moment by moment in pieces."""
        pixels, each = np.flatnonzero(where).astype(np.uint32), samples // self._moments
        if len(pixels):
            pieces = np.array_split(pixels, -(-len(pixels) * each // self.rays))
            self._left = [(number, piece, each, first + number * each) for number in range(self._moments) for piece in pieces]


def _near(where: NDArray[np.bool_]) -> Mask:
    """Pixels and their neighbours."""
    return cv2.dilate(where.astype(np.uint8), AROUND).astype(np.bool_)


def _edges(guides: Floats) -> Mask:
    """Pixels from whose neighbourhood guides are not the same all over."""
    found: Mask = np.zeros(guides.shape[:2], np.bool_)
    for channel in np.moveaxis(guides, -1, 0):
        found |= cv2.morphologyEx(channel, cv2.MORPH_GRADIENT, AROUND) > EDGE
    return found
