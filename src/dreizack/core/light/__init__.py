"""Lights and surroundings: what they send, where, and the lighting a new title arrives in."""

from .arrival import key_fill_rim
from .panel import panel_matrix, panel_radiance
from .studio import STUDIOS, panorama

__all__ = ["STUDIOS", "key_fill_rim", "panel_matrix", "panel_radiance", "panorama"]
