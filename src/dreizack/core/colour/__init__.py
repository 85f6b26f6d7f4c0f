"""Colour arithmetic everybody shares: transfer functions and luminance of Rec.709 primaries.

What needs more than arrays (film views, log encodings) is OpenColorIO's, in the room ``optics``.
"""

from .acescct import from_acescct, to_acescct
from .luminance import LUMINANCE, luminance
from .shoulder import SHOULDER_START, from_display, view_curve
from .srgb import codes_to_linear, linear_to_srgb, srgb_to_linear

__all__ = [
    "LUMINANCE",
    "SHOULDER_START",
    "codes_to_linear",
    "from_acescct",
    "from_display",
    "linear_to_srgb",
    "luminance",
    "srgb_to_linear",
    "to_acescct",
    "view_curve",
]
