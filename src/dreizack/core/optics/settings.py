"""What steps go by: values of the optics at a frame, and where a picture lies in the whole one."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]
# By pointer below the optics: "bloom/amount".
Values = Mapping[str, float]


@dataclass(frozen=True)
class Place:
    """Size of the whole picture in pixels, where a window of it begins, and the number of the frame."""

    width: int
    height: int
    left: int = 0
    top: int = 0
    frame: int = 0

    def around(self, size: tuple[int, int]) -> tuple[Floats, Floats]:
        """Middles of the pixels (rows, columns) of a window, from the middle of the whole picture, to the
        right and down, in halves of its diagonal."""
        rows, columns = size
        half = np.hypot(self.width, self.height) / 2
        x = (np.arange(columns) + 0.5 + self.left - self.width / 2) / half
        y = (np.arange(rows) + 0.5 + self.top - self.height / 2) / half
        across, down = np.broadcast_arrays(x[None].astype(np.float32), y[:, None].astype(np.float32))
        return across, down
