"""Bodies: outlines to closed meshes with four parts, exact normals and UVs.

Contours are flattened once for all letters together, their points travel inward along the profiles,
and strips between the rings they pass are the bevels.
"""

from .body import build_bodies
from .contours import Contours, flatten
from .glyph_body import PARTS, GlyphBody
from .manifold import Closedness, examine
from .profiles import PROFILES, Profile, profile

__all__ = [
    "PARTS",
    "PROFILES",
    "Closedness",
    "Contours",
    "GlyphBody",
    "Profile",
    "build_bodies",
    "examine",
    "flatten",
    "profile",
]
