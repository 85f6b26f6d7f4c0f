"""Readers of foreign files run in a process of their own, under limits of time and memory.

A damaged or hostile file can then cost a sentence, never the application.
"""

from .run import FileRefused, Unreadable, sandboxed, sandboxed_file
from .share import tell_share

__all__ = ["FileRefused", "Unreadable", "sandboxed", "sandboxed_file", "tell_share"]
