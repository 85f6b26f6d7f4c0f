"""What is drawn in a plate at one frame, and its grain: for what comes after tracing."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..document import Shot
from .baking import Baked

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class CoverState:
    """An outline (moments, points, 2) in shares of the plate while the shutter is open, before which nothing
    stands; ``grow`` and ``softness`` in heights of the picture, ``opacity`` 0..1."""

    outlines: Floats
    grow: float
    softness: float
    opacity: float


@dataclass(frozen=True)
class PatchState:
    """A flat area of the plate that shows frame ``still`` of it, or a ``picture``, through a ``homography``
    (3, 3), inside its ``outline`` (points, 2), in shares of the plate."""

    outline: Floats
    homography: Floats
    opacity: float
    softness: float
    still: int
    picture: str
    lit: bool

    @property
    def key(self) -> Any:
        return (
            self.outline.round(7).tolist(),
            self.homography.round(9).tolist(),
            self.opacity,
            self.softness,
            self.still,
            self.picture,
            self.lit,
        )


def covers_at(baked: Baked, index: int) -> tuple[CoverState, ...]:
    """The covers at a frame, by its place in the baked run."""
    return tuple(
        CoverState(
            cover.outlines[index],
            float(cover.grow[index]),
            float(cover.softness[index]),
            float(cover.opacity[index]),
        )
        for cover in baked.covers
    )


def patches_at(baked: Baked, index: int) -> tuple[PatchState, ...]:
    """The flat areas that show something else, at a frame, by its place in the baked run."""
    return tuple(
        PatchState(
            patch.outlines[index],
            patch.homographies[index],
            float(patch.opacity[index]),
            float(patch.softness[index]),
            patch.still,
            patch.picture,
            patch.lit,
        )
        for patch in baked.patches
    )


def plate_grain_of(shot: Shot) -> tuple[tuple[float, float, float], float, float, str] | None:
    """Strength, size in pixels of the shot, and colour of the grain that is laid on words, and the encoding
    it is measured in; None without."""
    of = shot.plate.grain
    if shot.backdrop.kind != "plate" or of.amount <= 0 or not (of.dark or of.middle or of.light):
        return None
    strength = (of.dark * of.amount, of.middle * of.amount, of.light * of.amount)
    return strength, of.size, of.colour, shot.plate.encoding
