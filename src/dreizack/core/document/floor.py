"""A floor: endless, or a sweep that rises behind."""

from __future__ import annotations

from typing import ClassVar, Literal

from pydantic import Field

from .bodied import BodiedSection
from .finish import Finish
from .ground import Colour, choice, number
from .place import Place
from .plain_text import Line
from .span import Span, span
from .visibility import Visibility


class Floor(BodiedSection):
    """A flat ground, or a sweep: ground that bends up into a wall behind without an edge."""

    curved: ClassVar[bool] = False
    kind: Literal["floor"] = "floor"
    name: Line = Field("Floor", min_length=1, max_length=120)
    form: Literal["endless", "sweep"] = choice(
        "endless", label="floor", tells="Ground to the horizon, or ground that bends up into a wall."
    )
    distance: float = number(
        2.5,
        0.1,
        500,
        label="wall distance",
        unit="m",
        tells="How far behind its place the ground begins to rise.",
        when="form=sweep",
    )
    radius: float = number(
        1.5, 0.01, 200, label="bend radius", unit="m", tells="How gently it rises.", when="form=sweep"
    )
    mirror_reach: float = number(
        0.0,
        0,
        1000,
        label="reflection reach",
        unit="m",
        step=0.01,
        keyable=False,
        tells="Reflections of what is further from it fade away; 0 lets them reach as far as they do.",
    )
    horizon: float = number(
        0.0,
        0,
        5000,
        label="fades out at",
        unit="m",
        step=0.05,
        keyable=False,
        tells="So far from its place the floor has gone over into the backdrop; 0 lets it run to the "
        "horizon.",
        when="form=endless",
    )
    finish: Finish = Field(
        default_factory=lambda: Finish(
            base_colour=Colour(r=0.16, g=0.16, b=0.165), metallic=0, roughness=0.45
        )
    )
    place: Place = Field(default_factory=Place)
    span: Span = span()
    visibility: Visibility = Field(default_factory=Visibility)

    @property
    def fades(self) -> float:
        """Metres from its place at which it has gone over into the backdrop; 0: nowhere."""
        return self.horizon if self.form == "endless" else 0.0
