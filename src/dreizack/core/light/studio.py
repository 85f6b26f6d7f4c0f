"""Generated surroundings: studios to be mirrored in metal, as equirectangular pictures.

Row 0 is the zenith. Column c looks towards azimuth 2π (c + ½) / width, measured from -z towards
+x: the middle column shows +z, what stands behind the camera.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

Pictures = NDArray[np.float32]

STUDIOS = ("dusk", "gallery", "overcast", "dark")
HEIGHT = 256

# Each studio: sky and floor colour, and boxes of light: azimuth and elevation of the centre,
# half width and half height (degrees), softness (degrees), radiance.
_STUDIOS: dict[str, dict[str, list]] = {  # type: ignore[type-arg]
    "dusk": {
        "zenith": [0.05, 0.07, 0.11], "horizon": [0.30, 0.21, 0.15], "floor": [0.03, 0.028, 0.026],
        "boxes": [
            (-62, 32, 22, 18, 6, [3.6, 3.5, 3.4]), (68, 16, 8, 40, 4, [2.2, 2.5, 3.1]),
            (0, 66, 60, 8, 6, [2.4, 2.3, 2.2]), (-14, -3, 30, 2.5, 3, [2.6, 1.3, 0.55]),
            (150, 20, 24, 24, 8, [2.0, 2.2, 2.6]), (-140, 12, 12, 30, 6, [2.6, 1.9, 1.3]),
        ],
    },
    "gallery": {
        "zenith": [0.5, 0.5, 0.5], "horizon": [0.26, 0.26, 0.26], "floor": [0.1, 0.1, 0.1],
        "boxes": [
            (-75, 30, 12, 34, 3, [6, 6, 6]), (-38, 30, 8, 34, 3, [3, 3, 3]), (64, 28, 22, 26, 4, [3, 3, 3]),
            (0, 72, 60, 6, 4, [3, 3, 3]), (160, 30, 20, 30, 6, [3, 3, 3]),
        ],
    },
    "overcast": {
        "zenith": [0.95, 1.0, 1.06], "horizon": [0.62, 0.64, 0.66], "floor": [0.15, 0.15, 0.14],
        "boxes": [(-50, 55, 50, 28, 25, [1.3, 1.3, 1.3])],
    },
    "dark": {
        "zenith": [0.008, 0.009, 0.011], "horizon": [0.02, 0.02, 0.021], "floor": [0.004, 0.004, 0.004],
        "boxes": [
            (-72, 18, 3, 46, 2, [6, 6.2, 6.6]), (76, 18, 3, 46, 2, [6, 6.2, 6.6]), (0, 74, 50, 4, 3, [2.4, 2.4, 2.4]),
            (170, 40, 30, 3, 3, [4, 4, 4]),
        ],
    },
}


@lru_cache(maxsize=8)
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
