"""Ready-made movements: each becomes plain sets, keys, drift and couplings, free to edit.

They know the document alone; what they make is one edit.
"""

from .applying import Motion, applied
from .catalogue import MOTIONS
from .copying import Copied, KeptMotion, copied_motion, motion_of, moved_like
from .file import MotionFileError, read_motion, write_motion

__all__ = [
    "MOTIONS",
    "Copied",
    "KeptMotion",
    "Motion",
    "MotionFileError",
    "applied",
    "copied_motion",
    "motion_of",
    "moved_like",
    "read_motion",
    "write_motion",
]
