"""Affine maps of space as 4 × 4 matrices, many at once: column vectors, row-major, right-handed, angles in
degrees."""

from .matrices import about, angles_of, applied, composed, homogeneous, linear_map, rotation, skew, split
from .planes import linear_of, moved_about, planes_of
from .rotation_vectors import rotations_of, vectors_of

__all__ = [
    "about",
    "angles_of",
    "applied",
    "composed",
    "homogeneous",
    "linear_map",
    "linear_of",
    "moved_about",
    "planes_of",
    "rotation",
    "rotations_of",
    "skew",
    "split",
    "vectors_of",
]
