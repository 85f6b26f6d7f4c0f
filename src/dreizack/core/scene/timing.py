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


def delays(
    timing: Timing, sources: Ints, words: Ints, lines: Ints, widths: Floats, middles: Floats
) -> Floats:
    """Frames (pieces,) that each piece of a set begins later than the first; pieces of one unit begin
    together.

    ``sources``, ``words``, ``lines`` (pieces,) say where in the words each stands, ``widths`` (pieces,) how
    wide it is, ``middles`` (pieces, 2) where its middle lies.
    """
    if timing.order == "together" or not len(sources):
        return np.zeros(len(sources))
    letters = np.unique(sources, return_inverse=True)[1].reshape(-1)
    named = {"letters": sources, "words": words, "lines": lines, "alternate letters": letters % 2}[
        timing.unit
    ]
    units, unit = np.unique(named, return_inverse=True)
    unit = unit.reshape(-1)
    rank = _ranks(timing, units, unit, widths, middles)
    last = float(rank.max(initial=0))
    if last <= 0:
        return np.zeros(len(sources))
    share = rank / last
    if timing.ease in EASES:
        share = ease(share, *EASES[timing.ease])
    whole = timing.total if timing.length == "stays" else timing.delay * last
    found: Floats = (share * whole)[unit]
    return found


def _ranks(timing: Timing, units: Ints, unit: Ints, widths: Floats, middles: Floats) -> Floats:
    """When each unit begins, in steps of the delay, from 0; where it goes by places, parts of steps too."""
    count = len(units)
    if timing.order == "as listed":
        wanted = [int(one) for one in timing.listed.split() if one.isdecimal()]
        place = {number: index for index, number in reversed(list(enumerate(wanted)))}
        return np.array([float(place.get(index, len(wanted))) for index in range(count)])
    if timing.order in ("from a point", "along a direction"):
        number = np.bincount(unit, minlength=count)
        x, y = (np.bincount(unit, middles[:, axis], count) / number for axis in (0, 1))
        if timing.order == "from a point":
            away = np.hypot(x - timing.point_x, y - timing.point_y)
        else:
            angle = np.radians(timing.direction)
            away = x * np.cos(angle) + y * np.sin(angle)
        span = float(np.ptp(away)) if count else 0.0
        return (away - away.min(initial=np.inf)) / span * (count - 1) if span > 1e-9 else np.zeros(count)
    wide = np.bincount(unit, widths, count).astype(np.float64)
    return ranks(timing.order, wide, timing.seed).astype(np.float64)


def scattered(seed: int, sources: Ints) -> Floats:
    """Six numbers (pieces, 6) from -1 to 1 for each letter, the same for the same seed: three to move by,
    three to turn."""
    units, unit = np.unique(sources, return_inverse=True)
    drawn: Floats = np.random.default_rng(seed).uniform(-1, 1, (len(units), 6))[unit.reshape(-1)]
    return drawn
