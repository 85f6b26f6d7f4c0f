"""Measured checks, and what they mean in words."""

from .checks import Finding, checked, title_box
from .guides import TITLE_SAFE, Guide, guides
from .pictures import Shown, pictures_checked
from .report import Place, report
from .sources import footage_checked, sound_checked
from .words import explained

__all__ = [
    "TITLE_SAFE",
    "Finding",
    "Guide",
    "Place",
    "Shown",
    "checked",
    "explained",
    "footage_checked",
    "guides",
    "pictures_checked",
    "report",
    "sound_checked",
    "title_box",
]
