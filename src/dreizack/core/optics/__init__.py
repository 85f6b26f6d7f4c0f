"""Picture passes to the finished picture: exposure, backdrop, view transform."""

from .develop import develop, linear_over
from .inspect import channel_shown, clipped_share, clipping, false_colour, shown_clipped
from .transforms import LOW, SPAN, TRANSFORMS, cube
from .view import SHOULDER_START, to_display, view_curve

__all__ = [
    "LOW", "SHOULDER_START", "SPAN", "TRANSFORMS", "channel_shown", "clipped_share", "clipping", "cube", "develop", "false_colour",
    "linear_over", "shown_clipped", "to_display", "view_curve",
]
