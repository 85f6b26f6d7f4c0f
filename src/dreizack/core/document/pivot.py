"""A pivot: an invisible point on which others hang."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .ground import Section, number, thing_name
from .place import Place
from .plain_text import Line


class Pivot(Section):
    """An invisible point; whatever hangs on it moves with it."""

    kind: Literal["pivot"] = "pivot"
    name: Line = Field("Pivot", min_length=1, max_length=120)
    goes_with: Line = thing_name(
        label="goes with",
        tells="A flat area that was followed in the plate; it stands in its middle, and turns with it.",
        of="patch",
    )
    width: float = number(
        1.0,
        0.01,
        1000,
        label="its width",
        unit="m",
        step=0.01,
        tells="How wide the area is taken to be: the wider, the farther away it stands.",
        keyable=False,
        when="goes_with!=",
    )
    place: Place = Field(default_factory=Place)
