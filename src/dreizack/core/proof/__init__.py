"""Measured checks, and what they mean in words."""

from .checks import Finding, checked
from .words import explained

__all__ = ["Finding", "checked", "explained"]
