"""Flare: what a lens makes of a light that shines into it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..images import larger
from ..settings import Place, Values

Floats = NDArray[np.float32]

# Of each ghost: how far along the line from the light through the middle (1), its size in heights, how bright
# it is, and its colour. A made-up lens of seven elements; the live view has the same table.
GHOSTS = (
    (0.42, 0.020, 0.55, (1.0, 0.72, 0.42)),
    (0.70, 0.038, 0.22, (0.55, 1.0, 0.62)),
    (1.22, 0.060, 0.16, (0.42, 0.66, 1.0)),
    (1.48, 0.026, 0.50, (1.0, 0.46, 0.30)),
    (1.74, 0.090, 0.10, (0.62, 0.52, 1.0)),
    (2.12, 0.140, 0.07, (0.40, 0.92, 1.0)),
)
# How much of the light is in ghosts, how soft their edges are, as a share of their size, and how the glow
# falls off: by this power of the distance.
SHARE, SOFT, FALLOFF = 0.06, 0.08, 2.4
# The star: how narrow its rays are, and how far they reach, in sizes of the light.
NARROW, RAYS = 220.0, 9.0
# What is smooth is made at a part of the size.
COARSER = 3


def flared(light: Floats, of: Values, place: Place) -> Floats:
    """Glow, star and ghosts of one light, added."""
    amount = of["flare/amount"]
    if amount <= 0:
        return light
    rows, columns = light.shape[:2]
    small = max(2, rows // COARSER), max(2, columns // COARSER)
    # Pixels from the middle of the whole picture, in its heights, y upward.
    x = ((np.arange(small[1]) + 0.5) * columns / small[1] + place.left - place.width / 2) / place.height
    y = (place.height / 2 - (np.arange(small[0]) + 0.5) * rows / small[0] - place.top) / place.height
    px, py = np.broadcast_arrays(x[None].astype(np.float32), y[:, None].astype(np.float32))
    lx = (of["flare/x"] - 0.5) * place.width / place.height
    ly = 0.5 - of["flare/y"]
    size, blades = of["flare/size"], max(3, round(of["flare/blades"]))
    turn = np.radians(of["flare/turn"])
    tint = np.array([of[f"flare/tint/{c}"] for c in "rgb"], np.float32)

    dx, dy = px - np.float32(lx), py - np.float32(ly)
    away = np.hypot(dx, dy)
    glow = (1 + (away / np.float32(size)) ** 2) ** np.float32(-FALLOFF / 2)
    angle = np.arctan2(dy, dx) + np.float32(turn)
    # An opening with an even number of blades has a ray for each, with an odd one twice as many.
    rays = blades if blades % 2 == 0 else 2 * blades
    ray = np.abs(np.cos(angle * np.float32(rays / 2))) ** np.float32(NARROW)
    star = ray * np.exp(-away / np.float32(size * RAYS)) * np.float32(of["flare/star"])
    made = (glow + star)[..., None] * tint
    if of["flare/ghosts"] > 0:
        for along, wide, bright, colour in GHOSTS:
            far = (along - 1) * of["flare/spread"]
            gx, gy = px + np.float32(lx * far), py + np.float32(ly * far)
            shape = _opening(gx, gy, blades, turn) / np.float32(wide)
            inside = np.clip((1 - shape) / SOFT + 0.5, 0, 1)
            # A little brighter towards their rim, as spherical aberration makes them.
            shown = inside * (0.6 + 0.4 * np.minimum(shape, 1) ** 4)
            made += (shown * np.float32(SHARE * bright * of["flare/ghosts"]))[..., None] * np.array(
                colour, np.float32
            )
    whole = larger(np.ascontiguousarray(made, np.float32), columns, rows)
    result: Floats = light + np.float32(amount) * whole
    return result


def _opening(x: Floats, y: Floats, blades: int, turn: float) -> Floats:
    """Distance from the middle of a regular polygon, 1 at its edge where it is 1 wide."""
    sector = 2 * np.pi / blades
    angle = np.arctan2(y, x) + turn
    within = np.mod(angle, sector) - sector / 2
    found: Floats = (np.hypot(x, y) * np.cos(within) / np.cos(sector / 2)).astype(np.float32)
    return found
