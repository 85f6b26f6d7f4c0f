"""Guides of the denoiser, traced where something is seen."""

from __future__ import annotations

from collections.abc import Callable

import cv2
import numpy as np
from numpy.typing import NDArray

from .pictures import feature_samples
from .stage import Stage
from .stopping import heeding

Floats = NDArray[np.float32]

SAMPLES = 8
# Moments of the open shutter that guides know.
MOMENTS = 4


class Guiding:
    """What guides the denoiser, step by step, of a picture ``size`` (width, height) large; steps have ``rays`` rays at most."""

    def __init__(self, stage: Stage, size: tuple[int, int], rays: int) -> None:
        self.stage, self.size, self.rays = stage, size, rays
        self.picture: Floats = np.zeros((size[1], size[0], 6), np.float32)
        self._left: list[tuple[int, NDArray[np.uint32]]] | None = None

    @property
    def done(self) -> bool:
        return self._left is not None and not self._left

    def step(self, alpha: Floats, stopped: Callable[[], bool] | None) -> None:
        """One piece of work. Guides are traced where ``alpha`` (height, width), known when it begins, says that something
        is or may be. Raises Stopped when called off.
        """
        moments = min(self.stage.moments, MOMENTS)
        each = SAMPLES // moments
        if self._left is None:
            near = cv2.dilate((alpha > 0).astype(np.uint8), np.ones((3, 3), np.uint8))
            pixels = np.flatnonzero(near).astype(np.uint32)
            pieces = np.array_split(pixels, max(1, -(-len(pixels) * each // self.rays)))
            self._left = [(number, piece) for number in range(moments) for piece in pieces if len(piece)]
            return
        number, piece = self._left[-1]
        moment = self.stage.at_moment(number * self.stage.moments // moments)
        with heeding(stopped):
            found = feature_samples(self.stage, moment, self.size, piece, each, number * each)
        self.picture.reshape(-1, 6)[piece] += found / np.float32(moments)
        self._left.pop()
