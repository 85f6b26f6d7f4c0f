"""Delays of the letters of a set, from when each of them is to begin."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..document import Timing
from ..motion import ease

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# Control points of the easing keywords (CSS Easing Functions Level 2, section 2.3.1).
EASES = {
    "ease-in": (0.42, 0.0, 1.0, 1.0),
    "ease-out": (0.0, 0.0, 0.58, 1.0),
    "ease-in-out": (0.42, 0.0, 0.58, 1.0),
}


def ranks(order: str, widths: Floats, seed: int) -> Ints:
    """When each unit begins, as steps from 0: equal ones begin together. ``widths`` (units,) in reading
    order.

    >>> ranks("from the middle", np.ones(5), 0).tolist(), ranks("from the ends", np.ones(4), 0).tolist()
    ([2, 1, 0, 1, 2], [0, 1, 1, 0])
    """
    count = len(widths)
    index = np.arange(count)
    if order == "reverse":
        return index[::-1].copy()
    if order in ("from the middle", "from the ends"):
        outward = (np.abs(2 * index - (count - 1)) // 2).astype(np.int64)
        return outward if order == "from the middle" else outward.max(initial=0) - outward
    if order == "random":
        return np.random.default_rng(seed).permutation(count)
    if order == "by width":
        place = np.empty(count, np.int64)
        place[np.argsort(widths, kind="stable")] = index
        return place
    return index if order == "reading" else np.zeros(count, np.int64)


def delays(timing: Timing, sources: Ints, words: Ints, lines: Ints, widths: Floats) -> Floats:
    """Frames (pieces,) that each piece of a set begins later than the first; pieces of one unit begin
    together.

    ``sources``, ``words``, ``lines`` (pieces,) say where in the words each stands, ``widths`` (pieces,) how
    wide it is.
    """
    if timing.order == "together" or not len(sources):
        return np.zeros(len(sources))
    named = {"letters": sources, "words": words, "lines": lines}[timing.unit]
    units, unit = np.unique(named, return_inverse=True)
    unit = unit.reshape(-1)
    wide = np.bincount(unit, widths, len(units)).astype(np.float64)
    rank = ranks(timing.order, wide, timing.seed)
    last = int(rank.max(initial=0))
    if last == 0:
        return np.zeros(len(sources))
    share = rank / last
    if timing.ease in EASES:
        share = ease(share, *EASES[timing.ease])
    whole = timing.total if timing.length == "stays" else timing.delay * last
    found: Floats = (share * whole)[unit]
    return found


def scattered(seed: int, sources: Ints) -> Floats:
    """Six numbers (pieces, 6) from -1 to 1 for each letter, the same for the same seed: three to move by,
    three to turn."""
    units, unit = np.unique(sources, return_inverse=True)
    drawn: Floats = np.random.default_rng(seed).uniform(-1, 1, (len(units), 6))[unit.reshape(-1)]
    return drawn
