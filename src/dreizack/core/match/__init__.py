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
from .archive import Unsound
from .around import panorama
from .bundle import Bundle
from .edges import camera_from_edges, solve_of_edges
from .file import library_solve, read_solve, solve_bytes
from .grain import Grain, measured_grain
from .left_out import left_out_bytes, left_out_masks
from .matte import drawn_at, matte, rounded
from .own_point import with_point
from .planar import Followed, NoPatch, follow_plane, through
from .planar_file import followed_bytes, library_followed, read_followed
from .plane_pose import axes_of_sides, from_lower_left, plane_poses
from .rectangle import camera_from_rectangle, rectangle_grid, solve_of_rectangle
from .refining import without_points
from .report import Report, report
from .sharpness import measured_black, measured_blur
from .solve import NoSolve, Solve, solve_tracks, solved
from .standing import standing_places
from .sun import heights_over, on_ground, shadow_share, sun_from_shadows
from .tracking import follow_one
from .tracks import Tracks

__all__ = [
    "AS_SOLVED",
    "Alignment",
    "Bundle",
    "Contradicts",
    "Followed",
    "Grain",
    "NoPatch",
    "NoSolve",
    "Report",
    "Solve",
    "Tracks",
    "Unsound",
    "axes_of_sides",
    "camera_from_edges",
    "camera_from_rectangle",
    "drawn_at",
    "follow_one",
    "follow_plane",
    "followed_bytes",
    "from_lower_left",
    "heights_over",
    "left_out_bytes",
    "left_out_masks",
    "library_followed",
    "library_solve",
    "matte",
    "measured_black",
    "measured_blur",
    "measured_grain",
    "on_ground",
    "panorama",
    "plane_poses",
    "read_followed",
    "read_solve",
    "rectangle_grid",
    "report",
    "rounded",
    "shadow_share",
    "solve_bytes",
    "solve_of_edges",
    "solve_of_rectangle",
    "solve_tracks",
    "solved",
    "standing_places",
    "sun_from_shadows",
    "through",
    "with_direction",
    "with_distance",
    "with_ground",
    "with_origin",
    "with_point",
    "without_points",
]
