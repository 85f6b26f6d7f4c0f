"""SLACK WATER: the made-up production that Dreizack arrives with, made by code."""

from .forms import bring_demo_files
from .opening import opening
from .production import PRODUCTION, demo_shots

__all__ = ["PRODUCTION", "bring_demo_files", "demo_shots", "opening"]
