"""Document and time to plain arrays: what stands where, frame by frame, named by content."""

from .baking import Baked, BakedLight, BakedTitle, bake
from .bodies import BodyStore, LetterBody, body_matrices
from .form import Form, finishes
from .frame import Behind, FrameState, Lens, LightState, Pose, TitleState, frame_state
from .framing import frame_titles
from .mapping import Laid, aspect_of, laid, on_frame, shown_picture, travels
from .naming import RENDER_VERSION, frame_names
from .points import body_points
from .shutter import exposed
from .swatch import look_swatch, swatch

__all__ = [
    "RENDER_VERSION",
    "Baked",
    "BakedLight",
    "BakedTitle",
    "Behind",
    "BodyStore",
    "Form",
    "FrameState",
    "Laid",
    "Lens",
    "LetterBody",
    "LightState",
    "Pose",
    "TitleState",
    "aspect_of",
    "bake",
    "body_matrices",
    "body_points",
    "exposed",
    "finishes",
    "frame_names",
    "frame_state",
    "frame_titles",
    "laid",
    "look_swatch",
    "on_frame",
    "shown_picture",
    "swatch",
    "travels",
]
