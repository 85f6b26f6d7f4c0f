"""How the camera of footage moved, where its ground is and where its sun stands: points followed, a camera
solved, picks turned into places. It knows pictures and numbers, and nothing of a document.
"""

from .alignment import (
    AS_SOLVED,
    Alignment,
    Contradicts,
    with_direction,
    with_distance,
    with_ground,
    with_origin,
)
from .bundle import Bundle, rotations_of, vectors_of
from .file import Unsound, library_solve, read_solve, solve_bytes
from .solve import NoSolve, Solve, solve_tracks, solved
from .tracks import Tracks

__all__ = [
    "AS_SOLVED",
    "Alignment",
    "Bundle",
    "Contradicts",
    "NoSolve",
    "Solve",
    "Tracks",
    "Unsound",
    "library_solve",
    "read_solve",
    "rotations_of",
    "solve_bytes",
    "solve_tracks",
    "solved",
    "vectors_of",
    "with_direction",
    "with_distance",
    "with_ground",
    "with_origin",
]
