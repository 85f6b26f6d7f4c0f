"""Tracing a frame: all at once for deliveries, step by step for looking."""

from __future__ import annotations

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
# Rays in flight at once bound the memory; a pixel row band bounds how long a step takes.
RAYS = 2_200_000
STEP_RAYS = 130_000
FEATURE_SAMPLES = 4


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
    """Trace what is on stage; ``stopped`` is asked between passes and ends it with :class:`Stopped`."""
    mi = engine()
    rows = max(1, min(height, RAYS // width))
    each = max(1, min(quality.samples, RAYS // (width * rows)))
    path, total = path_integrator(), np.zeros((height, width, 4), np.float32)
    features = np.zeros((height, width, 6), np.float32)
    for top in range(0, height, rows):
        count = min(rows, height - top)
        sensor = stage.sensor(width, height, top, count)
        band, done, seed = total[top : top + count], 0, 0
        while done < quality.samples:
            if stopped():
                raise Stopped
            now = min(each, quality.samples - done)
            band += np.array(mi.render(stage.scene, sensor=sensor, integrator=path, spp=now, seed=seed)) * now
            done, seed = done + now, seed + 1
        band /= quality.samples
        features[top : top + count] = _features(stage, sensor)
    clean = denoise(_finite(total), features[..., :3], features[..., 3:], quality.denoiser, stopped)
    return Traced(clean, quality.samples)


def _features(stage: Stage, sensor: Any) -> Floats:
    mi = engine()
    passes = np.array(mi.render(stage.scene, sensor=sensor, integrator=feature_integrator(), spp=FEATURE_SAMPLES, seed=7))
    result: Floats = np.nan_to_num(passes[..., -6:]).astype(np.float32)
    return result


def _finite(picture: Floats) -> Floats:
    """A lone NaN from a degenerate path would spread in the denoiser."""
    return np.nan_to_num(picture, nan=0.0, posinf=1e4, neginf=0.0)


class Progressive:
    """A picture that sharpens: bands of one sample each, so that any step is short.

    >>> # picture = Progressive(stage, 480, 270); picture.step() ... picture.view("fast")
    """

    def __init__(self, stage: Stage, width: int, height: int) -> None:
        self.stage, self.width, self.height = stage, width, height
        self.rows = max(1, min(height, STEP_RAYS // width))
        self.bands = list(range(0, height, self.rows))
        self.sum = np.zeros((height, width, 4), np.float32)
        self.features: Floats | None = None
        self.samples = 0
        self._next = 0
        self._path = path_integrator()

    def step(self) -> bool:
        """Trace one band; true when every pixel has one sample more."""
        top = self.bands[self._next]
        rows = min(self.rows, self.height - top)
        sensor = self.stage.sensor(self.width, self.height, top, rows)
        picture = engine().render(self.stage.scene, sensor=sensor, integrator=self._path, spp=1, seed=self.samples)
        self.sum[top : top + rows] += _finite(np.array(picture))
        self._next = (self._next + 1) % len(self.bands)
        if self._next == 0:
            self.samples += 1
        return self._next == 0

    def view(self, quality: str, stopped: Callable[[], bool] = lambda: False) -> Traced:
        """The picture so far, denoised; only between whole samples. Raises Stopped when called off."""
        if self.features is None:
            whole = self.stage.sensor(self.width, self.height, 0, self.height)
            self.features = _features(self.stage, whole)
        mean = self.sum / np.float32(max(self.samples, 1))
        return Traced(denoise(mean, self.features[..., :3], self.features[..., 3:], quality, stopped), self.samples)
