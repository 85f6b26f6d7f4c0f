"""Tracing a frame: all at once for deliveries, step by step for looking."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .denoise import denoise
from .lens import Window
from .pictures import feature_picture, light_picture
from .quality import Quality
from .stage import Stage
from .stopping import Stopped

Floats = NDArray[np.float32]

# Rays in flight at once bound the memory; rays a step bound how soon a step can be called off.
RAYS = 2_200_000
STEP_RAYS = 80_000
# A feature ray ends where it first meets something.
FEATURE_STEP_RAYS = 500_000
FEATURE_SAMPLES = 8
FEATURE_MOMENTS = 4
PASS = 4


@dataclass(frozen=True)
class Traced:
    """A traced picture: ``rgba`` (height, width, 4) scene-linear, premultiplied, denoised."""

    rgba: Floats
    samples: int


def trace(stage: Stage, width: int, height: int, quality: Quality, stopped: Callable[[], bool] = lambda: False) -> Traced:
    """Trace what is on stage; ``stopped`` is asked between bands and ends it with :class:`Stopped`."""
    total, features = np.zeros((height, width, 4), np.float32), np.zeros((height, width, 6), np.float32)
    for picture, look, samples in ((total, light_picture, quality.samples), (features, feature_picture, FEATURE_SAMPLES)):
        # Moments of the open shutter share the samples.
        moments = min(stage.moments, samples)
        each = max(1, samples // moments)
        for number in range(moments):
            moment = stage.at_moment(number * stage.moments // moments)
            for window in _bands(width, height, each, RAYS):
                if stopped():
                    raise Stopped
                _add(picture, window, look(stage, moment, (width, height), window, each, number * each), 1 / moments)
    clean = denoise(total, features[..., :3], features[..., 3:], quality.denoiser, stopped)
    return Traced(clean, quality.samples)


def _bands(width: int, height: int, samples: int, rays: int) -> list[Window]:
    """Equal bands of a picture of about so many rays."""
    count = max(1, min(height, math.ceil(width * height * samples / rays)))
    rows = math.ceil(height / count)
    return [Window(0, top, width, min(rows, height - top)) for top in range(0, height, rows)]


def _add(picture: Floats, window: Window, part: Floats, weight: float) -> None:
    picture[window.top : window.top + window.rows, window.left : window.left + window.columns] += part * np.float32(weight)


class Progressive:
    """A picture that sharpens: passes of a few samples, band by band, so that any step is short.

    >>> # picture = Progressive(stage, 480, 270); picture.step() ... picture.view("fast")
    """

    def __init__(self, stage: Stage, width: int, height: int) -> None:
        self.stage, self.width, self.height = stage, width, height
        self.sum = np.zeros((height, width, 4), np.float32)
        self.features = np.zeros((height, width, 6), np.float32)
        self.samples = 0
        self._latest = np.zeros_like(self.sum)
        # Where things move while the shutter is open, each pass shows one moment of it.
        self._each = PASS if stage.moments == 1 else 1
        self._passes = 0
        # Plain lists and a counter: a generator would tie stage and picture into a cycle, and scenes
        # that wait for the garbage collector slow every kernel down.
        moments = min(stage.moments, FEATURE_MOMENTS)
        self._features_left = [(k, window) for k in range(moments) for window in _bands(width, height, FEATURE_SAMPLES // moments, FEATURE_STEP_RAYS)]
        self._feature_moments = moments
        self._bands = _bands(width, height, self._each, STEP_RAYS)
        self._next = 0

    def step(self) -> bool:
        """Trace one band; true when every pixel has one pass more."""
        size = (self.width, self.height)
        if self._features_left:
            number, window = self._features_left.pop()
            each = FEATURE_SAMPLES // self._feature_moments
            moment = self.stage.at_moment(number * self.stage.moments // self._feature_moments)
            _add(self.features, window, feature_picture(self.stage, moment, size, window, each, number * each), 1 / self._feature_moments)
            return False
        window = self._bands[self._next]
        moment = self.stage.at_moment(spread(self._passes, self.stage.moments))
        self._latest[window.top : window.top + window.rows] = light_picture(self.stage, moment, size, window, self._each, self.samples)
        self._next = (self._next + 1) % len(self._bands)
        if self._next:
            return False
        self.sum += self._latest * np.float32(self._each)
        self.samples += self._each
        self._passes += 1
        return True

    def view(self, quality: str, stopped: Callable[[], bool] = lambda: False) -> Traced:
        """The picture so far, denoised; only between whole passes. Raises Stopped when called off."""
        mean = self.sum / np.float32(max(self.samples, 1))
        return Traced(denoise(mean, self.features[..., :3], self.features[..., 3:], quality, stopped), self.samples)


def spread(number: int, count: int) -> int:
    """The number-th of ``count`` (a power of two) places, so that early ones lie far apart: bits in reverse (van der Corput)."""
    bits = count.bit_length() - 1
    return int(format(number % count, f"0{bits}b")[::-1], 2) if bits else 0
