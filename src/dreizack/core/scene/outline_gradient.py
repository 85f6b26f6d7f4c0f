"""Gradients that run along the outline of each letter, and from there over its face."""

from __future__ import annotations

from collections.abc import Sequence

import cv2
import numpy as np
from numpy.typing import NDArray

from ..document import SurfacePicture
from ..finish import gradient_colours
from ..form import GlyphBody
from .letter_atlas import CELL, Cell, cells

Floats = NDArray[np.float64]
Colours = NDArray[np.float32]

# Widths in pixels (standard deviations) that colours are blended over: on the outline, and how fast that
# grows with the distance.
WIDTHS = (2.0, 4.0, 8.0, 16.0, 32.0)
FINEST, BLENDED = 0.7, 0.5


def outline_length(body: GlyphBody | None) -> float:
    """Metres that the longest outline of a letter is long."""
    return float(np.ptp(body.uv[:, 0])) if body is not None and not body.empty else 0.0


def along_picture(
    picture: SurfacePicture,
    texture_transform: Floats,
    lengths: Sequence[float],
    bodies: Sequence[GlyphBody | None],
) -> Colours:
    """Scene-linear picture (rows, columns, 3) of all letters: on an outline the colour of its running length,
    inside that of the nearest outline, blended the more the further away it is.

    ``placing`` (TEXTURE_TRANSFORM,) is size, shifts and angle; at size 1 the gradient takes ``lengths``
    metres, a number a letter. The blend stands for what heat that is held at the outline would settle to
    (Orzan et al., Diffusion Curves, 2008), at a fraction of its cost.
    """
    found, (rows, columns) = cells(bodies)
    made = np.zeros((rows, columns, 3), np.float32)
    for cell, body, length in zip(found, bodies, lengths, strict=True):
        if body is None or body.empty:
            continue
        run, away = _nearest(cell, body)
        share = _repeated(
            run / max(texture_transform[0] * length, 1e-6) + texture_transform[1], picture.repeat
        )
        made[cell.within] = _blended(gradient_colours(picture.stops, share), away)
    return made


def _nearest(cell: Cell, body: GlyphBody) -> tuple[Floats, NDArray[np.float32]]:
    """Running length of the nearest point of an outline, and how far away that is in pixels; both (CELL,
    CELL)."""
    walls = body.part("wall") if len(body.part("wall")) else body.part("bevel")
    corners = walls.astype(np.int64)
    pairs = np.concatenate([corners[:, [0, 1]], corners[:, [1, 2]], corners[:, [2, 0]]])
    places, running = cell.pixels(body.position[:, :2]), body.uv[:, 0].astype(float)
    start, end = places[pairs[:, 0]], places[pairs[:, 1]]
    # Points along the edges of walls, two a pixel.
    count = np.ceil(np.abs(end - start).max(axis=1) * 2).astype(np.int64) + 1
    which = np.repeat(np.arange(len(pairs)), count)
    part = (np.arange(len(which)) - np.repeat(np.cumsum(count) - count, count)) / count[which]
    at = np.floor(start[which] + (end - start)[which] * part[:, None]).astype(np.int64)
    at = np.clip(at, 0, CELL - 1)
    first, last = running[pairs].T
    seeds = np.zeros((CELL, CELL))
    free = np.ones((CELL, CELL), np.uint8)
    seeds[at[:, 1], at[:, 0]] = first[which] + (last - first)[which] * part
    free[at[:, 1], at[:, 0]] = 0
    if free.all():
        return seeds, np.zeros((CELL, CELL), np.float32)
    away, labels = cv2.distanceTransformWithLabels(
        free, cv2.DIST_L2, cv2.DIST_MASK_5, labelType=cv2.DIST_LABEL_PIXEL
    )
    of_label = np.zeros(int(labels.max()) + 1)
    of_label[labels[free == 0]] = seeds[free == 0]
    return of_label[labels], away.astype(np.float32)


def _repeated(share: Floats, how: str) -> Floats:
    """Where along the gradient a share of its length lies that may be beyond its ends."""
    found: Floats = (
        np.clip(share, 0, 1) if how == "once" else share % 1 if how == "repeat" else 1 - np.abs(share % 2 - 1)
    )
    return found


def _blended(colours: Colours, away: NDArray[np.float32]) -> Colours:
    """Colours (CELL, CELL, 3) blended over a width that grows with how far ``away`` the outline is."""
    wanted = (FINEST + away * BLENDED) / WIDTHS[0]
    level = np.clip(np.where(wanted < 1, wanted, 1 + np.log2(np.maximum(wanted, 1))), 0, len(WIDTHS)).astype(
        np.float32
    )
    layer, before = colours, 0.0
    blend = layer * np.maximum(1 - level, 0)[..., None]
    for number, width in enumerate(WIDTHS, 1):
        layer = np.asarray(
            cv2.GaussianBlur(
                layer, (0, 0), float(np.sqrt(width**2 - before**2)), borderType=cv2.BORDER_REPLICATE
            ),
            np.float32,
        )
        blend += layer * np.maximum(1 - np.abs(level - number), 0)[..., None]
        before = width
    return blend
