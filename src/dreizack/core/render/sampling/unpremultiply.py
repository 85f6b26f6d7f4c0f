"""Colours of what takes up a part of a pixel only, as if it took up all of it."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]

# Side of the window that pixels borrow from, and how much of what they lack.
AROUND, BORROWED = 5, 0.3


def unpremultiply(picture: Floats, share: Floats) -> Floats:
    """``picture`` (height, width, n), premultiplied by ``share`` (height, width), divided by it.

    A denoiser that is given this sees no step at outlines, where it would else keep the noise of few samples
    or blur. Few samples fall onto what takes up little of a pixel, or none: it borrows from its neighbours,
    the more the less it has (ratio estimate over a neighbourhood; Cochran, Sampling Techniques, 1977, 6.2).

    >>> share = np.array([[0.5, 1.0, 1.0]], np.float32)
    >>> np.round(unpremultiply(np.stack([share * 3, share], axis=2), share), 6)[0].tolist()
    [[3.0, 1.0], [3.0, 1.0], [3.0, 1.0]]
    """
    window, result = (AROUND, AROUND), picture.copy()
    about = cv2.blur(share, window)
    result[about <= 0] = 0
    # Few pixels are taken up in part.
    partly = (share < 1) & (about > 0)
    lent = np.float32(BORROWED) * (1 - share[partly])
    light = picture[partly] + lent[:, None] * cv2.blur(picture, window).reshape(picture.shape)[partly]
    result[partly] = light / np.maximum(share[partly] + lent * about[partly], 1e-6)[:, None]
    return result
