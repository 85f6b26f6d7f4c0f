"""Keys to values: every channel over all frames (and letters) at once."""

from .bake import Motion
from .bezier import ease
from .sample import sample

__all__ = ["Motion", "ease", "sample"]
