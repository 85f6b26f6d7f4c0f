"""The points of a plate's solve, as they lie in the room of the shot."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..document import Shot
from ..match import library_solve
from ..scene import alignment_of

# What they are called in files.
NAME = "Points of the plate"


def plate_points(shot: Shot) -> NDArray[np.float64] | None:
    """Places (n, 3) in metres; None where the shot has no solved plate, or one whose camera says nothing of
    how far away things are."""
    solve = library_solve(shot.plate.solve) if shot.plate.solve else None
    if solve is None or solve.kind != "moving" or not len(solve.bundle.points):
        return None
    return alignment_of(shot.plate).placed(solve.bundle.points)
