"""Gradients that run inward from the outline of each letter: a soft glow or shade along its edge."""

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

# How much finer than cells distances are measured.
FINER = 2


def inward_picture(picture: SurfacePicture, bodies: Sequence[GlyphBody | None]) -> NDArray[np.float32]:
    """Scene-linear picture (rows, columns, 3) of the faces of all letters, coloured by how far from their
    outline a point is.

    The first stop lies ``offset`` metres from the outline, the last ``width`` metres further in. With
    ``one_sided`` the colours reach inward only where the outline faces ``lit_from``, an angle
    counter-clockwise from the right.
    """
    found, (rows, columns) = cells(bodies)
    share = np.ones((rows, columns))
    angle = np.radians(picture.lit_from)
    for cell, body in zip(found, bodies, strict=True):
        if body is None or body.empty:
            continue
        share[cell.within] = _share(cell, body, picture, np.array([np.cos(angle), np.sin(angle)]))
    return gradient_colours(picture.stops, share)


def _share(cell: Cell, body: GlyphBody, picture: SurfacePicture, towards: Floats) -> Floats:
    """How far inward (CELL, CELL) each pixel is, 0 at the first stop and 1 at the last."""
    side = CELL * FINER
    pixels = cell.pixels(body.position[:, :2]) * FINER
    mask = np.zeros((side, side), np.uint8)
    for triangle in np.rint(pixels[body.part("face").astype(np.int64)] * 16).astype(np.int32):
        cv2.fillConvexPoly(mask, triangle, 255, cv2.LINE_8, 4)
    away = cv2.distanceTransform(mask, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    metres = away / (FINER * cell.scale)
    share = np.clip((metres - picture.inset) / max(picture.width, 1e-6), 0, 1)
    if picture.one_sided > 0:
        # Distance grows away from the outline: against it one looks out of the letter.
        smooth = cv2.GaussianBlur(away, (0, 0), 2.0 * FINER)
        down, over = np.gradient(smooth)
        length = np.maximum(np.hypot(down, over), 1e-6)
        facing = (-over * towards[0] + down * towards[1]) / length
        lit = np.clip(facing * 0.5 + 0.5, 0, 1) ** 2
        share = 1 - (1 - share) * (1 - picture.one_sided * (1 - lit))
    result: Floats = cv2.resize(share.astype(np.float64), (CELL, CELL), interpolation=cv2.INTER_AREA)
    return result
