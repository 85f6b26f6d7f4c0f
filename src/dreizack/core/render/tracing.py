"""Tracing a frame: all at once for deliveries, step by step for looking."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .denoise import denoise
from .engine import engine
from .quality import Quality
from .stage import Stage
from .stopping import Stopped

Floats = NDArray[np.float32]

DEPTH = 6
# Rays in flight at once bound the memory; rays a step bound how soon a step can be called off.
RAYS = 2_200_000
STEP_RAYS = 200_000
# A feature ray ends where it first meets something.
FEATURE_STEP_RAYS = 500_000
FEATURE_SAMPLES = 8
# Samples of one pass are spread over the pixel together (correlated multi-jittered sampling,
# Kensler 2013), which halves the error of edges; the number must be a square.
PASS = 4


@dataclass(frozen=True)
class Traced:
    """A traced picture: ``rgba`` (height, width, 4) scene-linear, premultiplied, denoised."""

    rgba: Floats
    samples: int


def path_integrator() -> Any:
    return engine().load_dict({"type": "path", "max_depth": DEPTH, "rr_depth": 8, "hide_emitters": True})


def feature_integrator() -> Any:
    return engine().load_dict({"type": "aov", "aovs": "albedo:albedo,normal:sh_normal"})


def trace(stage: Stage, width: int, height: int, quality: Quality, stopped: Callable[[], bool] = lambda: False) -> Traced:
    """Trace what is on stage; ``stopped`` is asked between bands and ends it with :class:`Stopped`."""
    total, features = np.empty((height, width, 4), np.float32), np.empty((height, width, 6), np.float32)
    for picture, integrator, samples in ((total, path_integrator(), quality.samples), (features, feature_integrator(), FEATURE_SAMPLES)):
        for band in _bands(width, height, samples, RAYS):
            if stopped():
                raise Stopped
            _trace_band(stage, picture, band, integrator, samples, seed=0)
    clean = denoise(total, features[..., :3], features[..., 3:], quality.denoiser, stopped)
    return Traced(clean, quality.samples)


def _bands(width: int, height: int, samples: int, rays: int) -> list[tuple[int, int]]:
    """First row and number of rows of equal bands of about so many rays; the last may overhang."""
    count = max(1, min(height, math.ceil(width * height * samples / rays)))
    rows = math.ceil(height / count)
    return [(top, rows) for top in range(0, height, rows)]


def _trace_band(stage: Stage, picture: Floats, band: tuple[int, int], integrator: Any, samples: int, seed: int) -> None:
    """Trace one band into a picture (height, width, channels), as many channels from the last as fit."""
    (top, rows), (height, width, channels) = band, picture.shape
    sensor = stage.sensor(width, height, top, rows)
    traced = np.array(engine().render(stage.scene, sensor=sensor, integrator=integrator, spp=samples, seed=seed * 4099 + top))
    # A lone NaN from a degenerate path would spread in the denoiser.
    clean = np.nan_to_num(traced[: height - top, :, -channels:], nan=0.0, posinf=1e4, neginf=0.0)
    picture[top : top + rows] = clean


class Progressive:
    """A picture that sharpens: passes of a few samples, band by band, so that any step is short.

    >>> # picture = Progressive(stage, 480, 270); picture.step() ... picture.view("fast")
    """

    def __init__(self, stage: Stage, width: int, height: int) -> None:
        self.stage, self.width, self.height = stage, width, height
        self.sum = np.zeros((height, width, 4), np.float32)
        self.features = np.zeros((height, width, 6), np.float32)
        self.samples = 0
        self._latest = np.empty_like(self.sum)
        # Plain lists and a counter: a generator would tie stage and picture into a cycle, and scenes
        # that wait for the garbage collector slow every kernel down.
        self._features_left = _bands(width, height, FEATURE_SAMPLES, FEATURE_STEP_RAYS)
        self._bands = _bands(width, height, PASS, STEP_RAYS)
        self._next = 0

    def step(self) -> bool:
        """Trace one band; true when every pixel has one pass more."""
        if self._features_left:
            band = self._features_left.pop()
            _trace_band(self.stage, self.features, band, feature_integrator(), FEATURE_SAMPLES, seed=0)
            return False
        band = self._bands[self._next]
        _trace_band(self.stage, self._latest, band, path_integrator(), PASS, seed=self.samples + 1)
        self._next = (self._next + 1) % len(self._bands)
        if self._next:
            return False
        self.sum += self._latest * PASS
        self.samples += PASS
        return True

    def view(self, quality: str, stopped: Callable[[], bool] = lambda: False) -> Traced:
        """The picture so far, denoised; only between whole passes. Raises Stopped when called off."""
        mean = self.sum / np.float32(max(self.samples, 1))
        return Traced(denoise(mean, self.features[..., :3], self.features[..., 3:], quality, stopped), self.samples)
