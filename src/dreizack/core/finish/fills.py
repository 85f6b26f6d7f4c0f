"""What is on a sheet, as a picture."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from ..caching import cached_by_size
from ..colour import codes_to_linear
from ..document import Fill
from ..library import find

Floats = NDArray[np.float32]

SIDE = 512


def fill_picture(fill: Fill, base: tuple[float, float, float]) -> Floats:
    """The fill (rows, columns, 3), scene-linear, top row first; ``base`` is the base colour of the finish.

    Gradients are mixed in scene-linear light. A picture that is not in the library leaves the base colour.
    """
    if fill.kind == "picture":
        found = library_picture(fill.picture)
        return found if found is not None else np.full((2, 2, 3), base, np.float32)
    if fill.kind == "colour":
        return np.full((2, 2, 3), base, np.float32)
    across = (np.arange(SIDE) + 0.5) / SIDE - 0.5
    x, y = np.meshgrid(across, -across)
    if fill.kind == "linear":
        c, s = np.cos(np.radians(fill.angle)), np.sin(np.radians(fill.angle))
        # From one side of the square to the other, whichever way it runs.
        share = (x * c + y * s) / (abs(c) + abs(s)) + 0.5
    else:
        share = np.hypot(x, y) * 2
    share = np.clip(share, 0, 1)
    # The power that puts the even mixture at the middle.
    share = share ** (np.log(0.5) / np.log(fill.middle))
    second = np.array([fill.second.r, fill.second.g, fill.second.b])
    mixed = (1 - share)[..., None] * np.asarray(base) + share[..., None] * second
    made: Floats = mixed.astype(np.float32)
    return made


@cached_by_size(96)
def library_picture(file: str) -> Floats | None:
    """A picture of the library, linear (height, width, 3); None where it is not there."""
    path = find(file)
    if path is None:
        return None
    read = cv2.imread(str(path), cv2.IMREAD_COLOR)
    if read is None:
        return None
    return codes_to_linear(read[..., ::-1])
