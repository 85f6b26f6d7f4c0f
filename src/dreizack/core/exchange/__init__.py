"""Open formats in and out: bodies as GLB, OBJ, STL, and their outlines as SVG."""

from .bodies import BODY_FORMATS, write_body

__all__ = ["BODY_FORMATS", "write_body"]
