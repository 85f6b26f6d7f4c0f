"""Finishes: the surfaces titles are made of."""

from .presets import PRESETS

__all__ = ["PRESETS"]
