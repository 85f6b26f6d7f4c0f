"""Outlines drawn over footage as mattes: round where wanted, grown, softened, blurred as they move."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Matte = NDArray[np.float32]

# Points of an outline that lie between two that were drawn, where it is round.
BETWEEN = 12
# Places a pixel, along each side, that edges are counted from.
FINER = 4
# An outline that moves by less than so many pixels while the shutter is open is not blurred by that.
STANDS, MOMENTS = 0.35, 8


def rounded(points: Floats, roundness: Floats | float) -> Floats:
    """A closed outline (..., n, 2) through its points (..., k, 2): straight at ``roundness`` 0, at 1 a smooth
    curve (Catmull & Rom, A class of local interpolating splines, 1974, its tangents scaled).

    >>> square = np.array([[0.0, 0], [1, 0], [1, 1], [0, 1]])
    >>> rounded(square, 0.0)[[0, 12, 24]].tolist()
    [[0.0, 0.0], [1.0, 0.0], [1.0, 1.0]]
    """
    after = np.roll(points, -1, axis=-2)
    out = (after - np.roll(points, 1, axis=-2)) / 2
    into = np.roll(out, -1, axis=-2)
    straight = after - points
    share = np.asarray(roundness, np.float64)[..., None, None]
    out, into = straight + share * (out - straight), straight + share * (into - straight)
    t = (np.arange(BETWEEN) / BETWEEN)[:, None]
    # Cubic Hermite (Farin, Curves and Surfaces for CAGD, 2002, 7.5).
    a, b, c, d = 2 * t**3 - 3 * t**2 + 1, t**3 - 2 * t**2 + t, -2 * t**3 + 3 * t**2, t**3 - t**2
    made = a * points[..., None, :] + b * out[..., None, :] + c * after[..., None, :] + d * into[..., None, :]
    result: Floats = made.reshape(*points.shape[:-2], -1, 2)
    return result


def drawn_at(shapes: Floats, at: Floats, moments: Floats) -> Floats:
    """Outlines (n, k, 2) at ``moments`` (n,) between those that were drawn, ``shapes`` (shapes, k, 2) ``at``
    rising frames (shapes,): evenly between two, held before the first and after the last.

    >>> drawn_at(np.array([[[0.0, 0.0]], [[1.0, 2.0]]]), np.array([0.0, 4.0]), np.array([1.0])).tolist()
    [[[0.25, 0.5]]]
    """
    after = np.clip(np.searchsorted(at, moments, side="right"), 1, max(len(at) - 1, 1))
    before, after = after - 1, np.minimum(after, len(at) - 1)
    apart = np.maximum(at[after] - at[before], 1e-9)
    share = np.clip((moments - at[before]) / apart, 0, 1)[:, None, None]
    result: Floats = shapes[before] * (1 - share) + shapes[after] * share
    return result


def matte(outlines: Floats, size: tuple[int, int], grow: float, softness: float, opacity: float) -> Matte:
    """A matte (height, width), 0..1, of what an outline takes up while the shutter is open: ``outlines``
    (moments, points, 2) in pixels, ``grow`` and ``softness`` (the width of its edge) in pixels of a picture
    of a ``size`` (width, height)."""
    width, height = size
    moves = float(np.abs(outlines - outlines[:1]).max()) if len(outlines) > 1 else 0.0
    if moves < STANDS:
        found = _filled(outlines[len(outlines) // 2], size)
    else:
        times = np.linspace(0, len(outlines) - 1, min(64, max(MOMENTS, int(moves) + 1)))
        before = np.minimum(times.astype(int), len(outlines) - 2)
        share = (times - before)[:, None, None]
        found = np.zeros((height, width), np.float32)
        for one in outlines[before] * (1 - share) + outlines[before + 1] * share:
            found += _filled(one, size)
        found /= len(times)
    if abs(grow) >= 0.5:
        side = 2 * round(abs(grow)) + 1
        disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (side, side))
        found = (cv2.dilate if grow > 0 else cv2.erode)(found, disc).astype(np.float32)
    if softness > 0.2:
        # An edge blurred so much rises from 2 to 98 parts of a hundred over its width.
        found = cv2.GaussianBlur(found, (0, 0), softness / 4, borderType=cv2.BORDER_REPLICATE).astype(
            np.float32
        )
    return found * np.float32(opacity)


def _filled(outline: Floats, size: tuple[int, int]) -> Matte:
    """How much of each pixel lies inside (even-odd), from FINER × FINER places."""
    width, height = size
    low = np.clip(np.floor(outline.min(axis=0)) - 1, 0, [width, height]).astype(int)
    high = np.clip(np.ceil(outline.max(axis=0)) + 1, 0, [width, height]).astype(int)
    found = np.zeros((height, width), np.float32)
    across, down = high - low
    if across < 1 or down < 1:
        return found
    fine = np.zeros((down * FINER, across * FINER), np.uint8)
    # In 256ths of a place; middles of places are whole numbers.
    at = np.clip((outline - low) * FINER - 0.5, -1e5, 1e5)
    corners = np.rint(at * 256).astype(np.int32)
    cv2.fillPoly(fine, [corners], 255, shift=8)
    # Places that the outline goes through are half in it.
    cv2.polylines(fine, [corners], True, 128, shift=8)
    part = cv2.resize(fine, (int(across), int(down)), interpolation=cv2.INTER_AREA)
    found[low[1] : high[1], low[0] : high[0]] = part.astype(np.float32) / 255
    return found
