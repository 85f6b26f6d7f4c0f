"""Bodies of ornaments: tubes along lines, and grains by the thousand; each a function of its values and of
time, so that any frame can be made without the ones before it."""

from .grains import grain_body, places_of_grains
from .lines import line_of, shown_lines
from .tubes import tube_body
from .wound import wound

__all__ = ["grain_body", "line_of", "places_of_grains", "shown_lines", "tube_body", "wound"]
