"""Whole looks to begin a shot with: finish, body, lights, surroundings, floor and optics together, all of it
plain values; and the look of one shot given to another.
"""

from .catalogue import STARTS
from .start import Start, started
from .wearing import undressed, worn

__all__ = ["STARTS", "Start", "started", "undressed", "worn"]
