"""The sky at a time of day, and the sun in it.

Preetham, Shirley & Smits, A Practical Analytic Model for Daylight, SIGGRAPH 1999: luminance after Perez,
colour by its appendix A.2, sunlight by A.1 (Rayleigh scattering, haze and ozone at three wavelengths).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..finish import XYZ_TO_709

Floats = NDArray[np.float64]

# Luminance that has the scene-linear value 1, in kcd/m²: white paper in full sun.
UNIT = 32.0
# Beyond the air the sun gives 133 klx.
SUN_BEYOND = 133.0 / np.pi / UNIT

_ZENITH_X = np.array(
    [
        [0.00166, -0.00375, 0.00209, 0],
        [-0.02903, 0.06377, -0.03202, 0.00394],
        [0.11693, -0.21196, 0.06052, 0.25886],
    ]
)
_ZENITH_Y = np.array(
    [
        [0.00275, -0.00610, 0.00317, 0],
        [-0.04214, 0.08970, -0.04153, 0.00516],
        [0.15346, -0.26756, 0.06670, 0.26688],
    ]
)
# Perez coefficients a..e of Y, x, y: haze times the first plus the second.
_PEREZ = np.array(
    [
        [[0.1787, -1.4630], [-0.3554, 0.4275], [-0.0227, 5.3251], [0.1206, -2.5771], [-0.0670, 0.3703]],
        [[-0.0193, -0.2592], [-0.0665, 0.0008], [-0.0004, 0.2125], [-0.0641, -0.8989], [-0.0033, 0.0452]],
        [[-0.0167, -0.2608], [-0.0950, 0.0092], [-0.0079, 0.2102], [-0.0441, -1.6537], [-0.0109, 0.0529]],
    ]
)


def sun_angles(latitude: float, longitude: float, day: Floats | float, hour: Floats) -> tuple[Floats, Floats]:
    """Elevation and azimuth (clockwise from north) of the sun in degrees, at hours UTC of a day of the year.

    Declination and equation of time after Spencer, Fourier Series Representation of the Position of the Sun,
    1971.
    """
    turn = 2 * np.pi * (day - 1 + (hour - 12) / 24) / 365
    c, s, c2, s2 = np.cos(turn), np.sin(turn), np.cos(2 * turn), np.sin(2 * turn)
    declination = (
        0.006918
        - 0.399912 * c
        + 0.070257 * s
        - 0.006758 * c2
        + 0.000907 * s2
        - 0.002697 * np.cos(3 * turn)
        + 0.00148 * np.sin(3 * turn)
    )
    minutes = 229.18 * (0.000075 + 0.001868 * c - 0.032077 * s - 0.014615 * c2 - 0.040849 * s2)
    angle = np.radians((hour * 60 + minutes + 4 * longitude) / 4 - 180)
    phi = np.radians(latitude)
    up = np.sin(phi) * np.sin(declination) + np.cos(phi) * np.cos(declination) * np.cos(angle)
    east = -np.cos(declination) * np.sin(angle)
    north = np.cos(phi) * np.sin(declination) - np.sin(phi) * np.cos(declination) * np.cos(angle)
    return np.degrees(np.arcsin(np.clip(up, -1, 1))), np.degrees(np.arctan2(east, north)) % 360


def sun_direction(elevation: Floats, azimuth: Floats) -> Floats:
    """Unit vectors (n, 3) towards the sun; north is -z, east +x."""
    e, a = np.radians(elevation), np.radians(azimuth)
    result: Floats = np.stack([np.cos(e) * np.sin(a), np.sin(e), -np.cos(e) * np.cos(a)], axis=-1)
    return result


def sun_level(elevation: Floats, haze: float) -> Floats:
    """What direct sunlight makes of a facing white card, (n, 3) scene-linear; 0 once the sun is down."""
    zenith = 90 - np.asarray(elevation, np.float64)
    # Kasten & Young, Revised Optical Air Mass Tables, 1989.
    mass = 1 / (
        np.maximum(np.cos(np.radians(zenith)), 0) + 0.50572 * np.maximum(96.07995 - zenith, 1e-3) ** -1.6364
    )
    wave = np.array([0.61, 0.55, 0.465])
    beta = 0.04608 * haze - 0.04586
    path = mass[..., None]
    through = (
        np.exp(-0.008735 * wave**-4.08 * path)
        * np.exp(-beta * wave**-1.3 * path)
        * np.exp(-np.array([0.12, 0.085, 0.01]) * 0.35 * path)
    )
    # The disc sets over half a degree.
    up = np.clip((np.asarray(elevation) + 0.27) / 0.53, 0, 1)[..., None]
    result: Floats = SUN_BEYOND * through * up
    return result


def sky_picture(elevation: float, azimuth: float, haze: float, height: int = 256) -> NDArray[np.float32]:
    """The sky without the disc of the sun, as an equirectangular picture (height, 2 height, 3), zenith
    first."""
    low = max(elevation, 0.0)
    sun = sun_direction(np.array(low), np.array(azimuth))
    rows = np.radians(90 - (np.arange(height) + 0.5) * 180 / height)
    columns = (np.arange(2 * height) + 0.5) * np.pi / height
    lift = np.maximum(rows, np.radians(0.5))[:, None]
    direction = np.stack(
        [
            np.cos(lift) * np.sin(columns),
            np.broadcast_to(np.sin(lift), (height, 2 * height)),
            -np.cos(lift) * np.cos(columns),
        ],
        axis=-1,
    )
    theta, gamma = np.pi / 2 - lift, np.arccos(np.clip(direction @ sun, -1, 1))
    zenith_sun = np.radians(90 - low)
    coefficients = _PEREZ @ np.array([haze, 1.0])

    def perez(c: Floats, t: Floats | float, g: Floats | float) -> Floats:
        result: Floats = (1 + c[0] * np.exp(c[1] / np.maximum(np.cos(t), 1e-3))) * (
            1 + c[2] * np.exp(c[3] * g) + c[4] * np.cos(g) ** 2
        )
        return result

    powers = np.array([zenith_sun**3, zenith_sun**2, zenith_sun, 1])
    hazes = np.array([haze**2, haze, 1])
    chi = (4 / 9 - haze / 120) * (np.pi - 2 * zenith_sun)
    zeniths = [
        max((4.0453 * haze - 4.9710) * np.tan(chi) - 0.2155 * haze + 2.4192, 0.02),
        hazes @ _ZENITH_X @ powers,
        hazes @ _ZENITH_Y @ powers,
    ]
    luminance, x, y = (
        z * perez(c, theta, gamma) / perez(c, 0.0, zenith_sun)
        for z, c in zip(zeniths, coefficients, strict=True)
    )
    # Below the horizon the model knows nothing; light fades within five degrees of twilight.
    luminance = np.maximum(luminance, 0) / UNIT * np.exp(min(elevation, 0.0) * 0.9)
    y = np.maximum(y, 1e-3)
    sky = np.maximum(
        np.stack([x / y * luminance, luminance, (1 - x - y) / y * luminance], axis=-1) @ XYZ_TO_709.T, 0
    )
    card = np.maximum(sky[: height // 2], 0).mean(axis=(0, 1)) + sun_level(np.array(elevation), haze) * max(
        np.sin(np.radians(elevation)), 0
    )
    share = np.clip(0.5 + np.degrees(rows) / 1.5, 0, 1)[:, None, None]
    ground = np.array([0.20, 0.18, 0.155]) * card
    result: NDArray[np.float32] = (sky * share + ground * (1 - share)).astype(np.float32)
    return result
