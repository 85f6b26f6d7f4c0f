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
from .around import panorama
from .bundle import Bundle, rotations_of, vectors_of
from .file import Unsound, library_solve, read_solve, solve_bytes
from .grain import Grain, measured_grain
from .rectangle import camera_from_rectangle, solve_of_rectangle
from .report import Report, report
from .solve import NoSolve, Solve, solve_tracks, solved
from .sun import heights_over, on_ground, shadow_share, sun_from_shadows
from .tracks import Tracks

__all__ = [
    "AS_SOLVED",
    "Alignment",
    "Bundle",
    "Contradicts",
    "Grain",
    "NoSolve",
    "Report",
    "Solve",
    "Tracks",
    "Unsound",
    "camera_from_rectangle",
    "heights_over",
    "library_solve",
    "measured_grain",
    "on_ground",
    "panorama",
    "read_solve",
    "report",
    "rotations_of",
    "shadow_share",
    "solve_bytes",
    "solve_of_rectangle",
    "solve_tracks",
    "solved",
    "sun_from_shadows",
    "vectors_of",
    "with_direction",
    "with_distance",
    "with_ground",
    "with_origin",
]
