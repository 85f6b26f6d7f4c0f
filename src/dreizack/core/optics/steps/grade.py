"""The grade, in scene light."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...colour import luminance
from ..bands import by_bands
from ..settings import Place, Values

Floats = NDArray[np.float32]

GREY = np.float32(0.18)
# How much red and blue change at full warmth, in stops.
WARM = 0.7
PLAIN = {
    "contrast": 1.0,
    "warmth": 0.0,
    "saturation": 1.0,
    "vibrance": 0.0,
    "dark_tint": 0.0,
    "light_tint": 0.0,
} | {f"{name}_{c}": at for name, at in (("slope", 1.0), ("offset", 0.0), ("power", 1.0)) for c in "rgb"}


def graded(light: Floats, of: Values, place: Place) -> Floats:
    """Warmth and contrast, then slope, offset, power and saturation (ASC Color Decision List 1.2, section 3),
    with Rec.709 luminance; below 0 nothing is raised to a power, above 1 nothing is cut off."""
    if all(abs(of[f"grade/{name}"] - at) < 1e-6 for name, at in PLAIN.items()):
        return light
    return np.asarray(by_bands(lambda part: _graded(part, of), light), np.float32)


def _graded(light: Floats, of: Values) -> Floats:
    made = light
    if of["grade/warmth"]:
        stops = WARM * of["grade/warmth"]
        made = made * np.array([2.0**stops, 1.0, 2.0**-stops], np.float32)
    if of["grade/contrast"] != 1:
        pivot = np.float32(float(GREY) * 2.0 ** float(of["grade/pivot"]))
        made = pivot * np.power(np.maximum(made, 0) / pivot, np.float32(of["grade/contrast"]))
    slope, offset, power = (
        np.array([of[f"grade/{name}_{c}"] for c in "rgb"], np.float32)
        for name in ("slope", "offset", "power")
    )
    made = made * slope
    made += offset
    np.maximum(made, 0, out=made)
    if (power != 1).any():
        np.power(made, power, out=made)
    saturation = np.float32(of["grade/saturation"])
    if saturation != 1:
        grey = luminance(made).astype(np.float32)[..., None]
        made *= saturation
        made += (1 - saturation) * grey
        np.maximum(made, 0, out=made)
    return _tinted(_vibrant(made, float(of["grade/vibrance"])), of)


def _vibrant(light: Floats, amount: float) -> Floats:
    """More saturation the less there is: all of it for grey, none where a channel is 0."""
    if not amount:
        return light
    high = light.max(axis=-1, keepdims=True)
    share = (high - light.min(axis=-1, keepdims=True)) / np.maximum(high, np.float32(1e-6))
    grey = luminance(light).astype(np.float32)[..., None]
    made: Floats = np.maximum(grey + (1 + np.float32(amount) * (1 - share)) * (light - grey), 0).astype(
        np.float32
    )
    return made


def tint_of(hue: float) -> Floats:
    """A full colour of a hue in degrees (3,), of luminance 1: 0 is red, 120 green, 240 blue.

    >>> float(luminance(tint_of(40.0)).round(6))
    1.0
    """
    sixths: NDArray[np.float64] = np.array([5.0, 3.0, 1.0]) + hue / 60
    away: NDArray[np.float64] = np.minimum(sixths % 6, 4 - sixths % 6)
    colour = (1 - np.clip(away, 0, 1)).astype(np.float32)
    return (colour / float(luminance(colour))).astype(np.float32)


def _tinted(light: Floats, of: Values) -> Floats:
    """Shadows and what is bright towards a hue of their own, luminance kept: half and half at middle grey."""
    if not (of["grade/dark_tint"] or of["grade/light_tint"]):
        return light
    grey = luminance(light).astype(np.float32)[..., None]
    bright = grey / (grey + GREY)
    made = light
    for name, share in (("dark", 1 - bright), ("light", bright)):
        amount = np.float32(of[f"grade/{name}_tint"])
        if amount:
            made = made + amount * share * (grey * tint_of(of[f"grade/{name}_hue"]) - made)
    return np.maximum(made, 0).astype(np.float32)


def boxed(light: Floats, of: Values, place: Place) -> Floats:
    """Black bars that leave a picture of another shape in the middle."""
    aspect = of["letterbox/aspect"]
    if aspect <= 0:
        return light
    rows, columns = np.arange(light.shape[0]) + place.top + 0.5, np.arange(light.shape[1]) + place.left + 0.5
    wide, high = min(place.width, place.height * aspect), min(place.height, place.width / aspect)
    # Edges of bars that fall within a pixel take their share of it.
    down = np.clip(high / 2 - np.abs(rows - place.height / 2) + 0.5, 0, 1)
    across = np.clip(wide / 2 - np.abs(columns - place.width / 2) + 0.5, 0, 1)
    result: Floats = light * (down[:, None] * across[None]).astype(np.float32)[..., None]
    return result
