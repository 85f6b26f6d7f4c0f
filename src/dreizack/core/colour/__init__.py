"""Colour arithmetic everybody shares: transfer functions and luminance of Rec.709 primaries.

What needs more than arrays is OpenColorIO's: encodings of footage here, film views in the room ``optics``.
"""

from .acescct import from_acescct, to_acescct
from .encodings import AS_SEEN, decoded_light, encodings
from .footage import footage_light, footage_values
from .luminance import LUMINANCE, luminance
from .shoulder import SHOULDER_START, from_display, view_curve
from .srgb import codes_to_linear, linear_to_srgb, srgb_to_linear

__all__ = [
    "AS_SEEN",
    "LUMINANCE",
    "SHOULDER_START",
    "codes_to_linear",
    "decoded_light",
    "encodings",
    "footage_light",
    "footage_values",
    "from_acescct",
    "from_display",
    "linear_to_srgb",
    "luminance",
    "srgb_to_linear",
    "to_acescct",
    "view_curve",
]
