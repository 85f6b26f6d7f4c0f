"""The footage that words stand in: which clip, how its camera moved, and how its room lies in ours."""

from __future__ import annotations

from typing import Any

from pydantic import Field, field_validator

from ..colour import AS_SEEN, encodings
from .cover import Cover, FlatPatch
from .ground import Colour, Section, Turn, Vector, colour, frames, number, switch, text, vector
from .plain_text import Line


def _codes(label: str, where: str) -> Any:
    return number(
        0.0,
        0,
        60,
        label=label,
        unit="codes",
        step=0.02,
        keyable=False,
        tells=f"Standard deviation of the grain in {where}, of 255 codes.",
    )


class PlateGrain(Section):
    """Grain of the plate, laid on the words alone."""

    amount: float = number(
        1.0, 0, 4, label="amount", unit="×", step=0.01, keyable=False, tells="1 is as measured, 0 is none."
    )
    dark: float = _codes("in the dark", "the dark")
    middle: float = _codes("in the middle", "the middle")
    light: float = _codes("in the light", "the light")
    size: float = number(
        1.2, 0.5, 12, label="size", unit="px", step=0.01, keyable=False, tells="Width of a grain."
    )
    colour: float = number(
        0.5,
        0,
        1,
        label="colour",
        step=0.005,
        keyable=False,
        tells="How much grains of red, green and blue differ.",
    )


class Filmed(Section):
    """How soft and how dark words are, so that they look filmed with the plate."""

    blur: float = number(
        0.0,
        0,
        40,
        label="softness",
        unit="px",
        step=0.01,
        tells="Blurs words as the lens of the plate does: standard deviation in its pixels.",
    )
    black: Colour = colour(
        0, 0, 0, label="black", tells="The darkest that the plate is: as bright words are at least."
    )


class Plate(Section):
    """A clip, its solve, and where ground, scale and direction are.

    ``origin``, ``turn`` and ``scale`` place the room of the solve: its point p is at scale · turn(p −
    origin).
    """

    clip: Line = text("", label="plate", tells="The footage the words stand in; drop a video to bring it.")
    first: int = frames(0, label="begins at", tells="The frame of the plate that is shown first.")
    encoding: Line = Field(
        AS_SEEN,
        max_length=80,
        title="encoding",
        description="How its camera wrote light: as it is to be seen, or logarithmic, or linear.",
        json_schema_extra={"keyable": False, "listed": "encodings"},
    )
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
    grain: PlateGrain = Field(default_factory=PlateGrain)
    filmed: Filmed = Field(default_factory=Filmed)
    shadow_density: float = number(
        1.0,
        0,
        2,
        label="shadow density",
        step=0.005,
        tells="How dark shadows on the plate are; 1 is what the lights say.",
    )
    shadow_fade: float = number(
        0.0,
        0,
        1000,
        label="shadows fade over",
        unit="m",
        step=0.02,
        tells="Shadows on the plate weaken with the distance from what throws them, and are gone so many "
        "metres from it; at 0 they stay as dark, as light does.",
    )
    shadow_length: float = number(
        1.0,
        0.1,
        20,
        label="shadow length",
        unit="×",
        step=0.005,
        tells="How long shadows on the plate are, as if lights stood higher or lower; 1 is what they say.",
    )
    shadow_ripple: float = number(
        0.0,
        0,
        2,
        label="shadows ripple by",
        unit="m",
        step=0.002,
        tells="How far edges of shadows on the plate wander, as on rough ground or on water; the waves lie "
        "on the ground.",
    )
    ripple_size: float = number(
        0.5, 0.02, 50, label="waves", unit="m", step=0.005, tells="How long the waves of the ripples are."
    )
    shadow_colour: Colour = colour(
        0, 0, 0, label="shadow colour", tells="What is left of the plate in full shadow, channel by channel."
    )
    patches: list[FlatPatch] = Field(
        default_factory=list,
        max_length=16,
        title="patches",
        description="Flat areas of the plate that are followed.",
    )
    covers: list[Cover] = Field(
        default_factory=list,
        max_length=24,
        title="covers",
        description="What words are hidden behind.",
    )

    @field_validator("encoding")
    @classmethod
    def known(cls, encoding: str) -> str:
        if encoding != AS_SEEN and encoding not in encodings():
            raise ValueError(f"there is no encoding {encoding!r}; choose one of those that are listed")
        return encoding
