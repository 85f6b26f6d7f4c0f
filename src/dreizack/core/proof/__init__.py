"""Measured checks, and what they mean in words."""

from .checks import Finding, checked
from .report import Place, report
from .words import explained

__all__ = ["Finding", "Place", "checked", "explained", "report"]
