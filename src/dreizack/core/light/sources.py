"""What lights send, and where they lie: panels, discs, spots, points, the sun."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

# On-axis radiant intensity at 0 stops, W/sr: a facing white card at 3 m then has radiance E / π = I / (3² π)
# = 1.
REFERENCE_INTENSITY = 9 * math.pi
# Illuminance in lux in which a white card has the value 1.
WHITE_LUX = 1000.0
# Stops at which there is no light any more.
DARK = -16.0
# The sun stands this far from the origin, in metres: far enough for parallel light, near enough for single
# precision.
SUN_DISTANCE = 1e4
# Shapes of glowing bodies by the kind of light; ambient light has none.
# Power of the distance that makes light weaken less than by its square.
FALLOFFS = {"inverse square": 0.0, "inverse": 1.0, "none": 2.0}
SHAPES = {"panel": "rectangle", "disc": "disk", "spot": "disk", "point": "sphere", "sun": "disk"}


def power_of(stops: Floats) -> Floats:
    """Factors (...) of light in stops (...); at :data:`DARK` and below there is none, so that a light can be
    keyed to nothing.

    >>> power_of(np.array([1.0, 0.0, -16.0])).tolist()
    [2.0, 1.0, 0.0]
    """
    power: Floats = np.where(stops <= DARK, 0.0, np.exp2(stops))
    return power


def source_area(source: str, size: Floats) -> Floats:
    """Area (frames,) that a light shows along its axis; ``size`` (frames, 2) is width and height or diameter,
    twice."""
    area: Floats = size[:, 0] * size[:, 1]
    return area if source == "panel" else area * (math.pi / 4)


def source_radiance(source: str, stops: Floats, tint: Floats, size: Floats) -> Floats:
    """Radiance (frames, 3) of a light: on-axis intensity over the area it shows.

    ``stops`` (frames,), ``tint`` (frames, 3). The sun, of ``size`` degrees, and ambient light give a facing
    white card the value 1 at 0 stops: E = π L sin²(½ size) for a disc of angle ``size`` (CIE 18:2019, 4.3).
    """
    power = power_of(stops)
    if source == "sun":
        level = power / np.sin(np.radians(size[:, 0] / 2)) ** 2
    elif source == "ambient":
        level = power
    else:
        level = REFERENCE_INTENSITY * power / source_area(source, size)
    result: Floats = level[:, None] * tint
    return result


def stops_of(source: str, unit: str, amount: Floats, cone: Floats, penumbra: Floats) -> Floats:
    """Stops (frames,) of a light that is measured in candela, lumen or lux; ``cone`` and ``penumbra``
    (frames,) are a spot's.

    A facing white card in :data:`WHITE_LUX` has the value 1, so that 0 stops are 9000 cd on axis (CIE S 017,
    17-21-045: illuminance is intensity over distance squared). Flux from intensity: 4π for a point, π for
    what glows evenly (Lambert), and for a spot the solid angle of its cone, in whose penumbra half of the
    light is left.

    >>> float(stops_of("point", "candela", np.array([18000.0]), np.zeros(1), np.zeros(1))[0])
    1.0
    """
    if source in ("sun", "ambient"):
        reference: Floats | float = WHITE_LUX
    elif unit == "lumen":
        outer = np.radians(cone / 2)
        full, ends = np.cos(outer * (1 - penumbra)), np.cos(outer)
        whole = {"point": np.full_like(full, 4 * math.pi), "spot": 2 * math.pi * (1 - (full + ends) / 2)}
        spread = whole.get(source, np.full_like(full, math.pi))
        reference = WHITE_LUX * 9 * spread
    else:
        reference = WHITE_LUX * (9 if unit == "candela" else 1)
    result: Floats = np.log2(np.maximum(amount, 1e-9) / reference)
    return result


def source_matrix(source: str, position: Floats, aim: Floats, size: Floats) -> Floats:
    """Object-to-world matrices (frames, 4, 4) of the square -1..1, disc or ball of radius 1 that glows; flat
    ones face +z."""
    if source == "sun":
        away = position - aim
        length = np.linalg.norm(away, axis=1, keepdims=True)
        away = np.where(length > 1e-9, away / np.maximum(length, 1e-9), [0.0, 1.0, 0.0])
        radius = SUN_DISTANCE * np.tan(np.radians(size / 2))
        return facing_matrix(away * SUN_DISTANCE, np.zeros_like(aim), radius)
    if source == "point":
        matrix = np.tile(np.eye(4), (len(position), 1, 1))
        matrix[:, :3, :3] *= (size[:, :1] / 2)[..., None]
        matrix[:, :3, 3] = position
        return matrix
    return facing_matrix(position, aim, size / 2)


def facing_matrix(position: Floats, aim: Floats, half: Floats) -> Floats:
    """Matrices (frames, 4, 4) that lay the square -1..1, facing +z, at ``position`` towards ``aim``; ``half``
    (frames, 2)."""
    forward = aim - position
    length = np.linalg.norm(forward, axis=1, keepdims=True)
    forward = np.where(length > 1e-9, forward / np.maximum(length, 1e-9), [0.0, 0.0, -1.0])
    # Straight up or down there is no "up" to keep; any steady one will do.
    steep = np.abs(forward[:, 1:2]) > 0.9999
    up = np.where(steep, [0.0, 0.0, -1.0], [0.0, 1.0, 0.0])
    side = np.cross(up, forward)
    side /= np.linalg.norm(side, axis=1, keepdims=True)
    above = np.cross(forward, side)
    matrix = np.zeros((len(position), 4, 4))
    matrix[:, :3, 0] = side * half[:, :1]
    matrix[:, :3, 1] = above * half[:, 1:2]
    matrix[:, :3, 2] = forward
    matrix[:, :3, 3] = position
    matrix[:, 3, 3] = 1
    return matrix


def cone_cosines(cone: Floats, penumbra: Floats) -> Floats:
    """Cosines (frames, 2) of the half angles at which a cone of ``cone`` degrees ends and is full."""
    outer = np.radians(cone / 2)
    result: Floats = np.cos(np.stack([outer, outer * (1 - penumbra)], axis=1))
    return result
