"""Words bent as the lens of a plate bends what it sees."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from .settings import Place

Floats = NDArray[np.float32]

ROUNDS = 12


def lens_bent(picture: Floats, bending: float, place: Place) -> Floats:
    """A picture (height, width, n), at a ``place`` in the whole one, as a lens shows it that brings what lies
    r from the middle, in heights of the whole picture, to r · (1 + bending · r²) (Brown, Decentering
    Distortion of Lenses, 1966: its first radial term)."""
    rows, columns = picture.shape[:2]
    x = ((np.arange(columns) + place.left + 0.5) - place.width / 2) / place.height
    y = ((np.arange(rows) + place.top + 0.5) - place.height / 2) / place.height
    square = (x[None] ** 2 + y[:, None] ** 2).astype(np.float32)
    # How far out what is seen there lies without the lens, as a share: by iteration.
    share = np.ones_like(square)
    for _ in range(ROUNDS):
        share = (1 / (1 + np.float32(bending) * square * share * share)).astype(np.float32)
    across = (x[None] * share * place.height + place.width / 2 - 0.5 - place.left).astype(np.float32)
    down = (y[:, None] * share * place.height + place.height / 2 - 0.5 - place.top).astype(np.float32)
    # At most four channels at a time.
    parts = [
        cv2.remap(part, across, down, cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT)
        for part in (picture[..., k : k + 4] for k in range(0, picture.shape[2], 4))
    ]
    return np.concatenate([part.reshape(rows, columns, -1) for part in parts], axis=2)
