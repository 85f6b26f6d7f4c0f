"""Keys to values: every channel over all frames (and letters) at once."""

from .bake import Motion
from .bezier import ease
from .instants import Instants
from .sample import sample

__all__ = ["Instants", "Motion", "ease", "sample"]
