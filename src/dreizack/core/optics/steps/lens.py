"""What a lens does: distortion, fringes, a soft picture over the sharp one, bloom, streaks, rays, veil,
vignette. Steps take and give scene light (height, width, 3), float32; lengths are shares of the height or the
diagonal of the frame, as their values say."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..images import gaussian, larger, scaled_about, shifted, smaller, taken_from
from ..settings import Place, Values
from ..spread import blurred, brighter, spread

Floats = NDArray[np.float32]

# How often rays are doubled: 2 to the power of this many pictures lie along each.
DOUBLINGS = 8
# What is left of a ray at its end.
RAY_END = 0.03


def distorted(light: Floats, of: Values, place: Place) -> Floats:
    """Radial distortion by one term (Brown, Close-range camera calibration, 1971): what is seen at radius r
    comes from r (1 + k r^2), r in halves of the diagonal; scaled so that the corners stay filled."""
    amount = of["distortion/amount"]
    if amount == 0:
        return light
    return _mapped(light, place, lambda square: (1 + amount * square) / max(1.0, 1 + amount))


def fringed(light: Floats, of: Values, place: Place) -> Floats:
    """Lateral chromatic aberration: red imaged larger and blue smaller about the middle, green as it is."""
    amount = of["aberration/amount"]
    if amount == 0:
        return light
    made = light.copy()
    x, y = place.width / 2 - 0.5 - place.left, place.height / 2 - 0.5 - place.top
    for channel, bigger in ((0, 1 + amount / 2), (2, 1 - amount / 2)):
        one = np.ascontiguousarray(light[..., channel])
        made[..., channel] = np.maximum(scaled_about(one, bigger, x, y, held=True), 0)
    return made


def _mapped(light: Floats, place: Place, scale: Callable[[Floats], Any]) -> Floats:
    """A picture whose pixels come from elsewhere: ``scale`` says, by the square of the radius in halves of
    the diagonal, how far from the middle."""
    x, y = place.around(light.shape[:2])
    share = scale(x**2 + y**2)
    half = np.hypot(place.width, place.height) / 2
    columns = (x * share * half + place.width / 2 - 0.5 - place.left).astype(np.float32)
    rows = (y * share * half + place.height / 2 - 0.5 - place.top).astype(np.float32)
    return taken_from(light, columns, rows)


def diffused(light: Floats, of: Values, place: Place) -> Floats:
    """A share of the light softly over the rest; no light is lost."""
    amount = of["diffusion/amount"]
    if amount <= 0:
        return light
    soft = spread(light, of["diffusion/radius"], -1.0)
    return light + np.float32(amount) * (soft - light)


def bloomed(light: Floats, of: Values, place: Place) -> Floats:
    """What is bright spreads; what is spread is missing where it came from, so that no light is added or
    lost."""
    amount = of["bloom/amount"]
    if amount <= 0 or of["bloom/radius"] <= 0:
        return light
    bright = brighter(light, of["bloom/threshold"], of["bloom/knee"])
    around = spread(bright, of["bloom/radius"], of["bloom/falloff"])
    around *= _tint(of, "bloom")
    around -= bright
    around *= np.float32(amount)
    around += light
    return around


def streaked(light: Floats, of: Values, place: Place) -> Floats:
    """Lines through what is bright: exponential along one direction, added."""
    amount, length = of["streak/amount"], of["streak/length"]
    if amount <= 0 or length <= 0:
        return light
    bright = brighter(light, of["streak/threshold"], of["streak/knee"])
    lines = _along(bright, of["streak/angle"], length * place.height)
    # As bright in the middle as the amount says, whatever the length.
    return light + np.float32(amount) * lines * _tint(of, "streak")


# Arms are as bright as this many times what one highlight leaves along them.
ARM = 12.0


def glinted(light: Floats, of: Values, place: Place) -> Floats:
    """Stars on small highlights: what is bright less what is bright all around it, drawn out along a few
    directions, as a grating before the lens does."""
    amount, length = of["glints/amount"], of["glints/length"]
    if amount <= 0 or length <= 0:
        return light
    bright = brighter(light, of["glints/threshold"], 0.25)
    # What is larger than a highlight is as bright around as it is itself.
    small = np.maximum(bright - gaussian(bright, of["glints/size"] * place.height) * 1.5, 0)
    lines = max(1, round(of["glints/points"] / 2))
    stars = np.zeros_like(light)
    for line in range(lines):
        stars += _along(small, of["glints/angle"] + 180 * line / lines, length * place.height)
    return light + np.float32(amount * ARM) * stars * _tint(of, "glints")


def _along(light: Floats, angle: float, length: float) -> Floats:
    """Light drawn out along a direction (degrees from the right, upward): doubled again and again, each time
    with the share that an exponential has left at that distance (Kawase, Frame buffer postprocessing effects,
    2003)."""
    height, width = light.shape[:2]
    share = max(1, int(min(length / 24, 8)))
    small = smaller(light, max(2, width // share), max(2, height // share))
    reach = length / share / 3
    total = np.zeros_like(small)
    direction = np.array([np.cos(np.radians(angle)), -np.sin(np.radians(angle))])
    for sign in (1, -1):
        part, step = small, 1.0
        while step < reach * 6:
            left = np.float32(np.exp(-step / max(reach, 1e-3)))
            part = part + left * shifted(part, *(direction * sign * step))
            step *= 2
        total += part
    total = (total - small) / np.float32(max(1.0, 2 * reach))
    return larger(total, width, height)


def rayed(light: Floats, of: Values, place: Place) -> Floats:
    """Light drawn outward from a place, held up where it is dark: averaged over pictures ever larger about
    that place, ever fainter, by doubling."""
    amount, length = of["rays/amount"], of["rays/length"]
    if amount <= 0 or length <= 0:
        return light
    height, width = light.shape[:2]
    half = (max(2, width // 2), max(2, height // 2))
    bright = smaller(brighter(light, of["rays/threshold"], 0.5), *half)
    # Nothing is so bright that it alone makes a picture of rays.
    bright = np.minimum(bright, 40)
    x = (of["rays/x"] * place.width - place.left) * half[0] / width
    y = (of["rays/y"] * place.height - place.top) * half[1] / height
    nearest = 1 - 0.92 * length
    step = nearest ** (1 / (2**DOUBLINGS - 1))
    fading = RAY_END ** (1 / (2**DOUBLINGS - 1))
    drawn = bright
    for doubling in range(DOUBLINGS):
        scale, left = step ** -(2.0**doubling), fading ** (2.0**doubling)
        drawn = (drawn + left * scaled_about(drawn, scale, x, y)) / (1 + left)
    whole = larger(drawn, width, height)
    return light + np.float32(amount) * whole * _tint(of, "rays")


def veiled(light: Floats, of: Values, place: Place) -> Floats:
    """A share of the picture's mean light everywhere, widest where it is bright; none is added or lost."""
    amount = of["veil/amount"]
    if amount <= 0:
        return light
    wide = 0.5 * blurred(light, 0.35 * place.height) + 0.5 * light.mean(axis=(0, 1))
    result: Floats = light + np.float32(amount) * (wide.astype(np.float32) - light)
    return result


def vignetted(light: Floats, of: Values, place: Place) -> Floats:
    """Darker towards the corners, by a smooth step from where it begins."""
    amount = of["vignette/amount"]
    if amount <= 0:
        return light
    dark = _darkening(
        replace(place, frame=0), light.shape[:2], amount, of["vignette/reach"], of["vignette/roundness"]
    )
    result: Floats = light * dark
    return result


@lru_cache(maxsize=4)
def _darkening(place: Place, size: tuple[int, int], amount: float, reach: float, roundness: float) -> Floats:
    """What is left of the light (rows, columns, 1)."""
    x, y = place.around(size)
    # In halves of the picture's sides, as against its diagonal: its own shape.
    diagonal = np.hypot(place.width, place.height)
    own = np.maximum(np.abs(x) * diagonal / place.width, np.abs(y) * diagonal / place.height)
    away = own + (np.hypot(x, y) - own) * np.float32(roundness)
    begins = min(reach, 1.49)
    u = np.clip((away - begins) / (1.5 - begins), 0, 1)
    dark = 1 - np.float32(amount) * (u * u * (3 - 2 * u))
    return np.ascontiguousarray(dark[..., None], np.float32)


def _tint(of: Values, effect: str) -> Floats:
    return np.array([of[f"{effect}/tint/{c}"] for c in "rgb"], np.float32)
