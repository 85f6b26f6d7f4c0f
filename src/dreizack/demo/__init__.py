"""SLACK WATER: the made-up production that Dreizack arrives with, made by code."""

from .production import PRODUCTION, demo_shots

__all__ = ["PRODUCTION", "demo_shots"]
