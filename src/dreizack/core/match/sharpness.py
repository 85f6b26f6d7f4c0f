"""How sharp footage is, and how dark its darkest parts are."""

from __future__ import annotations

from collections.abc import Iterable

import cv2
import numpy as np
from numpy.typing import NDArray

from .alignment import Contradicts

Floats = NDArray[np.float32]

# Blur that is added to see how much of an edge's slope is left, in pixels; slopes (of display values a pixel)
# that count as edges, and how many there must be.
AGAIN, FAINT, FEWEST = 1.5, 0.03, 200
# Of all edges the steepest count, as grain says least there, and of those the sharper ones: others are out of
# focus or no edges.
STEEPEST, SHARPER = 0.3, 0.65
# What a step rises by within two of its widths on either side (erf of the root of 2), and how far an edge may
# be from that.
WITHIN, LIKE = 0.9545, 0.15
# What of a picture is its darkest part.
DARKEST = 0.003
# An edge that is as sharp as pixels allow measures so.
PIXEL = 0.66


def measured_blur(pictures: Iterable[Floats]) -> float:
    """Standard deviation in pixels of the blur of pictures (height, width, 3) of display values 0..1, beyond
    that of pixels themselves; of what is in focus. Contradicts where there are too few edges.

    An edge blurred by s has a slope of 1 / s; blurred once more by a known amount, what is left of it tells s
    (Zhuo & Sim, Defocus map estimation from a single image, 2011, section 3).
    """
    found = [_edges(picture) for picture in pictures]
    slope, blur = np.concatenate(found, axis=1) if found else np.zeros((2, 0))
    if len(slope) < FEWEST:
        raise Contradicts("there are too few sharp edges in this plate to see how soft it is; set it by eye")
    sharp = float(np.quantile(blur[slope >= np.quantile(slope, 1 - STEEPEST)], SHARPER))
    return float(np.sqrt(max(sharp**2 - PIXEL**2, 0.0)))


def _edges(picture: Floats) -> NDArray[np.float64]:
    """Slope and blur (2, n) of the edges of a picture: of steps, not of lines, which are steep on both
    sides."""
    grey: Floats = np.ascontiguousarray(picture.mean(axis=2), np.float32)
    # So much that grain is no edge.
    once = cv2.GaussianBlur(grey, (0, 0), AGAIN).astype(np.float32)
    twice = cv2.GaussianBlur(once, (0, 0), AGAIN).astype(np.float32)
    (across, down), (less_across, less_down) = _slopes(once), _slopes(twice)
    slope, less = np.hypot(across, down), np.hypot(less_across, less_down)
    ridge = slope == cv2.dilate(slope, np.ones((3, 3), np.uint8))
    edges = ridge & (slope > FAINT) & (less > 0) & (slope > 1.02 * less)
    if not edges.any():
        return np.zeros((2, 0))
    steep = slope[edges].astype(np.float64)
    share = np.square(steep / less[edges])
    # Before it was blurred at all: s² = a² / (share − 1) − a².
    blur = np.sqrt(np.maximum(AGAIN**2 / (share - 1) - AGAIN**2, 0))
    # What a step so steep rises by within a few pixels.
    rows, columns = np.nonzero(edges)
    way = np.stack([across[edges], down[edges]]) / slope[edges]
    wide = np.hypot(blur, AGAIN)
    far = (2 * wide).astype(np.float32)
    ahead, behind = (
        cv2.remap(
            once,
            (columns + k * way[0] * far).astype(np.float32),
            (rows + k * way[1] * far).astype(np.float32),
            1,
        )
        for k in (1, -1)
    )
    rises = (ahead - behind).ravel() / (steep * np.sqrt(2 * np.pi) * wide * WITHIN)
    step = np.abs(rises - 1) < LIKE
    return np.stack([steep, blur])[:, step]


def _slopes(grey: Floats) -> tuple[Floats, Floats]:
    across, down = (cv2.Scharr(grey, cv2.CV_32F, *way) / 32 for way in ((1, 0), (0, 1)))
    return across.astype(np.float32), down.astype(np.float32)


def measured_black(pictures: Iterable[Floats]) -> tuple[float, float, float]:
    """Display values 0..1, by channel, of the darkest part of pictures (height, width, 3), their grain
    evened out."""
    told = []
    for picture in pictures:
        even = cv2.blur(np.ascontiguousarray(picture, np.float32), (5, 5)).reshape(-1, 3)
        level = even.mean(axis=1)
        told.append(np.median(even[level <= np.quantile(level, DARKEST)], axis=0))
    if not told:
        raise Contradicts("there is no picture to see blacks in")
    r, g, b = np.clip(np.min(told, axis=0), 0, 1).tolist()
    return r, g, b
