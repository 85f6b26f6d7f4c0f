"""A picture all around out of footage: what its camera saw, and for the rest what is likely."""

from __future__ import annotations

from collections.abc import Iterable

import cv2
import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]

ROWS = 256
# How much what lies behind the camera, mirrored from before it, counts against what was seen, and from which
# weight on nothing else is taken.
MIRRORED, WHOLLY = 8e-3, 1e-2


def panorama(pictures: Iterable[tuple[Floats, NDArray[np.float64]]], half: float, rows: int = ROWS) -> Floats:
    """A panorama (rows, 2 rows, 3), zenith first, its first column towards -z, then by +x: each direction as
    pictures (height, width, 3) saw it, the middle of a picture before its edge. A picture comes with the
    camera's axes (3, 3): right, up, forward; ``half`` is half its height at distance 1.

    What lies behind is taken from before the camera, mirrored; what is left is filled softly from around it
    (push and pull: Gortler et al., The Lumigraph, 1996, 4.4).
    """
    ways = _directions(rows)
    total, weight = np.zeros((rows, 2 * rows, 3), np.float32), np.zeros((rows, 2 * rows), np.float32)
    for picture, axes in pictures:
        seen, counts = _seen(picture, axes, half, ways)
        total += seen * counts[..., None]
        weight += counts
    if not weight.any():
        raise ValueError("no picture was seen")
    # What lies behind: each column as the one across from it that is mirrored about the view.
    facing = int(np.argmax(weight.sum(axis=0)))
    across = (2 * facing + rows - np.arange(2 * rows)) % (2 * rows)
    total += MIRRORED * total[:, across]
    weight += MIRRORED * weight[:, across]
    return _filled(*_upward(total, weight))


def _upward(total: Floats, weight: Floats) -> tuple[Floats, Floats]:
    """The same, where the highest and the lowest that was seen goes on upward and downward."""
    seen = weight > MIRRORED * 0.1
    some = np.flatnonzero(seen.any(axis=0))
    total, weight = total.copy(), weight.copy()
    high = seen[:, some].argmax(axis=0)
    low = len(seen) - 1 - seen[::-1, some].argmax(axis=0)
    rows = np.arange(len(seen))[:, None]
    for edge, beyond in ((high, rows < high), (low, rows > low)):
        colours = total[edge, some] / weight[edge, some, None]
        at, column = np.nonzero(beyond)
        total[at, some[column]] = colours[column] * MIRRORED
        weight[at, some[column]] = MIRRORED
    return total, weight


def _directions(rows: int) -> Floats:
    """Directions (rows, 2 rows, 3)."""
    down = (np.arange(rows) + 0.5) / rows * np.pi
    round_ = (np.arange(2 * rows) + 0.5) / rows * np.pi
    y = np.broadcast_to(np.cos(down)[:, None], (rows, 2 * rows))
    flat = np.sin(down)[:, None]
    return np.stack([flat * np.sin(round_), y, -flat * np.cos(round_)], axis=2).astype(np.float32)


def _seen(picture: Floats, axes: NDArray[np.float64], half: float, ways: Floats) -> tuple[Floats, Floats]:
    """What a picture shows in directions, and how much it counts there: 0 outside of it."""
    height, width = picture.shape[:2]
    local = ways @ axes.T.astype(np.float32)
    ahead = np.maximum(local[..., 2], 1e-4)
    x = local[..., 0] / ahead / (2 * half) * height + width / 2
    y = height / 2 - local[..., 1] / ahead / (2 * half) * height
    edge = np.minimum(np.minimum(x, width - x) / width, np.minimum(y, height - y) / height)
    counts = np.where(local[..., 2] > 1e-3, np.clip(edge * 8, 0, 1), 0).astype(np.float32)
    # As coarse as the panorama, so that nothing flickers.
    step = max(1, round(height / (2 * half) * np.pi / len(ways) / 2))
    small = cv2.blur(picture, (step, step))
    shown = cv2.remap(small, (x - 0.5).astype(np.float32), (y - 0.5).astype(np.float32), cv2.INTER_LINEAR)
    return shown.astype(np.float32), counts


def _filled(total: Floats, weight: Floats) -> Floats:
    """The mean where there is weight, and where there is none what lies around, the further the softer."""
    # What counts little is taken where there is nothing else.
    known = np.clip(weight / WHOLLY, 0, 1)
    mean = total / np.maximum(weight, 1e-9)[..., None]
    if min(weight.shape) <= 4:
        share = np.maximum(known.sum(), 1e-9)
        whole = (mean * known[..., None]).sum(axis=(0, 1)) / share
        even: Floats = (mean * known[..., None] + whole * (1 - known[..., None])).astype(np.float32)
        return even
    rows, columns = weight.shape
    half = (columns // 2, rows // 2)
    # Columns go round.
    around = np.concatenate([mean * known[..., None], known[..., None]], axis=2)
    padded = cv2.copyMakeBorder(around, 0, 0, 4, 4, cv2.BORDER_WRAP)
    soft = cv2.GaussianBlur(padded, (0, 0), 1.2)[:, 4:-4]
    small = cv2.resize(soft, half, interpolation=cv2.INTER_AREA)
    below = _filled(small[..., :3] * WHOLLY, small[..., 3] * WHOLLY)
    large = cv2.resize(below, (columns, rows), interpolation=cv2.INTER_LINEAR)
    result: Floats = (mean * known[..., None] + large * (1 - known[..., None])).astype(np.float32)
    return result
