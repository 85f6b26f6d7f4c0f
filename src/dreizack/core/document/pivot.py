"""A pivot: an invisible point on which others hang."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .ground import Section, number, switch, thing_name
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
        tells="How wide the area is for what stands on it: the wider, the smaller that looks.",
        keyable=False,
        when="goes_with!=",
    )
    rides: Line = thing_name(
        label="rides on",
        tells="A strand, on whose line it stands, or words, a mark or a mesh, on whose surface; its place is "
        "counted from there, whatever it hangs on.",
        of="body",
    )
    share: float = number(
        0.0,
        0,
        1,
        label="how far along",
        step=0.002,
        tells="Of the line: 0 is where it begins, 1 where it ends.",
        when="rides!=",
    )
    spot: int = Field(
        0,
        ge=0,
        le=1_000_000,
        title="spot",
        description="On a surface: another number, another spot; those in a row lie evenly over all of it.",
        json_schema_extra={"keyable": False, "unit": "", "step": 0.1, "when": "rides!="},
    )
    turned: bool = switch(
        True,
        label="turns with it",
        tells="Its x points along the line, or its z out of the surface.",
        when="rides!=",
    )
    place: Place = Field(default_factory=Place)
