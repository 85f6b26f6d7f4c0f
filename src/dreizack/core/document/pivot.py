"""A pivot: an invisible point on which others hang."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .ground import Section
from .place import Place
from .plain_text import Line


class Pivot(Section):
    """An invisible point; whatever hangs on it moves with it."""

    kind: Literal["pivot"] = "pivot"
    name: Line = Field("Pivot", min_length=1, max_length=120)
    place: Place = Field(default_factory=Place)
