"""What is done in the picture of a plate: flat areas that are followed, and covers that hide words behind
something."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from .ground import Section, choice, frames, number, switch, text, thing_name
from .plain_text import Line

# Corners of an outline, and frames at which one is drawn.
MAX_CORNERS, MAX_SHAPES = 200, 500
# Shares of the plate's width and height from the top left; things may reach beyond it.
Spot = tuple[float, float]
FAR = 20.0


class DrawnShape(Section):
    """An outline as it is at a frame of the shot: places in shares of the plate."""

    frame: int = Field(0, ge=0, le=200_000)
    points: list[Spot] = Field(min_length=3, max_length=MAX_CORNERS)

    @model_validator(mode="after")
    def near(self) -> DrawnShape:
        if any(abs(value) > FAR for place in self.points for value in place):
            raise ValueError("an outline may not lie so far outside the picture")
        return self


class FlatPatch(Section):
    """A flat area of the plate (a sign, a wall, a screen) that is followed; covers are carried by it, and it
    can show something else."""

    name: Line = text("Patch", label="name", tells="What covers call it that are carried by it.", longest=40)
    shape: DrawnShape | None = None
    track: Line = text("", label="track", tells="Where it is at every frame, once it was followed.")
    shows: Literal["itself", "one of its frames", "a picture"] = choice(
        "itself",
        label="shows",
        tells="What is seen there: what was filmed; always what it looked like at one frame, so that what "
        "passes or is to go is gone; or a picture that lies on it.",
    )
    still: int = frames(
        0, label="as at", tells="The frame of the shot that it always shows.", when="shows=one of its frames"
    )
    picture: Line = text("", label="picture", tells="The picture on it.", when="shows=a picture")
    opacity: float = number(
        1.0,
        0,
        1,
        label="opacity",
        step=0.005,
        tells="How much of the plate it hides.",
        when="shows=one of its frames,a picture",
    )
    softness: float = number(
        0.004,
        0,
        0.5,
        label="softness",
        unit="× h",
        step=0.0005,
        tells="Width of its edge, in heights of the picture.",
        when="shows=one of its frames,a picture",
    )
    lit: bool = switch(
        True,
        label="takes the light there",
        tells="It becomes brighter and darker as the area does in the plate.",
        when="shows=one of its frames,a picture",
    )


class Cover(Section):
    """An outline in the plate before which nothing stands: words and their shadow are hidden behind what is
    inside."""

    name: Line = text("Cover", label="name", tells="What it hides words behind.", longest=60)
    on: bool = switch(True, label="hides", tells="Off, it hides nothing.")
    shapes: list[DrawnShape] = Field(default_factory=list, max_length=MAX_SHAPES)
    carried_by: Line = thing_name(
        label="carried by",
        tells="The patch it moves with; its outline is drawn as at one frame then.",
        of="patch",
    )
    roundness: float = number(
        0.0,
        0,
        1,
        label="roundness",
        step=0.005,
        tells="0 has corners, at 1 it is a curve through its points.",
    )
    grow: float = number(
        0.0, -0.5, 0.5, label="grow", unit="× h", step=0.0005, tells="How far its edge is moved outward."
    )
    softness: float = number(
        0.003,
        0,
        0.5,
        label="softness",
        unit="× h",
        step=0.0005,
        tells="Width of its edge, in heights of the picture.",
    )
    opacity: float = number(1.0, 0, 1, label="opacity", step=0.005, tells="How much it hides.")

    @model_validator(mode="after")
    def coherent(self) -> Cover:
        if len({len(shape.points) for shape in self.shapes}) > 1:
            raise ValueError("an outline has as many points at every frame it is drawn at")
        at = [shape.frame for shape in self.shapes]
        if at != sorted(set(at)):
            raise ValueError("frames at which an outline is drawn rise, and each is there once")
        return self
