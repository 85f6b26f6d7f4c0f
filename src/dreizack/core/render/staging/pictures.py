"""Pictures of the library as light."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from ...caching import cached_by_size
from ...colour import codes_to_linear
from ...library import find


@cached_by_size(96)
def picture_light(file: str) -> NDArray[np.float32] | None:
    """A picture (rows, columns, 3), scene-linear; None where there is none that can be read."""
    path = find(file)
    read = cv2.imread(str(path), cv2.IMREAD_COLOR) if path is not None else None
    if read is None:
        return None
    return codes_to_linear(read[..., ::-1])
