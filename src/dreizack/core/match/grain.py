"""Grain of footage: how strong it is by brightness, and how large."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np
from numpy.typing import NDArray

from .alignment import Contradicts

Floats = NDArray[np.float32]

# Side of the squares that are looked at, and the share of them, the evenest, in which grain is all there is.
SIDE, EVENEST = 16, 0.06
# Display values at whose neighbourhood strength is told, and how far that reaches.
LEVELS, NEAR = (0.2, 0.5, 0.8), 0.15
FEWEST = 60


@dataclass(frozen=True)
class Grain:
    """Standard deviation in codes of 255 at display values of 0.2, 0.5 and 0.8; full width at half height of
    a grain in pixels; how much channels differ: 0 not at all, 1 as much as they can."""

    strength: tuple[float, float, float]
    size: float
    colour: float


def measured_grain(pictures: Iterable[Floats]) -> Grain:
    """Grain of pictures (height, width, 3) of display values 0..1, from their evenest squares, each without
    its own slope. Contradicts where nothing is even enough."""
    told = [_told(picture) for picture in pictures]
    if not told:
        raise Contradicts("there is no picture to measure grain in")
    level, deviation, along, grey = (np.concatenate(one) for one in zip(*told, strict=True))
    strength, evenest = [], np.zeros(len(level), np.bool_)
    for at in LEVELS:
        near = (np.abs(level - at) < NEAR) & (level > 0.02) & (level < 0.98)
        if near.sum() < FEWEST:
            strength.append(np.nan)
            continue
        here = near & (deviation <= np.quantile(deviation[near], EVENEST))
        evenest |= here
        strength.append(float(np.median(deviation[here])) * 255)
    if not evenest.any():
        raise Contradicts("nothing in this plate is even enough to see its grain; set it by eye")
    # What even squares of known grain look like says what these are.
    sizes, likes, shares = _known()
    like = float(np.median(along[evenest]))
    size = float(np.interp(like, likes, sizes))
    known = np.flatnonzero(np.isfinite(strength))
    even = np.interp(np.arange(3), known, np.array(strength)[known]) / np.interp(size, sizes, shares)
    # Three channels that have nothing in common lose the root of three in their mean.
    alone = float(np.median(grey[evenest] / np.maximum(deviation[evenest], 1e-9)))
    a, b, c = (round(float(v), 3) for v in even)
    return Grain((a, b, c), round(size, 3), float(np.clip((1 - alone**2) * 1.5, 0, 1)))


def _told(picture: Floats) -> tuple[Floats, Floats, Floats, Floats]:
    """Of each square of a picture: its level, the deviation of its channels and of their mean, and how alike
    neighbours are."""
    squares = _squares(picture)
    flat = _level(squares)
    mean = flat.mean(axis=3)
    along = (mean[:, :, 1:] * mean[:, :, :-1]).mean(axis=(1, 2)) + (mean[:, 1:] * mean[:, :-1]).mean(
        axis=(1, 2)
    )
    whole = (mean[:, :, 1:] ** 2).mean(axis=(1, 2)) + (mean[:, 1:] ** 2).mean(axis=(1, 2))
    deviation = np.sqrt((flat.std(axis=(1, 2)) ** 2).mean(axis=1))
    like = np.clip(along / np.maximum(whole, 1e-12), 0, 0.99)
    return squares.mean(axis=(1, 2, 3)), deviation, like, mean.std(axis=(1, 2))


@lru_cache(maxsize=1)
def _known() -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]:
    """Sizes of grain, how alike neighbours are in the evenest squares of it, and which share of its deviation
    is seen there."""
    random, sizes = np.random.default_rng(1), np.array([0.5, 0.9, 1.3, 1.7, 2.2, 2.8, 3.5, 4.5, 6, 8, 12])
    likes, shares = [], []
    for size in sizes:
        field = random.standard_normal((768, 768, 3)).astype(np.float32)
        field = cv2.GaussianBlur(field, (0, 0), size / 2.3548).astype(np.float32)
        field /= field.std()
        _, deviation, like, _ = _told(field)
        even = deviation <= np.quantile(deviation, EVENEST)
        likes.append(float(np.median(like[even])))
        shares.append(float(np.median(deviation[even])))
    return sizes, np.maximum.accumulate(likes), np.array(shares)


def _squares(picture: Floats) -> Floats:
    rows, columns = picture.shape[0] // SIDE, picture.shape[1] // SIDE
    cut = picture[: rows * SIDE, : columns * SIDE].reshape(rows, SIDE, columns, SIDE, 3)
    result: Floats = cut.swapaxes(1, 2).reshape(-1, SIDE, SIDE, 3)
    return result


def _level(squares: Floats) -> Floats:
    """Squares without the plane that fits each of them best."""
    across = (np.arange(SIDE) - (SIDE - 1) / 2).astype(np.float32)
    square = (across**2).sum() * SIDE
    slope_x = (squares * across[None, None, :, None]).sum(axis=(1, 2), keepdims=True) / square
    slope_y = (squares * across[None, :, None, None]).sum(axis=(1, 2), keepdims=True) / square
    flat: Floats = squares - squares.mean(axis=(1, 2), keepdims=True)
    flat = flat - slope_x * across[None, None, :, None] - slope_y * across[None, :, None, None]
    return flat.astype(np.float32)
