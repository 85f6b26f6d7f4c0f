"""When each letter of a set does what the set does."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .ground import Section, choice, number


class Timing(Section):
    """Units of a set begin one after the other: each reads the keyed values of its set at its own time.

    ``delay`` frames lie between one unit and the next; or ``total`` frames between the first and the last,
    however many there are. ``ease`` is that of the delays (CSS Easing Functions Level 2): ease-in lets the
    first follow each other quickly, ease-out the last.
    """

    order: Literal[
        "together", "reading", "reverse", "from the middle", "from the ends", "random", "by width"
    ] = choice(
        "together",
        label="order",
        tells="Which of them begins first: as they are read, from either side, by chance, or narrow ones "
        "first.",
    )
    unit: Literal["letters", "words", "lines"] = choice(
        "letters", label="one by one", tells="What begins together.", when="order!=together"
    )
    length: Literal["grows", "stays"] = choice(
        "grows",
        label="length",
        tells="Whether more letters take longer, or follow each other more quickly.",
        when="order!=together",
    )
    delay: float = number(
        2.0,
        0,
        500,
        label="delay",
        unit="frames",
        step=0.1,
        keyable=False,
        tells="From one to the next; parts of frames count.",
        when="order!=together&length=grows",
    )
    total: float = number(
        24.0,
        0,
        5000,
        label="from first to last",
        unit="frames",
        step=0.5,
        keyable=False,
        tells="How long it takes until the last one begins.",
        when="order!=together&length=stays",
    )
    ease: Literal["linear", "ease-in", "ease-out", "ease-in-out"] = choice(
        "linear",
        label="spacing",
        tells="Evenly apart, or crowded at the beginning, at the end, or both.",
        when="order!=together",
    )
    seed: int = Field(
        1,
        ge=0,
        le=100_000,
        title="seed of the order",
        description="Another number is another order.",
        json_schema_extra={"keyable": False, "unit": "", "step": 1, "when": "order=random"},
    )
