"""Readers of foreign files run in a process of their own, under limits of time and memory.

A damaged or hostile file can then cost a sentence, never the application.
"""

from .run import Confined, confined

__all__ = ["Confined", "confined"]
