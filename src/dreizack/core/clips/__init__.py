"""Moving pictures people bring: read once in a sandbox, kept as clips of our own whose every frame is at
hand.

Which frame is shown when follows from speed, offset and what comes after its end.
"""

from .plates import PlateFacts, bring_plate, plate_facts, plate_frame, plate_greys, plate_piece
from .reading import Facts, clip_facts, clip_frame
from .taking import bring_clip
from .timing import AFTER, shown_frames

__all__ = [
    "AFTER",
    "Facts",
    "PlateFacts",
    "bring_clip",
    "bring_plate",
    "clip_facts",
    "clip_frame",
    "plate_facts",
    "plate_frame",
    "plate_greys",
    "plate_piece",
    "shown_frames",
]
