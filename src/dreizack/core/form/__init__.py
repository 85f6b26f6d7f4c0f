"""Bodies: outlines to closed meshes with four parts, exact normals and UVs.

Contours are flattened once for all letters together; where an edge keeps the topology of the
outline it becomes plain strips, elsewhere rings are cut exactly and the bands between them filled.
"""

from .body import PARTS, GlyphBody, build_bodies
from .contours import Contours, flatten
from .manifold import Closedness, examine
from .profiles import PROFILES, Profile, profile

__all__ = ["PARTS", "PROFILES", "Closedness", "Contours", "GlyphBody", "Profile", "build_bodies", "examine", "flatten", "profile"]
