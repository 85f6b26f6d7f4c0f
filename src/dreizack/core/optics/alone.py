"""Titles without what is behind them, as files with alpha want them."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from .passes import Passes
from .pipeline import STEPS, Finishing, Step, as_filmed, scene_light
from .view import display_values

Floats = NDArray[np.float32]

# Coverage below which a colour cannot be told.
LEAST = 1e-4


@dataclass(frozen=True)
class Alone:
    """Titles of a frame after all steps, without a backdrop.

    ``light`` (height, width, 3): scene-linear, premultiplied by ``coverage`` (height, width, 3), which
    differs between channels where a lens spreads them; ``glow`` (height, width, 3): light that lenses and
    film spread, as it is where there are no titles; ``shadow`` (height, width, 1): what is taken from
    what is behind.
    """

    light: Floats
    coverage: Floats
    glow: Floats
    shadow: Floats

    @property
    def premultiplied(self) -> Floats:
        """Scene-linear light and alpha (height, width, 4); glow adds light without taking up anything."""
        alpha = self.coverage.max(axis=2, keepdims=True)
        alpha = np.minimum(alpha + self.shadow, 1)
        return np.concatenate([self.light + (1 - self.coverage) * self.glow, alpha], axis=2)

    def straight(self, view: str) -> Floats:
        """Display values and straight alpha (height, width, 4), 0..1.

        Laid over black where display values are mixed (as editing programs do), glow comes out as it is
        seen over black: its alpha is its own display value.
        """
        whole = (self.light / np.maximum(self.coverage, LEAST)).astype(np.float32)
        own = display_values(whole, view)
        spread = display_values(self.glow, view)
        mixed = self.coverage * own + (1 - self.coverage) * spread
        taken = self.coverage.max(axis=2, keepdims=True)
        alpha = taken + (1 - taken) * spread.max(axis=2, keepdims=True)
        alpha = np.clip(alpha + self.shadow, 0, 1)
        colour = np.where(alpha > LEAST, mixed / np.maximum(alpha, LEAST), 0)
        return np.concatenate([np.clip(colour, 0, 1), alpha], axis=2).astype(np.float32)


def alone(passes: Passes, settings: Finishing, steps: tuple[Step, ...] = STEPS) -> Alone:
    """Titles of a frame by themselves: the same steps, over nothing."""
    nothing = replace(settings, backdrop=np.zeros(3, np.float32))
    still = tuple(step for step in steps if step.kind != "spreads")
    light = np.maximum(scene_light(passes, nothing, still), 0)
    filmed = as_filmed(passes, settings)
    covered = np.concatenate([filmed.coverage, filmed.shadow], axis=2)
    coverage = np.repeat(covered[..., :1], 3, axis=2)
    for step in steps:
        if step.kind == "moves":
            coverage = step.apply(np.ascontiguousarray(coverage), passes, nothing)
    coverage = np.clip(coverage, 0, 1)
    glow = np.zeros_like(light)
    if settings.optics and len(still) < len(steps):
        whole = scene_light(passes, nothing, steps)
        glow = np.maximum(whole - light, 0)
        light = np.maximum(whole - (1 - coverage) * glow, 0)
    shadow = np.clip(covered[..., 1:] * np.float32(np.mean(settings.shadow_tone)), 0, 1)
    return Alone(light, coverage, glow, shadow)
