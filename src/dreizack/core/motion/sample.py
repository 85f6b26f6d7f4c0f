"""One channel at any times."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..document.keys import Channel
from .bezier import ease
from .instants import Instants

Floats = NDArray[np.float64]


def sample(channel: Channel, times: Floats | Instants) -> Floats:
    """Values of a channel at ``times`` (any shape), in frames; fractions of frames are welcome.

    Before the first key the first value holds, after the last the last.
    """
    instants = times if isinstance(times, Instants) else Instants(times)
    keys, at = channel.keys, instants.ordered
    # Times are in order, so what lies between two keys lies in one piece.
    cuts = np.searchsorted(at, [key.frame for key in keys]).tolist()
    result = np.empty(len(at))
    result[: cuts[0]] = keys[0].value
    result[cuts[-1] :] = keys[-1].value
    for key, after, low, high in zip(keys, keys[1:], cuts, cuts[1:], strict=False):
        if low == high:
            continue
        e = key.ease
        if e.kind == "hold":
            result[low:high] = key.value
            continue
        progress = (at[low:high] - key.frame) / (after.frame - key.frame)
        if e.kind == "cubic-bezier":
            progress = ease(progress, e.x1, e.y1, e.x2, e.y2)
        result[low:high] = key.value + (after.value - key.value) * progress
    return instants.spread(result)
