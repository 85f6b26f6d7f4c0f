"""Where a thing stands, and what it hangs on."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .ground import Section, Turn, Vector, choice, number, thing_name
from .plain_text import Line


class Place(Section):
    """Where a thing stands and how it is turned, in the room or in the space of what it hangs on."""

    hangs_on: Line = thing_name(
        label="hangs on", tells="The thing it moves with; its place is counted from there.", of="place"
    )
    position: Vector = Field(default_factory=Vector, title="position")
    rotation: Turn = Field(default_factory=Turn, title="rotation")
    turns: Literal["angles", "orientation"] = choice(
        "angles",
        label="turns as",
        tells="Angles count every turn; an orientation takes the shortest way from key to key.",
    )
    scale: float = number(
        1.0, 0.001, 1000, label="scale", step=0.005, tells="Enlarges the whole title, depth and all."
    )
