"""Letters: typefaces, shaping, outlines and their setting in lines and along paths.

HarfBuzz shapes; what leaves this room are outlines in units of the em and places in metres.
"""

from .brought import bring_file
from .measure import Sturdiness, sturdiness
from .outlines import Glyph, Outline, glyph_outline
from .setting import Layout, set_words
from .typefaces import Typeface, known, typeface, typefaces

__all__ = [
    "Glyph",
    "Layout",
    "Outline",
    "Sturdiness",
    "Typeface",
    "bring_file",
    "glyph_outline",
    "known",
    "set_words",
    "sturdiness",
    "typeface",
    "typefaces",
]
