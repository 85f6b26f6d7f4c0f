"""A solve with points that somebody chose."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from .alignment import Contradicts
from .bundle import Floats, Free, adjusted, triangulated, unbent
from .solve import Solve, residual_over_time
from .tracks import Tracks

ROUNDS = 6
# A point seen in fewer frames says nothing; cosine from which on it is seen from one side only.
FEWEST, ONE_SIDE = 3, np.cos(np.radians(0.15))


def with_point(solve: Solve, seen: Tracks, number: int | None = None) -> tuple[Solve, int, float]:
    """The solve with a point more, ``seen`` as track 0, or with point ``number`` seen in further frames: its
    camera fitted anew to all of them. The solve, the number of the point, and the pixels by which it misses.

    Contradicts where it is seen too seldom, or where its distance cannot be told.
    """
    tracks, bundle = solve.tracks, solve.bundle
    if number is not None:
        if number >= len(bundle.points):
            raise Contradicts("this point is gone; click it anew")
        earlier = tracks.only((tracks.track == number) & ~np.isin(tracks.frame, seen.frame))
        seen = Tracks(
            np.zeros(len(seen) + len(earlier), np.int64),
            np.concatenate([seen.frame, earlier.frame]),
            np.concatenate([seen.xy, earlier.xy]),
        )
        tracks = tracks.only(tracks.track != number)
    if len(seen) < FEWEST:
        raise Contradicts(
            f"this spot could be followed through {len(seen)} frames only; take one with more texture"
        )
    number = len(bundle.points) if number is None else number
    points = np.concatenate([bundle.points, np.zeros((max(number + 1 - len(bundle.points), 0), 3))])
    points[number] = _where(solve, seen)
    bundle = replace(bundle, points=points)
    own = np.full(len(seen), number, np.int64)
    tracks = Tracks(
        np.concatenate([tracks.track, own]),
        np.concatenate([tracks.frame, seen.frame]),
        np.concatenate([tracks.xy, seen.xy]),
    )
    if solve.kind != "still":
        bundle = adjusted(bundle, tracks, Free(centres=solve.kind == "moving"), ROUNDS)
    residual = residual_over_time(bundle, tracks, solve.frames)
    found = replace(solve, bundle=bundle, tracks=tracks, residual=residual)
    return found, number, miss(found, number)


def miss(solve: Solve, number: int) -> float:
    """Pixels by which a point misses, root of the mean square over the frames it is seen in."""
    off = solve.bundle.residuals(solve.tracks.only(solve.tracks.track == number))
    return float(np.sqrt((off**2).sum(axis=1).mean()))


def _where(solve: Solve, seen: Tracks) -> Floats:
    """Where a point (3,) is that is seen so."""
    bundle = solve.bundle
    flat = unbent(bundle, seen.xy)
    ways = np.concatenate([flat, np.ones((len(flat), 1))], axis=1)
    ways = np.einsum("nji,nj->ni", bundle.rotations[seen.frame], ways)
    ways /= np.linalg.norm(ways, axis=1, keepdims=True)
    if solve.kind != "moving":
        # Nothing tells its distance: that of the others will do.
        away = np.linalg.norm(bundle.points - bundle.centres[0], axis=1)
        there: Floats = bundle.centres[0] + np.median(away) * ways.mean(axis=0)
        return there
    found: Floats = triangulated(replace(bundle, points=np.zeros((1, 3))), seen)[0]
    towards = found - bundle.centres[seen.frame]
    towards /= np.maximum(np.linalg.norm(towards, axis=1, keepdims=True), 1e-12)
    behind = (bundle.in_camera(seen.frame, np.tile(found, (len(seen), 1)))[:, 2] <= 0).any()
    if behind or not np.isfinite(found).all() or (towards @ towards[0]).min() > ONE_SIDE:
        raise Contradicts(
            "the camera sees this spot from one side only, so that its distance cannot be told; take one "
            "that is nearer, or seen in more frames"
        )
    return found
