"""Lights and surroundings: what they send, where, and the lighting a new title arrives in."""

from .arrival import key_fill_rim
from .footprints import footprint
from .gestures import CannotPlace, for_highlight, for_shadow, shadow_tip
from .kelvin import kelvin_tint
from .painted import PaintedLight, paintable, painted_lights
from .painting import Repainted, repainted, wanted_light
from .panorama_file import load_panorama
from .sky import sun_angles, sun_direction, sun_level
from .sources import FALLOFFS, SHAPES, cone_cosines, power_of, source_matrix, source_radiance, stops_of
from .studio import STUDIOS, panorama
from .surroundings import SurroundingsState, around_picture, blurred, looked_up
from .units import UNITS, measured_in

__all__ = [
    "FALLOFFS",
    "SHAPES",
    "STUDIOS",
    "UNITS",
    "CannotPlace",
    "PaintedLight",
    "Repainted",
    "SurroundingsState",
    "around_picture",
    "blurred",
    "cone_cosines",
    "footprint",
    "for_highlight",
    "for_shadow",
    "kelvin_tint",
    "key_fill_rim",
    "load_panorama",
    "looked_up",
    "measured_in",
    "paintable",
    "painted_lights",
    "panorama",
    "power_of",
    "repainted",
    "shadow_tip",
    "source_matrix",
    "source_radiance",
    "stops_of",
    "sun_angles",
    "sun_direction",
    "sun_level",
    "wanted_light",
]
