"""What lies where in the picture of a shot's camera: rays through places that somebody points at."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..document import Shot
from ..match import on_ground
from .baking import bake, plate_bending
from .frame import frame_state

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Sight:
    """The camera at one frame: where it is (3,), its axes (3, 3): right, up, forward, half its height of view
    at distance 1, the picture's aspect, and how its lens bends."""

    eye: Floats
    axes: Floats
    half: float
    aspect: float
    bending: float

    def ways(self, places: Floats) -> Floats:
        """Directions (n, 3) of places (n, 2) in the picture: shares of its width and height from the top
        left."""
        x, y = (places[:, 0] - 0.5) * self.aspect, 0.5 - places[:, 1]
        square, share = x**2 + y**2, np.ones(len(places))
        for _ in range(12 if self.bending else 0):
            share = 1 / (1 + self.bending * square * share**2)
        x, y = x * share * 2 * self.half, y * share * 2 * self.half
        ways: Floats = self.axes[2] + x[:, None] * self.axes[0] + y[:, None] * self.axes[1]
        return ways

    def on_ground(self, places: Floats) -> Floats:
        """Where the ground (y = 0) is seen at places (n, 2), (n, 3). Contradicts above the horizon."""
        return on_ground(self.eye, self.ways(places))

    def seen(self, points: Floats) -> Floats:
        """Places (n, 2) at which points (n, 3) are seen; NaN behind the camera."""
        away = (points - self.eye) @ self.axes.T
        with np.errstate(divide="ignore", invalid="ignore"):
            flat = away[:, :2] / away[:, 2:] / (2 * self.half)
        flat[away[:, 2] <= 1e-6] = np.nan
        flat = flat * (1 + self.bending * (flat**2).sum(axis=1, keepdims=True))
        return np.stack([flat[:, 0] / self.aspect + 0.5, 0.5 - flat[:, 1]], axis=1)


def sight(shot: Shot, frame: float) -> Sight:
    """The camera of a shot at a frame."""
    pose = frame_state(shot, bake(shot, np.array([float(frame)])), 0).pose
    half = float(np.tan(np.radians(pose.angle / 2)))
    return Sight(np.asarray(pose.position), pose.axes, half, shot.format.aspect, plate_bending(shot))
