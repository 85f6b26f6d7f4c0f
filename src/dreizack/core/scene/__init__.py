"""Document and time to plain arrays: what stands where, frame by frame, named by content."""

from .air_glow import air_glow
from .at_rest import resting_places
from .baking import Baked, BakedBody, BakedLight, bake, window
from .baking.covering import plate_outlines
from .baking.matched import alignment_of, plate_moments
from .bodies import BodyStore, LetterBody, body_matrices
from .caught_shadow import RIPPLES, CaughtShadow, rippled
from .edits import (
    aligned_by,
    follow_patch,
    follow_spot,
    hung_on,
    outlines_at,
    respanned,
    rigged,
    stood,
    stood_far,
    with_box,
    with_carried,
    with_cover,
    with_patch,
    with_plate,
    with_shadow,
    with_solve,
    with_sun,
    with_sun_at,
    with_surroundings,
    with_wall,
    with_words_on,
)
from .fans import fans
from .form import Form, finishes
from .frame import Behind, BodyState, FrameState, Lens, LightState, Pose, area_things, frame_state
from .framing import frame_titles
from .live_gaps import live_gaps
from .movers import Mover, movers
from .naming import RENDER_VERSION, frame_names
from .plate_around import plate_panorama
from .plate_places import plate_to_picture
from .plate_state import CoverState, PatchState
from .points import body_points
from .poster import poster_frame, poster_name, poster_size
from .reveal import REVEAL_VALUES, RevealState, reveal_box, reveal_rows, reveal_state, uncovered
from .reveal import ROW as REVEAL_ROW
from .reveal import WAVES as REVEAL_WAVES
from .shutter import exposed
from .sight import Sight, sight
from .swatch import chip_name, look_swatch, swatch
from .uv_mapping import UVMap, aspect_of, on_frame, shown_picture, travels, uv_maps

__all__ = [
    "RENDER_VERSION",
    "REVEAL_ROW",
    "REVEAL_VALUES",
    "REVEAL_WAVES",
    "RIPPLES",
    "Baked",
    "BakedBody",
    "BakedLight",
    "Behind",
    "BodyState",
    "BodyStore",
    "CaughtShadow",
    "CoverState",
    "Form",
    "FrameState",
    "Lens",
    "LetterBody",
    "LightState",
    "Mover",
    "PatchState",
    "Pose",
    "RevealState",
    "Sight",
    "UVMap",
    "air_glow",
    "aligned_by",
    "alignment_of",
    "area_things",
    "aspect_of",
    "bake",
    "body_matrices",
    "body_points",
    "chip_name",
    "exposed",
    "fans",
    "finishes",
    "follow_patch",
    "follow_spot",
    "frame_names",
    "frame_state",
    "frame_titles",
    "hung_on",
    "live_gaps",
    "look_swatch",
    "movers",
    "on_frame",
    "outlines_at",
    "plate_moments",
    "plate_outlines",
    "plate_panorama",
    "plate_to_picture",
    "poster_frame",
    "poster_name",
    "poster_size",
    "respanned",
    "resting_places",
    "reveal_box",
    "reveal_rows",
    "reveal_state",
    "rigged",
    "rippled",
    "shown_picture",
    "sight",
    "stood",
    "stood_far",
    "swatch",
    "travels",
    "uncovered",
    "uv_maps",
    "window",
    "with_box",
    "with_carried",
    "with_cover",
    "with_patch",
    "with_plate",
    "with_shadow",
    "with_solve",
    "with_sun",
    "with_sun_at",
    "with_surroundings",
    "with_wall",
    "with_words_on",
]
