"""Gradients that run inward from the outline of each letter: a soft glow or shade along its edge."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from ..document import SurfacePicture
from ..form import GlyphBody

Floats = NDArray[np.float64]

# Pixels on a side of a letter's cell, empty ones around it, and how much finer distances are measured.
CELL, MARGIN, FINER = 256, 6, 2


@dataclass(frozen=True)
class Cell:
    """Where a letter lies in the picture of all: pixel ``left``, ``top`` of its cell, the lowest x and y of its face, and
    pixels a metre.
    """

    left: int
    top: int
    low: tuple[float, float]
    scale: float


def cells(bodies: Sequence[GlyphBody | None]) -> tuple[list[Cell], tuple[int, int]]:
    """A cell for each letter, and rows and columns of the whole picture."""
    across = max(1, math.ceil(math.sqrt(len(bodies))))
    found = []
    for number, body in enumerate(bodies):
        low, extent = (0.0, 0.0), 1.0
        if body is not None and not body.empty:
            lowest, highest = body.position[:, :2].min(axis=0), body.position[:, :2].max(axis=0)
            low, extent = (float(lowest[0]), float(lowest[1])), max(float((highest - lowest).max()), 1e-6)
        found.append(Cell(number % across * CELL, number // across * CELL, low, (CELL - 2 * MARGIN) / extent))
    return found, (max(1, math.ceil(len(bodies) / across)) * CELL, across * CELL)


def planes(bodies: Sequence[GlyphBody | None]) -> list[Floats]:
    """Matrices (2, 4) that take points of each letter to the picture of all (0 to 1, up)."""
    found, (rows, columns) = cells(bodies)
    made = []
    for cell in found:
        x0 = (cell.left + MARGIN - cell.low[0] * cell.scale) / columns
        # Rows count down, v up.
        y0 = 1 - (cell.top + CELL - MARGIN + cell.low[1] * cell.scale) / rows
        made.append(np.array([[cell.scale / columns, 0, 0, x0], [0, cell.scale / rows, 0, y0]]))
    return made


def inward_picture(picture: SurfacePicture, bodies: Sequence[GlyphBody | None]) -> NDArray[np.float32]:
    """Scene-linear picture (rows, columns, 3) of the faces of all letters, coloured by how far from their outline a point is.

    The first stop lies ``offset`` metres from the outline, the last ``width`` metres further in. With ``one_sided`` the
    colours reach inward only where the outline faces ``lit_from``, an angle counter-clockwise from the right.
    """
    found, (rows, columns) = cells(bodies)
    share = np.ones((rows, columns))
    angle = np.radians(picture.lit_from)
    for cell, body in zip(found, bodies, strict=True):
        if body is None or body.empty:
            continue
        within = slice(cell.top, cell.top + CELL), slice(cell.left, cell.left + CELL)
        share[within] = _share(cell, body, picture, np.array([np.cos(angle), np.sin(angle)]))
    stops = sorted(picture.stops, key=lambda stop: stop.at)
    at = [stop.at for stop in stops]
    return np.stack([np.interp(share, at, [getattr(stop.colour, c) for stop in stops]) for c in "rgb"], axis=-1).astype(np.float32)


def _share(cell: Cell, body: GlyphBody, picture: SurfacePicture, towards: Floats) -> Floats:
    """How far inward (CELL, CELL) each pixel is, 0 at the first stop and 1 at the last."""
    side = CELL * FINER
    flat = (body.position[:, :2] - np.array(cell.low)) * cell.scale + MARGIN
    pixels = np.stack([flat[:, 0], CELL - flat[:, 1]], axis=1) * FINER
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
