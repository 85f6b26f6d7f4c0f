"""Sequences as other programs read them: timelines (OpenTimelineIO) and edit decision lists."""

from .edit_list import write_edit_list
from .reading import read_edit
from .timeline import write_timeline

__all__ = ["read_edit", "write_edit_list", "write_timeline"]
