"""A solve without points that one does not trust."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from .alignment import Contradicts
from .bundle import Free, adjusted
from .solve import Solve, residual_over_time
from .tracks import Ints, Tracks

# A camera needs so many points.
FEWEST = 20
ROUNDS = 6


def without_points(solve: Solve, gone: Ints) -> Solve:
    """The solve without the points of these numbers, its camera fitted anew to those that are left, near the
    one it was. Contradicts where too few are left, or none is gone."""
    doomed = np.isin(np.arange(len(solve.bundle.points)), gone)
    if not doomed.any():
        raise Contradicts("there is no point in this box; show the points and drag around some of them")
    used = np.unique(solve.tracks.track[~doomed[solve.tracks.track]])
    if len(used) < FEWEST:
        raise Contradicts(f"only {len(used)} points would be left, and a camera needs {FEWEST}; take fewer")
    number = np.full(len(doomed), -1)
    number[used] = np.arange(len(used))
    kept = solve.tracks.only(number[solve.tracks.track] >= 0)
    tracks = Tracks(number[kept.track], kept.frame, kept.xy)
    bundle = replace(solve.bundle, points=solve.bundle.points[used])
    if solve.kind != "still":
        bundle = adjusted(bundle, tracks, Free(centres=solve.kind == "moving"), ROUNDS)
    residual = residual_over_time(bundle, tracks, solve.frames)
    return replace(solve, bundle=bundle, tracks=tracks, residual=residual)
