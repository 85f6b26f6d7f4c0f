"""One channel at any times."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..document.keys import Channel
from .bezier import ease

Floats = NDArray[np.float64]


def sample(channel: Channel, times: Floats) -> Floats:
    """Values of a channel at ``times`` (any shape), in frames; fractions of frames are welcome.

    Before the first key the first value holds, after the last the last.
    """
    keys = channel.keys
    frame = np.array([key.frame for key in keys], dtype=np.float64)
    value = np.array([key.value for key in keys], dtype=np.float64)
    if len(keys) == 1:
        return np.full(np.shape(times), value[0])
    times = np.asarray(times, dtype=np.float64)
    result = np.interp(times, frame, value)
    segment = np.searchsorted(frame, times, side="right") - 1
    for i, key in enumerate(keys[:-1]):
        if key.ease.kind == "linear":
            continue
        inside = segment == i
        if not inside.any():
            continue
        if key.ease.kind == "hold":
            result[inside] = value[i]
            continue
        e = key.ease
        progress = (times[inside] - frame[i]) / (frame[i + 1] - frame[i])
        eased = ease(progress, *(np.float64(n) for n in (e.x1, e.y1, e.x2, e.y2)))  # type: ignore[arg-type]
        result[inside] = value[i] + (value[i + 1] - value[i]) * eased
    return result
