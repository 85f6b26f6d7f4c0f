"""What film does: halation and grain."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..settings import Place, Values
from ..spread import brighter, spread

Floats = NDArray[np.float32]

# Scene light below which grain has full strength in proportion; deep shadows have less.
SHADOW = 0.02
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

    Grains are places of noise softened to their size; each colour has a share of its own.
    """
    amount = of["grain/amount"]
    if amount <= 0:
        return light
    height, width = light.shape[:2]
    size = max(0.5, of["grain/size"] * place.height / 1080)
    own = np.float32(of["grain/colour"])
    # Of a window the grain is that of the whole picture there.
    made = _noise(int(of["grain/seed"]), place, size)[
        place.top : place.top + height, place.left : place.left + width
    ]
    common = made[..., 3:4]
    mixed = (common * (1 - own) + made[..., :3] * own) / np.sqrt((1 - own) ** 2 + own**2)
    strength = np.float32(0.5 * amount) * mixed
    # Log-normal with the mean of 1: grain darkens and brightens alike, and never below black.
    factor = np.exp(strength - np.float32((0.5 * amount) ** 2 / 2))
    share = light / (light + np.float32(SHADOW))
    result: Floats = light * (1 + (factor - 1) * share)
    return result


def _noise(seed: int, place: Place, size: float) -> Floats:
    """Four independent fields (height, width, 4) of mean 0 and variance 1, soft at the size of a grain: a
    tile, laid anew for every frame."""
    tile = _tile(seed, round(size, 3))
    chance = np.random.default_rng((seed, place.frame))
    down, across = chance.integers(0, TILE, 2)
    rows = (np.arange(place.height) * (1 if chance.random() < 0.5 else -1) + down) % TILE
    columns = (np.arange(place.width) * (1 if chance.random() < 0.5 else -1) + across) % TILE
    field = tile[rows][:, columns]
    made: Floats = field - field.mean(axis=(0, 1))
    return made


@lru_cache(maxsize=4)
def _tile(seed: int, size: float) -> Floats:
    """One tile (TILE, TILE, 4) of noise softened to a grain's size in pixels; it goes on seamlessly."""
    chance = np.random.default_rng(seed)
    spectrum = np.fft.rfft2(chance.standard_normal((TILE, TILE, 4)), axes=(0, 1))
    down, across = np.fft.fftfreq(TILE)[:, None], np.fft.rfftfreq(TILE)[None]
    # A Gaussian whose full width at half height is the size.
    sigma = size / 2.3548
    soft = np.exp(-2 * (np.pi * sigma) ** 2 * (down**2 + across**2))
    field = np.fft.irfft2(spectrum * soft[..., None], (TILE, TILE), axes=(0, 1))
    made: Floats = ((field - field.mean(axis=(0, 1))) / field.std(axis=(0, 1))).astype(np.float32)
    return made
