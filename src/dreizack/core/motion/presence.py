"""When things are there."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..document import Span

Floats = NDArray[np.float64]


def present(span: Span, frames: Floats) -> NDArray[np.bool_]:
    """Whether a thing is there at ``frames`` (any shape); moments of an open shutter go with their frame.

    >>> present(Span(whole=False, start=2, end=4), np.array([1, 1.75, 3.25, 4])).tolist()
    [False, True, True, False]
    """
    frame = np.floor(np.asarray(frames) + 0.5)
    there: NDArray[np.bool_] = (frame >= span.start) & (frame < span.end) | span.whole
    return there
