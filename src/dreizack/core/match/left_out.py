"""What of footage a solve does not look at: outlines, frame by frame."""

from __future__ import annotations

import io
from collections.abc import Callable

import cv2
import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

# Pixels beyond an outline that are left out, too: what moves there touches what points look like.
BESIDE = 8


def left_out_bytes(outlines: list[Floats]) -> bytes:
    """Outlines, each (frames, points, 2) in shares of the picture, as bytes to be kept."""
    out = io.BytesIO()
    np.savez_compressed(out, *(outline.astype(np.float32) for outline in outlines))
    return out.getvalue()


def left_out_masks(data: bytes) -> Callable[[int, tuple[int, int]], NDArray[np.bool_]]:
    """What is left out (height, width) of a frame, by its number and the picture's size (width, height)."""
    with np.load(io.BytesIO(data), allow_pickle=False) as held:
        outlines = [held[name] for name in held.files]

    def mask(frame: int, size: tuple[int, int]) -> NDArray[np.bool_]:
        width, height = size
        drawn = np.zeros((height, width), np.uint8)
        for outline in outlines:
            corners = outline[min(frame, len(outline) - 1)] * [width, height]
            cv2.fillPoly(drawn, [np.rint(corners).astype(np.int32)], 1)
        side = 2 * BESIDE + 1
        return cv2.dilate(drawn, np.ones((side, side), np.uint8)) > 0

    return mask
