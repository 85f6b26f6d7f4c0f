"""Letters: typefaces, shaping, outlines and their setting in lines.

HarfBuzz shapes; what leaves this room are outlines in units of the em and places in metres.
"""

from .outlines import Outline, glyph_outline
from .setting import Layout, set_words
from .typefaces import Typeface, typeface, typefaces

__all__ = ["Layout", "Outline", "Typeface", "glyph_outline", "set_words", "typeface", "typefaces"]
