"""Measured checks, and what they mean in words."""

from .checks import Finding, checked
from .guides import Guide, guides
from .report import Place, report
from .words import explained

__all__ = ["Finding", "Guide", "Place", "checked", "explained", "guides", "report"]
