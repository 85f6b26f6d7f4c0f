"""Ready-made movements: each becomes plain sets, keys, drift and couplings, free to edit.

They know the document alone; what they make is one edit.
"""

from .applying import Motion, applied
from .catalogue import MOTIONS
from .copying import Copied, copied_motion

__all__ = ["MOTIONS", "Copied", "Motion", "applied", "copied_motion"]
