"""Picture passes to the finished picture: exposure, backdrop, view transform."""

from .backdrop import backdrop_picture
from .develop import develop, linear_over
from .view import SHOULDER_START, to_display, view_curve

__all__ = ["SHOULDER_START", "backdrop_picture", "develop", "linear_over", "to_display", "view_curve"]
