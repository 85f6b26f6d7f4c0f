"""Solves as files: named arrays, nothing that runs when it is read."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np

from ..caching import cached_by_size
from ..library import find
from .archive import Unsound, archive_bytes, read_archive
from .bundle import Bundle
from .solve import Solve
from .tracks import Tracks

ENDING = "solve"
# What a file may hold: frames, points, observations.
MOST_FRAMES, MOST_POINTS, MOST_SEEN = 20_000, 400_000, 20_000_000
ARRAYS = ("rotations", "centres", "points", "residual", "track", "frame", "xy")


def solve_bytes(solve: Solve) -> bytes:
    """A solve as a file (NumPy's archive of arrays); the same solve makes the same bytes."""
    bundle, tracks = solve.bundle, solve.tracks
    facts = {
        "kind": solve.kind,
        "focal": bundle.focal,
        "k1": bundle.k1,
        "size": list(bundle.size),
        "readout": bundle.readout,
        "by": solve.by,
    }
    arrays: dict[str, np.ndarray[Any, Any]] = {
        "rotations": bundle.rotations,
        "centres": bundle.centres,
        "points": bundle.points,
        "residual": solve.residual,
        "track": tracks.track.astype(np.int32),
        "frame": tracks.frame.astype(np.int32),
        "xy": tracks.xy.astype(np.float32),
    }
    return archive_bytes(facts, arrays)


def read_solve(path: Path) -> Solve:
    """Read a solve back. Unsound for what is none."""
    try:
        facts, data = read_archive(path, ARRAYS)
        width, height = facts["size"]
        bundle = Bundle(
            data["rotations"].astype(np.float64),
            data["centres"].astype(np.float64),
            data["points"].astype(np.float64),
            float(facts["focal"]),
            float(facts["k1"]),
            (int(width), int(height)),
            float(facts["readout"]),
        )
        tracks = Tracks(
            data["track"].astype(np.int64), data["frame"].astype(np.int64), data["xy"].astype(np.float64)
        )
        residual = data["residual"].astype(np.float64)
        solve = Solve(facts["kind"], bundle, tracks, residual, facts.get("by", "points"))
    except Unsound:
        raise
    except Exception as why:
        raise Unsound("this file is no solve") from why
    _check(solve)
    return solve


def _check(solve: Solve) -> None:
    bundle, tracks, frames = solve.bundle, solve.tracks, len(solve.bundle.centres)
    sound = (
        solve.kind in ("moving", "turning", "still")
        and solve.by in ("points", "rectangle", "edges")
        and 1 <= frames <= MOST_FRAMES
        and len(bundle.points) <= MOST_POINTS
        and len(tracks) <= MOST_SEEN
        and bundle.rotations.shape == (frames, 3, 3)
        and bundle.centres.shape == (frames, 3)
        and bundle.points.shape[1:] == (3,)
        and solve.residual.shape == (frames,)
        and tracks.track.shape == tracks.frame.shape == tracks.xy.shape[:1]
        and bundle.focal > 0
        and all(16 <= side <= 16384 for side in bundle.size)
        and bool(np.isfinite(bundle.rotations).all() and np.isfinite(bundle.centres).all())
        and (not len(tracks) or (tracks.track.min() >= 0 and tracks.track.max() < len(bundle.points)))
        and (not len(tracks) or (tracks.frame.min() >= 0 and tracks.frame.max() < frames))
    )
    if not sound:
        raise Unsound("this solve does not agree with itself")


@cached_by_size(200)
def library_solve(name: str) -> Solve | None:
    """The solve of that name in the library; None where there is none, or none that can be read."""
    path = find(name) if name.endswith(f".{ENDING}") else None
    if path is None:
        return None
    try:
        return read_solve(path)
    except Unsound:
        return None
