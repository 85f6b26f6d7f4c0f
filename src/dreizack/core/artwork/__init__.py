"""Artwork to outlines: vector drawings read, bitmaps traced, path data taken as it is.

Foreign files are read in a confined process; what leaves this room are pieces of path data and outlines.
"""

from .meshes import MeshParts, read_mesh, unpacked
from .path_data import data_from_outline, outline_from_data
from .svg import Drawing, DrawnPiece, read_svg
from .trace import TraceWish, load_picture, trace

__all__ = [
    "Drawing", "DrawnPiece", "MeshParts", "TraceWish", "data_from_outline", "load_picture", "outline_from_data",
    "read_mesh", "read_svg",
    "trace", "unpacked",
]
