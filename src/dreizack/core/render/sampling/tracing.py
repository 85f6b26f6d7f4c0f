"""Tracing a frame: all at once for deliveries, step by step for looking."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..staging.stage import Stage
from ..transport.lens import Window
from .feature_pass import LOOKED_AT, FeaturePass
from .progressive_light import Sampling
from .quality import Quality
from .raw_passes import RawPasses

Floats = NDArray[np.float32]

# Rays in flight at once bound the memory; rays and seconds a step bound how long others have to wait for
# their turn.
RAYS = 2_200_000
STEP_RAYS, STEP_SECONDS = 1_000_000, 0.3
# Noise that looking does not go below; about what a denoiser takes away without a trace.
LOOKING = 0.03


@dataclass(frozen=True)
class Traced:
    """A traced picture: ``rgba`` (height, width, 4) scene-linear, premultiplied, denoised; where there are
    catchers a fifth channel, how much of the light falling on them is kept away.

    ``samples`` is what it was traced for: each pixel that shows something had about so many on average.
    """

    rgba: Floats
    samples: int


def trace_passes(
    stage: Stage, width: int, height: int, quality: Quality, stopped: Callable[[], bool] | None = None
) -> RawPasses:
    """Trace what is on stage; ``stopped`` is asked all the while and ends it with :class:`Stopped`."""
    sampling, guiding = (
        Sampling(stage, width, height, quality.samples, RAYS),
        FeaturePass(stage, (width, height), RAYS),
    )
    while not sampling.begun:
        sampling.step(stopped)
    alpha = sampling.mean()[..., 3]
    while not guiding.done:
        guiding.step(alpha, stopped)
    sampling.judge(guiding.edges)
    while not sampling.done:
        sampling.step(stopped)
    return _gathered(sampling, guiding, quality.samples)


def trace(
    stage: Stage, width: int, height: int, quality: Quality, stopped: Callable[[], bool] | None = None
) -> Traced:
    """The same, denoised."""
    found = trace_passes(stage, width, height, quality, stopped)
    return Traced(found.denoised(quality.denoiser, stopped or _never), found.samples)


class Progressive:
    """A picture, or a window of it, that sharpens: every step is short.

    >>> # picture = Progressive(stage, 480, 270, 16); picture.step() ... picture.view("fast")
    """

    def __init__(
        self, stage: Stage, width: int, height: int, samples: int, window: Window | None = None
    ) -> None:
        self.light = Sampling(stage, width, height, samples, STEP_RAYS, STEP_SECONDS, LOOKING, window)
        self.guiding = FeaturePass(stage, (width, height), STEP_RAYS, LOOKED_AT)

    @property
    def first(self) -> bool:
        """Whether every pixel has had its first samples, and guides."""
        return self.light.begun and self.guiding.ready

    @property
    def done(self) -> bool:
        return self.guiding.done and self.light.done

    @property
    def samples(self) -> int:
        """Samples a pixel, of those it was asked for, that are in it."""
        return round(self.light.samples * min(self.light.share, 1.0))

    def step(self, stopped: Callable[[], bool] | None = None) -> None:
        """One short piece of work. Raises Stopped when called off."""
        if not self.light.begun:
            self.light.step(stopped)
        elif not self.guiding.done:
            self.guiding.step(self.light.mean()[..., 3], stopped)
            if self.guiding.done:
                self.light.judge(self.guiding.edges)
        else:
            self.light.step(stopped)

    def view(self, quality: str, stopped: Callable[[], bool] | None = None) -> Traced:
        """The window so far, denoised. Raises Stopped when called off."""
        return Traced(
            _gathered(self.light, self.guiding, self.samples).denoised(quality, stopped or _never),
            self.samples,
        )


def _gathered(light: Sampling, guiding: FeaturePass, samples: int) -> RawPasses:
    within, mean = light.window.slices, light.mean()
    covered = (
        guiding.covered(mean[..., 3], light.count.reshape(mean.shape[:2]))[within]
        if guiding.tell_coverage
        else None
    )
    caught, catchers = light.caught(), None
    if caught is not None:
        share = caught[..., 0]
        catchers = (
            guiding.covered(share, light.count.reshape(share.shape), 7) if guiding.tell_coverage else share
        )[within]
        caught = caught[within]
    return RawPasses(mean[within], guiding.picture[within], covered, samples, caught, catchers)


def _never() -> bool:
    return False
