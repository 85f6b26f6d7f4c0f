"""Curves and tables of the grade."""

from __future__ import annotations

from itertools import pairwise
from typing import Any, Literal

from pydantic import Field, field_validator

from .ground import Section, choice, number, text
from .plain_text import Line

Point = tuple[float, float]
STRAIGHT: list[Point] = [(0.0, 0.0), (1.0, 1.0)]
LEVEL: list[Point] = [(0.0, 0.5), (1.0, 0.5)]


def _curve(points: list[Point], label: str, tells: str) -> Any:
    return Field(
        default_factory=lambda: list(points), min_length=2, max_length=24, title=label, description=tells
    )


class Curves(Section):
    """Tones bent by hand: curves over codes of a logarithm (ACEScct), each through its points from 0 to 1;
    and how saturated each hue is, over the circle from red (0) through green to blue and back (1), 0.5 as it
    was."""

    strength: float = number(
        1.0, 0, 1, label="strength", step=0.005, tells="How much of the curves is seen; 0 is none."
    )
    all: list[Point] = _curve(STRAIGHT, "all", "All three channels.")
    red: list[Point] = _curve(STRAIGHT, "red", "Red alone.")
    green: list[Point] = _curve(STRAIGHT, "green", "Green alone.")
    blue: list[Point] = _curve(STRAIGHT, "blue", "Blue alone.")
    saturation: list[Point] = _curve(LEVEL, "saturation by hue", "How saturated each hue is.")

    @field_validator("all", "red", "green", "blue", "saturation")
    @classmethod
    def rising(cls, points: list[Point]) -> list[Point]:
        if any(not (0 <= x <= 1 and 0 <= y <= 1) for x, y in points):
            raise ValueError("points of a curve lie between 0 and 1")
        if any(b[0] - a[0] < 1e-4 for a, b in pairwise(points)):
            raise ValueError("a curve never runs back: each point lies to the right of the one before")
        return points


class Table(Section):
    """A table of colours from elsewhere (.cube)."""

    strength: float = number(
        1.0, 0, 1, label="strength", step=0.005, tells="How much of the table is seen; 0 is none."
    )
    file: Line = text("", label="table", tells="The table of colours.")
    takes: Literal["shown colours", "log light"] = choice(
        "shown colours",
        label="made for",
        tells="What the table expects: colours as they are shown, or a logarithm of light (ACEScct).",
    )
