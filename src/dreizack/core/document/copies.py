"""A thing repeated in steps."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .ground import Colour, Section, choice, colour, number, switch, thing_name
from .plain_text import Line

MAX_COPIES = 60


def _step(low: float, high: float, label: str, unit: str, tells: str, step: float, when: str = "") -> float:
    made: float = number(
        0.0, low, high, label=label, unit=unit, step=step, keyable=False, tells=tells, when=when
    )
    return made


class Copies(Section):
    """So many more of a thing, each a step further than the one before: in place, turn, size, time, and how
    much of it is there. Moves are counted in what the thing hangs on."""

    count: int = Field(
        0,
        ge=0,
        le=MAX_COPIES,
        title="copies",
        description="How many more of it there are.",
        json_schema_extra={"keyable": False, "unit": "", "step": 0.1},
    )
    along: Literal["steps", "circle", "strand", "surface"] = choice(
        "steps",
        label="laid out",
        tells="Each a step further, evenly around a circle, or, all of them, evenly along a strand or over "
        "a surface.",
        when="count!=0",
    )
    strand: Line = thing_name(
        label="along", tells="The strand on whose line they stand, the thing itself where it begins.",
        of="strand", when="count!=0&along=strand",
    )  # fmt: skip
    over: Line = thing_name(
        label="over", tells="The words, mark or mesh on whose surface they stand.",
        of="body", when="count!=0&along=surface",
    )  # fmt: skip
    turned: bool = switch(
        True, label="turn with it", tells="Each turns as the line, or the surface, does there.",
        when="count!=0&along=strand,surface",
    )  # fmt: skip
    radius: float = number(
        1.5, 0.001, 500, label="radius", unit="m", step=0.01, keyable=False,
        tells="Of the circle; the thing itself is its nearest point.", when="count!=0&along=circle",
    )  # fmt: skip
    around: Literal["upright", "facing us"] = choice(
        "upright", label="circle is", tells="Around an upright axis, or one that points at us.",
        when="count!=0&along=circle",
    )  # fmt: skip
    x: float = _step(-500, 500, "x a step", "m", "To the right, for each.", 0.005, "count!=0&along=steps")
    y: float = _step(-500, 500, "y a step", "m", "Upward, for each.", 0.005, "count!=0&along=steps")
    z: float = _step(-500, 500, "z a step", "m", "Towards us, for each.", 0.005, "count!=0&along=steps")
    pitch: float = _step(-3600, 3600, "pitch a step", "°", "Leans each further.", 0.25, "count!=0")
    yaw: float = _step(-3600, 3600, "yaw a step", "°", "Turns each further to the side.", 0.25, "count!=0")
    roll: float = _step(-3600, 3600, "roll a step", "°", "Rolls each further.", 0.25, "count!=0")
    scale: float = number(
        1.0, 0.2, 5, label="size a step", unit="×", step=0.005, keyable=False,
        tells="How large each is beside the one before.", when="count!=0",
    )  # fmt: skip
    delay: float = number(
        0.0, -2000, 2000, label="later a step", unit="frames", step=0.1, keyable=False,
        tells="How much later each does what the one before does: an echo in time.", when="count!=0",
    )  # fmt: skip
    fade: float = number(
        1.0, 0, 1, label="opacity a step", unit="×", step=0.005, keyable=False,
        tells="How much of each is there beside the one before.", when="count!=0",
    )  # fmt: skip
    tint: Colour = colour(
        1,
        1,
        1,
        label="tint a step",
        keyable=False,
        tells="What colours each takes of the one before.",
        when="count!=0",
    )
    scatter: float = number(
        0.0, 0, 100, label="scatter", unit="m", step=0.005, keyable=False,
        tells="How far each is off its place.", when="count!=0",
    )  # fmt: skip
    tumble: float = number(
        0.0, 0, 180, label="tumble", unit="°", step=0.5, keyable=False,
        tells="How far each is turned off, any way.", when="count!=0",
    )  # fmt: skip
    seed: int = Field(
        1,
        ge=0,
        le=1_000_000,
        title="seed",
        description="Another number scatters otherwise.",
        json_schema_extra={"keyable": False, "unit": "", "step": 0.1, "when": "count!=0"},
    )
    cast: bool = switch(
        True, label="cast shadows", tells="Off, copies cast none: echoes mostly should not.", when="count!=0"
    )
