"""Document and time to plain arrays: what stands where, frame by frame, named by content."""

from .bake import Baked, BakedLight, BakedTitle, bake
from .bodies import BodyStore, LetterBody
from .form import Form, finishes
from .frame import FrameState, TitleState, frame_state
from .framing import frame_titles
from .swatch import swatch

__all__ = [
    "Baked", "BakedLight", "BakedTitle", "BodyStore", "Form", "FrameState", "LetterBody", "TitleState",
    "bake", "finishes", "frame_state", "frame_titles", "swatch",
]
