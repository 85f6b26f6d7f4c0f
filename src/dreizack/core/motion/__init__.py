"""Keys, drift and couplings to values: everything over all frames (and letters) at once."""

from .bake import Motion
from .bezier import ease
from .drift import drift
from .even_speed import evened_keys
from .instants import Instants
from .origins import origins
from .presence import present
from .sample import sample

__all__ = ["Instants", "Motion", "drift", "ease", "evened_keys", "origins", "present", "sample"]
