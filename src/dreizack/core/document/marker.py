"""Markers: named frames of a shot."""

from __future__ import annotations

from pydantic import Field

from .ground import Section
from .plain_text import Line


class Marker(Section):
    """A frame with a name and a note."""

    frame: int = Field(0, ge=0, le=200_000)
    name: Line = Field("", max_length=60)
    note: Line = Field("", max_length=400)
