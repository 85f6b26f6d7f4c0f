"""When each letter of a set does what the set does."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .ground import Section, choice, number, text
from .plain_text import Line


class Timing(Section):
    """Units of a set begin one after the other: each reads the keyed values of its set at its own time.

    ``delay`` frames lie between one unit and the next; or ``total`` frames between the first and the last,
    however many there are. ``ease`` is that of the delays (CSS Easing Functions Level 2): ease-in lets the
    first follow each other quickly, ease-out the last.
    """

    order: Literal[
        "together",
        "reading",
        "reverse",
        "from the middle",
        "from the ends",
        "random",
        "by width",
        "from a point",
        "along a direction",
        "as listed",
    ] = choice(
        "together",
        label="order",
        tells="Which of them begins first: as they are read, from either side, by chance, narrow ones first, "
        "by "
        "their distance from a point, across the words in a direction, or as you list them.",
    )
    unit: Literal["letters", "words", "lines", "alternate letters"] = choice(
        "letters",
        label="one by one",
        tells="What begins together; alternate letters: every other one first, then those between.",
        when="order!=together",
    )
    point_x: float = number(
        0.0,
        -1e4,
        1e4,
        label="point x",
        unit="m",
        keyable=False,
        tells="From the middle of the words to the right.",
        when="order=from a point",
    )
    point_y: float = number(
        0.0,
        -1e4,
        1e4,
        label="point y",
        unit="m",
        keyable=False,
        tells="From the last baseline upward.",
        when="order=from a point",
    )
    direction: float = number(
        0.0,
        -360,
        360,
        label="direction",
        unit="°",
        step=1,
        keyable=False,
        tells="0 goes to the right, 90 upward.",
        when="order=along a direction",
    )
    listed: Line = text(
        "",
        label="list",
        tells="Numbers of letters, words or lines, from 0, in the order they begin; those left out come "
        "last.",
        when="order=as listed",
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
