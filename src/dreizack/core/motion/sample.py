"""One channel at any times."""

from __future__ import annotations

import itertools

import numpy as np
from numpy.typing import NDArray

from ..document.keys import Channel
from .bezier import curve
from .eases import eased, hermite, smooth_slopes
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
    slopes = None
    for number, (low, high) in enumerate(itertools.pairwise(cuts)):
        key, e = keys[number], keys[number].ease
        if low == high:
            continue
        if e.kind == "hold":
            result[low:high] = key.value
            continue
        after = keys[number + 1]
        progress = (at[low:high] - key.frame) / (after.frame - key.frame)
        if e.kind == "handles":
            way = after.value - key.value
            result[low:high] = key.value + curve(progress, (e.x1, e.x2), (e.out, way + e.back, way))
            continue
        if e.kind == "smooth":
            if slopes is None:
                slopes = smooth_slopes(np.array([k.frame for k in keys]), np.array([k.value for k in keys]))
            out, back = float(slopes[number]), float(slopes[number + 1])
            span = after.frame - key.frame
            result[low:high] = hermite(progress, key.value, after.value, out, back, span)
            continue
        result[low:high] = key.value + (after.value - key.value) * eased(e, progress)
    return instants.spread(result)
