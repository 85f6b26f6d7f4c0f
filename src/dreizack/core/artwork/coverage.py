"""Outlines put where pictures say that they run, to parts of pixels: how much of each pixel they cover."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

# Rounds of putting right, pixels a point is moved by at most in one, and in all.
ROUNDS, STEP, MOST = 8, 0.15, 0.45
# Pixels over which a difference is looked at, and points of a ring over which a move is smoothed.
NEAR, ALONG = 0.45, 2
# Of pixels that are wholly inside or outside, so many must look alike for a picture to have two tones; by how
# much they may differ; and the least that the tones differ.
TWO_TONES, ALIKE, APART = 0.9, 0.06, 0.25
# How far the level 0 may be from the middle of both tones, as a share of what lies between.
MIDDLE = 0.15


def covered(rings: list[Floats], size: tuple[int, int]) -> Floats:
    """Exactly how much of each pixel rings (n, 2; x, y in pixels, closed by themselves) cover: (height,
    width), for a ``size`` (width, height). Those that turn the other way are holes.

    Signed areas of each piece of an edge within its pixel, summed along rows (Levien, Font rasterization with
    signed area coverage; Kallio, Scanline edge-flag algorithm for antialiasing, 2007).

    >>> covered([np.array([[1.0, 0.0], [2.5, 0.0], [2.5, 1.0], [1.0, 1.0]])], (4, 1)).tolist()
    [[0.0, 1.0, 0.5, 0.0]]
    """
    width, height = size
    begin = np.concatenate(rings)
    end = np.concatenate([np.roll(ring, -1, axis=0) for ring in rings])
    begin, end = _within_pixels(begin, end)
    middle, down = (begin + end) / 2, end[:, 1] - begin[:, 1]
    column, row = np.floor(middle).astype(np.int64).T
    there = (row >= 0) & (row < height)
    left = np.where(there, np.clip(column, 0, width), 0)
    share = np.clip(middle[:, 0] - left, 0, 1)
    sums = np.zeros(height * (width + 2))
    at = np.where(there, row, 0) * (width + 2) + left
    sums += np.bincount(at, np.where(there, down * (1 - share), 0), len(sums))
    sums += np.bincount(at + 1, np.where(there, down * share, 0), len(sums))
    found: Floats = np.abs(np.cumsum(sums.reshape(height, width + 2), axis=1)[:, :width])
    return found


def _within_pixels(begin: Floats, end: Floats) -> tuple[Floats, Floats]:
    """Edges (n, 2) cut where they cross borders of pixels."""
    count = np.maximum(np.ceil(np.abs(end - begin).max(axis=1)).astype(np.int64), 1)
    number = np.arange(count.sum()) - np.repeat(np.cumsum(count) - count, count)
    step = np.repeat((end - begin) / count[:, None], count, axis=0)
    begin = np.repeat(begin, count, axis=0) + step * number[:, None]
    end = begin + step
    # None is longer than a pixel: it crosses one border each way at most.
    border = np.maximum(np.floor(begin), np.floor(end))
    with np.errstate(divide="ignore", invalid="ignore"):
        at = (border - begin) / (end - begin)
    at = np.sort(np.where((at > 0) & (at < 1), at, 1.0), axis=1)
    ends = [begin, begin + (end - begin) * at[:, :1], begin + (end - begin) * at[:, 1:], end]
    return np.concatenate(ends[:-1]), np.concatenate(ends[1:])


def put_right(rings: list[Floats], picture: Floats) -> list[Floats] | None:
    """Rings (n, 2; x, y in pixels) moved along their normals until they cover as much of each pixel as a
    ``picture`` (height, width; above 0 inside) of two tones says; None where it has more tones."""
    size = picture.shape[1], picture.shape[0]
    tones = _tones(covered(rings, size), picture)
    if tones is None:
        return None
    wanted = np.clip((picture - tones[0]) / (tones[1] - tones[0]), 0, 1)
    begun, moved = [ring.copy() for ring in rings], rings
    for _ in range(ROUNDS):
        left = (wanted - covered(moved, size)).astype(np.float32)
        length = _lengths(moved, size)
        push = cv2.GaussianBlur(left, (0, 0), NEAR, borderType=cv2.BORDER_CONSTANT)
        there = cv2.GaussianBlur(length, (0, 0), NEAR, borderType=cv2.BORDER_CONSTANT)
        field = np.asarray(push / np.maximum(there, 0.15), np.float32)
        moved = [_moved(ring, first, field) for ring, first in zip(moved, begun, strict=True)]
    return moved


def _moved(ring: Floats, first: Floats, field: NDArray[np.float32]) -> Floats:
    """A ring after a step outward by what a field says at its points."""
    x, y = ((ring.T - 0.5)[:, None]).astype(np.float32)
    by = np.asarray(cv2.remap(field, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE))[0]
    along = np.roll(ring, -ALONG, axis=0) - np.roll(ring, ALONG, axis=0)
    outward = np.column_stack([along[:, 1], -along[:, 0]])
    outward = outward / np.maximum(np.linalg.norm(outward, axis=1, keepdims=True), 1e-9)
    by = np.mean([np.roll(by, shift) for shift in range(-ALONG, ALONG + 1)], axis=0)
    away = ring + outward * np.clip(by, -STEP, STEP)[:, None] - first
    far = np.linalg.norm(away, axis=1, keepdims=True)
    result: Floats = first + away * np.minimum(1, MOST / np.maximum(far, 1e-9))
    return result


def _lengths(rings: list[Floats], size: tuple[int, int]) -> NDArray[np.float32]:
    """How much of rings runs through each pixel (height, width)."""
    width, height = size
    begin = np.concatenate(rings)
    end = np.concatenate([np.roll(ring, -1, axis=0) for ring in rings])
    column, row = np.clip(np.floor((begin + end) / 2).astype(np.int64).T, 0, [[width - 1], [height - 1]])
    each = np.linalg.norm(end - begin, axis=1)
    return np.bincount(row * width + column, each, width * height).reshape(height, width).astype(np.float32)


def _tones(share: Floats, picture: Floats) -> tuple[float, float] | None:
    """What a picture is outside and inside, where it has two tones."""
    found = []
    for one in (1 - share, share):
        whole = cv2.erode((one > 0.999).astype(np.uint8), np.ones((3, 3), np.uint8), borderValue=1) > 0
        # Thin strokes are nowhere wholly inside: there the most that is found stands for it.
        if whole.sum() < 20:
            whole = one > np.quantile(one, 0.999) - 0.05
        values = picture[whole]
        tone = float(np.median(values))
        if (np.abs(values - tone) < ALIKE).mean() < TWO_TONES:
            return None
        found.append(tone)
    outside, inside = found
    # Where the level is somebody's wish, outlines are wider or narrower by that.
    level = -outside / (inside - outside) if inside - outside >= APART else 0.0
    return (outside, inside) if abs(level - 0.5) <= MIDDLE else None
