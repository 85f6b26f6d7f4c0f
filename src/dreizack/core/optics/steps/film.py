"""What film does: halation and grain. Steps take and give scene light (height, width, 3), float32."""

from __future__ import annotations

from functools import lru_cache

import cv2
import numpy as np
from numpy.typing import NDArray

from ..bands import by_bands
from ..settings import Place, Values
from ..spread import brighter, spread

Floats = NDArray[np.float32]

# Scene light below which grain has full strength in proportion; deep shadows have less.
SHADOW = np.float32(0.02)
# Side of the tile of noise that grain is laid from, in pixels.
TILE = 1024
# Most of what comes back from behind the film is as far away as it goes.
WIDE = -1.0


def halated(light: Floats, of: Values, place: Place) -> Floats:
    """Light that comes back from behind the film: tinted, around what is bright, added."""
    amount = of["halation/amount"]
    if amount <= 0 or of["halation/radius"] <= 0:
        return light
    bright = brighter(light, of["halation/threshold"], 0.5)
    tint = np.array([of[f"halation/tint/{c}"] for c in "rgb"], np.float32)
    around = spread(bright, of["halation/radius"], WIDE)
    # A rim: not over what is bright itself.
    result: Floats = light + np.float32(amount) * np.maximum(around - bright, 0) * tint
    return result


def grained(light: Floats, of: Values, place: Place) -> Floats:
    """Grain in proportion to the light, its mean left as it is; another one every frame, the same for the
    same frame whatever else is asked for.

    Grains are places of noise softened to their size, laid as tiles; each colour has a share of its own.
    """
    amount = of["grain/amount"]
    if amount <= 0:
        return light
    height, width = light.shape[:2]
    size = max(0.5, of["grain/size"] * place.height / 1080)
    tile = _tile(int(of["grain/seed"]), round(size, 3), round(of["grain/colour"], 3), round(amount, 4))
    # Of a window the grain is that of the whole picture there.
    factor = laid(tile, place)[place.top : place.top + height, place.left : place.left + width]
    return np.asarray(by_bands(_scattered, light, factor), np.float32)


def _scattered(light: Floats, factor: Floats) -> Floats:
    share = light / (light + SHADOW)
    share *= factor
    share += 1
    share *= light
    return share


def laid(tile: Floats, place: Place) -> Floats:
    """A tile laid over a whole picture, turned over and begun elsewhere for every frame; its mean is taken
    out."""
    chance = np.random.default_rng(place.frame)
    turned = tile[:: 1 if chance.random() < 0.5 else -1, :: 1 if chance.random() < 0.5 else -1]
    down, across = chance.integers(0, TILE, 2).tolist()
    laid = np.empty((place.height, place.width, 3), np.float32)
    for top in range(-down, place.height, TILE):
        for left in range(-across, place.width, TILE):
            rows = slice(max(0, top), min(place.height, top + TILE))
            columns = slice(max(0, left), min(place.width, left + TILE))
            laid[rows, columns] = turned[
                rows.start - top : rows.stop - top, columns.start - left : columns.stop - left
            ]
    mean = np.array(cv2.mean(laid)[:3], np.float32)
    return np.asarray(by_bands(lambda part: part - mean, laid), np.float32)


@lru_cache(maxsize=6)
def _tile(seed: int, size: float, colour: float, amount: float) -> Floats:
    """One tile (TILE, TILE, 3) of how much grains darken and brighten; it goes on seamlessly."""
    field = noise(seed, size)
    mixed = field[..., 3:4] * (1 - colour) + field[..., :3] * colour
    mixed /= np.sqrt((1 - colour) ** 2 + colour**2)
    # Log-normal with the mean of 1: never below black.
    deviation = 0.5 * amount
    made: Floats = np.expm1(deviation * mixed - deviation**2 / 2).astype(np.float32)
    return made


@lru_cache(maxsize=2)
def noise(seed: int, size: float) -> Floats:
    """Four independent fields (TILE, TILE, 4), mean 0, variance 1, softened to a grain's size in pixels."""
    chance = np.random.default_rng(seed)
    spectrum = np.fft.rfft2(chance.standard_normal((TILE, TILE, 4)), axes=(0, 1))
    down, across = np.fft.fftfreq(TILE)[:, None], np.fft.rfftfreq(TILE)[None]
    # A Gaussian whose full width at half height is the size.
    sigma = size / 2.3548
    soft = np.exp(-2 * (np.pi * sigma) ** 2 * (down**2 + across**2))
    field = np.fft.irfft2(spectrum * soft[..., None], (TILE, TILE), axes=(0, 1))
    made: Floats = ((field - field.mean(axis=(0, 1))) / field.std(axis=(0, 1))).astype(np.float32)
    return made
