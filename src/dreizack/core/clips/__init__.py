"""Moving pictures people bring: read once in a confined process, kept as clips of our own whose every frame is at hand.

Which frame is shown when follows from speed, offset and what comes after its end.
"""

from .reading import Facts, clip_facts, clip_frame
from .taking import load_clip
from .timing import AFTER, shown_frames

__all__ = ["AFTER", "Facts", "clip_facts", "clip_frame", "load_clip", "shown_frames"]
