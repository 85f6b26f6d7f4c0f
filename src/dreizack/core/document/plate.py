"""The footage that words stand in: which clip, how its camera moved, and how its room lies in ours."""

from __future__ import annotations

from pydantic import Field

from .ground import Colour, Section, Turn, Vector, colour, frames, number, switch, text, vector
from .plain_text import Line


class Plate(Section):
    """A clip, its solve, and where ground, scale and direction are.

    ``origin``, ``turn`` and ``scale`` place the room of the solve: its point p is at scale · turn(p −
    origin).
    """

    clip: Line = text("", label="plate", tells="The footage the words stand in; drop a video to bring it.")
    first: int = frames(0, label="begins at", tells="The frame of the plate that is shown first.")
    speed: float = number(
        1.0,
        -20,
        20,
        label="speed",
        unit="×",
        step=0.01,
        keyable=False,
        tells="How fast the plate plays; 0 freezes it, below 0 it runs backwards.",
    )
    solve: Line = text("", label="solve", tells="How the camera of the plate moved.")
    bends: bool = switch(
        True,
        label="lens bends the words",
        tells="Words are bent as the lens of the plate bends what it sees.",
    )
    origin: Vector = vector(0, 0, 0)
    turn: Turn = Field(default_factory=Turn)
    scale: float = number(
        1.0,
        1e-4,
        1e4,
        label="scale",
        unit="×",
        step=0.005,
        keyable=False,
        tells="How large the room of the plate is; two points with a known distance tell it.",
    )
    shadow_density: float = number(
        1.0,
        0,
        2,
        label="shadow density",
        step=0.005,
        tells="How dark shadows on the plate are; 1 is what the lights say.",
    )
    shadow_colour: Colour = colour(
        0, 0, 0, label="shadow colour", tells="What is left of the plate in full shadow, channel by channel."
    )
