"""Whole pictures (height, width) or (height, width, channels) made smaller, larger, soft, or moved: float32
in and out."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]


def smaller(picture: Floats, width: int, height: int) -> Floats:
    """A picture averaged down to a size."""
    return np.asarray(cv2.resize(picture, (width, height), interpolation=cv2.INTER_AREA), np.float32)


def larger(picture: Floats, width: int, height: int, smooth: bool = False) -> Floats:
    """A picture brought up to a size, straight between its pixels, or ``smooth``."""
    how = cv2.INTER_CUBIC if smooth else cv2.INTER_LINEAR
    return np.asarray(cv2.resize(picture, (width, height), interpolation=how), np.float32)


def gaussian(picture: Floats, sigma: float) -> Floats:
    """A picture under a Gaussian of ``sigma`` pixels; beyond the edges it is as there."""
    soft = cv2.GaussianBlur(picture, (0, 0), sigma, borderType=cv2.BORDER_REPLICATE)
    return np.asarray(soft, np.float32).reshape(picture.shape)


def halved(picture: Floats) -> Floats:
    """A picture of half the size, softened by the binomial kernel of five before every second pixel is taken,
    the first being that of the first (Burt & Adelson, The Laplacian pyramid as a compact image code, 1983):
    it widens by a variance of one pixel."""
    rows, columns = picture.shape[:2]
    size = (columns + 1) // 2, (rows + 1) // 2
    made = cv2.pyrDown(picture, dstsize=size, borderType=cv2.BORDER_REPLICATE)
    return np.asarray(made, np.float32).reshape(size[1], size[0], *picture.shape[2:])


def brought_up(picture: Floats, share: int, width: int, height: int) -> Floats:
    """A picture of every ``share``-th pixel at full size, straight between its pixels."""
    matrix = np.array([[1 / share, 0, 0], [0, 1 / share, 0]], np.float32)
    how = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    made = cv2.warpAffine(picture, matrix, (width, height), flags=how, borderMode=cv2.BORDER_REPLICATE)
    return np.asarray(made, np.float32).reshape(height, width, *picture.shape[2:])


def scaled_about(picture: Floats, scale: float, x: float, y: float, held: bool = False) -> Floats:
    """A picture scaled about a place (pixels), black beyond it, or ``held`` at its edges and sharper."""
    matrix = np.array([[scale, 0, x * (1 - scale)], [0, scale, y * (1 - scale)]], np.float32)
    return _warped(picture, matrix, held)


def shifted(picture: Floats, x: float, y: float) -> Floats:
    """A picture moved by parts of pixels, black beyond it."""
    return _warped(picture, np.array([[1, 0, x], [0, 1, y]], np.float32))


def taken_from(picture: Floats, columns: Floats, rows: Floats) -> Floats:
    """Pixels from elsewhere: places (height, width) in pixels from the middle of the first; not below 0."""
    made = cv2.remap(picture, columns, rows, cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)
    return np.maximum(np.asarray(made, np.float32), 0)


def _warped(picture: Floats, matrix: Floats, held: bool = False) -> Floats:
    size = picture.shape[1], picture.shape[0]
    border = cv2.BORDER_REPLICATE if held else cv2.BORDER_CONSTANT
    how = cv2.INTER_CUBIC if held else cv2.INTER_LINEAR
    made = cv2.warpAffine(picture, matrix, size, flags=how, borderMode=border)
    return np.asarray(made, np.float32).reshape(picture.shape)
