"""Vector drawings (SVG 1.1 and 2) to pieces of a mark.

What is understood: paths and basic shapes, nested transforms, groups, ``use`` and ``symbol``, fill
rules, strokes (turned to outlines), clip paths, presentation attributes, ``style`` attributes and
simple style sheets. What is not is listed, so that nobody is surprised.
"""

from .reading import Drawing, DrawnPiece, drawing, read_svg
from .transforms import transform

__all__ = ["Drawing", "DrawnPiece", "drawing", "read_svg", "transform"]
