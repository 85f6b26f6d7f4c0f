"""Generated surroundings: studios to be mirrored in metal, as equirectangular pictures.

Row 0 is the zenith. Column c looks towards azimuth 2π (c + ½) / width, measured from -z towards
+x: the middle column shows +z, what stands behind the camera.
"""

from __future__ import annotations

from typing import get_args

import numpy as np
from numpy.typing import NDArray

from ..caching import cached_by_size
from ..document.surroundings import Studio

Pictures = NDArray[np.float32]

STUDIOS: tuple[str, ...] = get_args(Studio)
HEIGHT = 256

# Each studio: sky and floor colour, and boxes of light: azimuth and elevation of the centre, half width and
# half height (degrees), softness (degrees), radiance.
_STUDIOS: dict[str, dict[str, list]] = {  # type: ignore[type-arg]
    "dusk": {
        "zenith": [0.05, 0.07, 0.11],
        "horizon": [0.30, 0.21, 0.15],
        "floor": [0.03, 0.028, 0.026],
        "boxes": [
            (-62, 32, 22, 18, 6, [3.6, 3.5, 3.4]),
            (68, 16, 8, 40, 4, [2.2, 2.5, 3.1]),
            (0, 66, 60, 8, 6, [2.4, 2.3, 2.2]),
            (-14, -3, 30, 2.5, 3, [2.6, 1.3, 0.55]),
            (150, 20, 24, 24, 8, [2.0, 2.2, 2.6]),
            (-140, 12, 12, 30, 6, [2.6, 1.9, 1.3]),
        ],
    },
    "gallery": {
        "zenith": [0.5, 0.5, 0.5],
        "horizon": [0.26, 0.26, 0.26],
        "floor": [0.1, 0.1, 0.1],
        "boxes": [
            (-75, 30, 12, 34, 3, [6, 6, 6]),
            (-38, 30, 8, 34, 3, [3, 3, 3]),
            (64, 28, 22, 26, 4, [3, 3, 3]),
            (0, 72, 60, 6, 4, [3, 3, 3]),
            (160, 30, 20, 30, 6, [3, 3, 3]),
        ],
    },
    "overcast": {
        "zenith": [0.95, 1.0, 1.06],
        "horizon": [0.62, 0.64, 0.66],
        "floor": [0.15, 0.15, 0.14],
        "boxes": [(-50, 55, 50, 28, 25, [1.3, 1.3, 1.3])],
    },
    "dark": {
        "zenith": [0.008, 0.009, 0.011],
        "horizon": [0.02, 0.02, 0.021],
        "floor": [0.004, 0.004, 0.004],
        "boxes": [
            (-72, 18, 3, 46, 2, [6, 6.2, 6.6]),
            (76, 18, 3, 46, 2, [6, 6.2, 6.6]),
            (0, 74, 50, 4, 3, [2.4, 2.4, 2.4]),
            (170, 40, 30, 3, 3, [4, 4, 4]),
        ],
    },
    "softboxes": {
        "zenith": [0.02, 0.02, 0.021],
        "horizon": [0.05, 0.05, 0.052],
        "floor": [0.02, 0.02, 0.02],
        "boxes": [
            (-52, 34, 20, 22, 2, [5, 5, 5]),
            (56, 22, 14, 30, 2, [2.6, 2.7, 2.9]),
            (180, 48, 40, 8, 3, [4.5, 4.4, 4.2]),
            (0, 80, 60, 6, 4, [2, 2, 2]),
        ],
    },
    "strips": {
        "zenith": [0.006, 0.006, 0.007],
        "horizon": [0.012, 0.012, 0.013],
        "floor": [0.004, 0.004, 0.004],
        "boxes": [(a, 20, 1.6, 62, 1, [7, 7, 7.2]) for a in (-100, -72, -44, -16, 16, 44, 72, 100)]
        + [(180, 40, 60, 2, 1, [6, 6, 6])],
    },
    "ring": {
        "zenith": [0.01, 0.01, 0.011],
        "horizon": [0.03, 0.03, 0.031],
        "floor": [0.01, 0.01, 0.01],
        "boxes": [(a, 14, 15.5, 3.5, 1.5, [5.5, 5.4, 5.2]) for a in range(-180, 180, 30)]
        + [(a, 58, 12, 3, 2, [3, 3.1, 3.3]) for a in range(-180, 180, 24)],
    },
    "window": {
        "zenith": [0.1, 0.095, 0.09],
        "horizon": [0.13, 0.12, 0.11],
        "floor": [0.09, 0.075, 0.06],
        "boxes": [
            (-70 + x * 17, 24 + y * 22, 7.2, 9.6, 0.8, [6.2, 6.6, 7.2])
            for x in (-1, 0, 1)
            for y in (-1, 0, 1)
        ]
        + [(110, 20, 40, 40, 30, [0.35, 0.3, 0.26])],
    },
    "neon alley": {
        "zenith": [0.006, 0.008, 0.016],
        "horizon": [0.03, 0.02, 0.045],
        "floor": [0.012, 0.01, 0.02],
        "boxes": [
            (-80, 16, 2, 44, 1.5, [7, 0.5, 3.4]),
            (-52, 34, 22, 2, 1.5, [0.3, 4.2, 6]),
            (74, 10, 2, 38, 1.5, [0.4, 3.6, 7]),
            (46, 30, 16, 2, 1.5, [7, 3.2, 0.5]),
            (150, 26, 26, 3, 2, [5, 0.6, 4]),
            (-150, 22, 3, 40, 2, [0.5, 5, 4]),
            (12, -14, 26, 2, 2, [2.4, 0.4, 2]),
        ],
    },
    "harbour noon": {
        "zenith": [0.28, 0.46, 0.85],
        "horizon": [0.92, 0.98, 1.04],
        "floor": [0.09, 0.13, 0.15],
        "boxes": [
            (-42, 46, 5, 5, 3, [60, 56, 48]),
            (30, -10, 60, 6, 6, [0.3, 0.36, 0.38]),
            (120, 14, 44, 9, 8, [0.7, 0.7, 0.68]),
        ],
    },
    "warm hall": {
        "zenith": [0.12, 0.08, 0.05],
        "horizon": [0.22, 0.13, 0.075],
        "floor": [0.11, 0.06, 0.035],
        "boxes": [(a, 44, 5, 5, 3, [9, 5.6, 2.9]) for a in (-120, -80, -40, 0, 40, 80, 120)]
        + [(a, 6, 3, 13, 3, [2.2, 1.2, 0.55]) for a in (-100, -60, 60, 100, 160)],
    },
    "horizon": {
        "zenith": [0.018, 0.032, 0.07],
        "horizon": [0.16, 0.13, 0.15],
        "floor": [0.012, 0.016, 0.022],
        "boxes": [
            (0, 1, 180, 1.5, 9, [0.9, 0.42, 0.2]),
            (-30, 3, 62, 5, 26, [1.5, 0.6, 0.2]),
            (-30, 2, 26, 2, 14, [3.2, 1.5, 0.55]),
            (70, 15, 70, 3, 12, [0.07, 0.05, 0.075]),
            (-120, 11, 60, 2, 9, [0.12, 0.07, 0.075]),
        ],
    },
    "starfield": {
        "zenith": [0.012, 0.015, 0.03],
        "horizon": [0.03, 0.035, 0.06],
        "floor": [0.006, 0.007, 0.011],
        "boxes": [
            (
                (a * 137.5) % 360 - 180,
                -20 + (a * 61) % 104,
                1.1 + a % 3 * 0.5,
                1.1 + a % 3 * 0.5,
                0.8,
                [9, 9.2, 10],
            )
            for a in range(46)
        ],
    },
    "checks": {
        "zenith": [0.04, 0.04, 0.04],
        "horizon": [0.04, 0.04, 0.04],
        "floor": [0.03, 0.03, 0.03],
        "boxes": [
            (a + (e // 30 % 2) * 15, e, 7.5, 15, 0.4, [1.5, 1.5, 1.5])
            for e in range(-60, 61, 30)
            for a in range(-180, 180, 30)
        ],
    },
}


@cached_by_size(24)
def panorama(name: str) -> Pictures:
    """Scene-linear picture (256, 512, 3) of a studio."""
    plan = _STUDIOS[name]
    rows, columns = HEIGHT, HEIGHT * 2
    elevation = 90 - (np.arange(rows) + 0.5) * 180 / rows
    azimuth = (np.arange(columns) + 0.5) * 360 / columns
    lift = np.clip(elevation / 90, 0, 1)[:, None] ** 0.55
    sky = np.array(plan["horizon"]) * (1 - lift) + np.array(plan["zenith"]) * lift
    fall = np.clip(-elevation / 90, 0, 1)[:, None] ** 0.4
    ground = np.array(plan["horizon"]) * 0.5 * (1 - fall) + np.array(plan["floor"]) * fall
    blend = _ramp(elevation, -2, 2)[:, None]
    picture = np.repeat((ground * (1 - blend) + sky * blend)[:, None, :], columns, axis=1)
    for at, height, half_width, half_height, soft, radiance in plan["boxes"]:
        # Azimuth in the plan counts from +z (behind the camera), positive to the right.
        away = np.abs((azimuth + at) % 360 - 180)
        across = 1 - _ramp(away * np.cos(np.radians(height)), half_width - soft / 2, half_width + soft / 2)
        upright = 1 - _ramp(np.abs(elevation - height), half_height - soft / 2, half_height + soft / 2)
        picture += (upright[:, None] * across[None])[..., None] * np.array(radiance)
    return picture.astype(np.float32)


def _ramp(x: NDArray[np.float64], low: float, high: float) -> NDArray[np.float64]:
    """Smooth step from 0 at ``low`` to 1 at ``high``."""
    t = np.clip((x - low) / (high - low), 0, 1)
    result: NDArray[np.float64] = t * t * (3 - 2 * t)
    return result
