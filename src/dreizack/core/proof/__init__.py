"""Measured checks, and what they mean in words."""

from .words import explained

__all__ = ["explained"]
