"""Finishes: the surfaces titles are made of."""

from .fills import fill_picture
from .presets import PRESETS

__all__ = ["PRESETS", "fill_picture"]
