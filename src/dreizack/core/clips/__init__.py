"""Moving pictures people bring: read once in a sandbox, kept as clips of our own whose every frame is at
hand.

Which frame is shown when follows from speed, offset and what comes after its end.
"""

from .reading import Facts, clip_facts, clip_frame
from .taking import bring_clip
from .timing import AFTER, shown_frames

__all__ = ["AFTER", "Facts", "bring_clip", "clip_facts", "clip_frame", "shown_frames"]
