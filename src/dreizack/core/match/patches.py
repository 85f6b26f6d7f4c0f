"""Small pieces of a picture, found again to a hundredth of a pixel: all at once, as arrays.

Inverse compositional alignment with an affine warp (Baker & Matthews, Lucas-Kanade 20 Years On, 2004), gain
and bias projected out (section 5 of its part 3).
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]

RADIUS = 10
SIDE = 2 * RADIUS + 1
# Pictures are looked up at this many times their size: the look-up itself knows 32 places a pixel.
FINER = 2
ROUNDS = 8
# Changes below this many pixels end it.
STILL = 0.002


def finer(picture: NDArray[np.uint8]) -> Floats:
    """A grey picture (height, width), interpolated to FINER times its size, ready to be looked up."""
    height, width = picture.shape
    size = (width * FINER, height * FINER)
    return cv2.resize(picture.astype(np.float32), size, interpolation=cv2.INTER_CUBIC).astype(np.float32)


def _grid() -> Floats:
    across = np.arange(-RADIUS, RADIUS + 1, dtype=np.float32)
    x, y = np.meshgrid(across, across)
    return np.stack([x.ravel(), y.ravel()], axis=1)


GRID = _grid()
# The middle counts for more.
WEIGHT = np.exp(-0.5 * (GRID**2).sum(axis=1) / (0.6 * RADIUS) ** 2).astype(np.float32)


def looked_up(picture: Floats, xy: Floats, warp: Floats) -> Floats:
    """Values (n, SIDE²) of a :func:`finer` picture around places (n, 2), through matrices (n, 2, 2)."""
    if not len(xy):
        return np.zeros((0, SIDE * SIDE), np.float32)
    at = xy[:, None] + GRID @ np.swapaxes(warp, 1, 2)
    at = at * FINER - np.float32(0.5)
    return cv2.remap(
        picture,
        np.ascontiguousarray(at[..., 0], np.float32),
        np.ascontiguousarray(at[..., 1], np.float32),
        cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REPLICATE,
    ).astype(np.float32)


@dataclass(frozen=True)
class Templates:
    """What pieces looked like when they were first seen: ``values`` (n, SIDE²) weighted, without mean and of
    length 1, and ``solves`` (n, 6, SIDE²), which make steps of the warp of what is left over."""

    values: Floats
    solves: Floats

    def only(self, keep: NDArray[np.bool_]) -> Templates:
        return Templates(self.values[keep], self.solves[keep])

    def and_these(self, other: Templates) -> Templates:
        return Templates(
            np.concatenate([self.values, other.values]), np.concatenate([self.solves, other.solves])
        )


def templates(picture: Floats, xy: Floats) -> Templates:
    """Templates of a :func:`finer` picture around places (n, 2)."""
    upright = np.tile(np.eye(2, dtype=np.float32), (len(xy), 1, 1))
    values = looked_up(picture, xy, upright)
    step = np.float32(0.5)
    gx, gy = (
        looked_up(picture, xy + offset, upright) - looked_up(picture, xy - offset, upright)
        for offset in (np.array([step, 0], np.float32), np.array([0, step], np.float32))
    )
    x, y = GRID.T
    slopes = np.stack([gx * x, gx * y, gy * x, gy * y, gx, gy], axis=1)
    weighted, length = _normal(values)
    jacobian = slopes * WEIGHT / length[:, None, None]
    # What gain and bias can explain is none of the warp's business.
    flat = WEIGHT / np.linalg.norm(WEIGHT)
    for explained in (np.broadcast_to(flat, weighted.shape), weighted):
        jacobian -= np.einsum("nkp,np->nk", jacobian, explained)[..., None] * explained[:, None]
    normal = np.einsum("nkp,nlp->nkl", jacobian, jacobian)
    normal += np.eye(6, dtype=np.float32) * (1e-6 * np.trace(normal, axis1=1, axis2=2))[:, None, None]
    return Templates(weighted, np.linalg.solve(normal, jacobian).astype(np.float32))


def _normal(values: Floats) -> tuple[Floats, Floats]:
    """Weighted values without their weighted mean, of length 1; and their length before."""
    square = WEIGHT * WEIGHT
    mean = values @ square / square.sum()
    centred = (values - mean[:, None]) * WEIGHT
    length = np.maximum(np.linalg.norm(centred, axis=1), 1e-6)
    return centred / length[:, None], length


def aligned(picture: Floats, of: Templates, xy: Floats, warp: Floats) -> tuple[Floats, Floats, Floats]:
    """Where templates are in a :func:`finer` picture, begun at places (n, 2) and matrices (n, 2, 2): places,
    matrices, and how alike they look (n,), their correlation, at most 1."""
    xy, warp = xy.copy(), warp.copy()
    alike = np.zeros(len(xy), np.float32)
    going = np.arange(len(xy))
    for _ in range(ROUNDS):
        seen, _ = _normal(looked_up(picture, xy[going], warp[going]))
        alike[going] = (seen * of.values[going]).sum(axis=1)
        step = np.einsum("nkp,np->nk", of.solves[going], seen - of.values[going])
        # The step is one of the template: what is looked up goes the other way.
        change = np.eye(2, dtype=np.float32) + step[:, :4].reshape(-1, 2, 2)
        determinant = np.linalg.det(change)
        sane = (np.abs(determinant - 1) < 0.5) & (np.linalg.norm(step[:, 4:], axis=1) < RADIUS)
        change[~sane], step[~sane] = np.eye(2), 0
        alike[going[~sane]] = 0
        onward = warp[going] @ np.linalg.inv(change)
        shift = (onward @ step[:, 4:, None])[..., 0]
        warp[going], xy[going] = onward, xy[going] - shift
        going = going[sane & (np.linalg.norm(shift, axis=1) > STILL)]
        if not len(going):
            break
    seen, _ = _normal(looked_up(picture, xy, warp))
    return xy, warp, np.minimum(alike + 1, (seen * of.values).sum(axis=1))
