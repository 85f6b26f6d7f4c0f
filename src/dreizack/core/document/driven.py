"""Values that move by themselves or follow others: drift and couplings."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, StringConstraints, field_validator, model_validator

from .formula import FormulaError, parse
from .ground import Section, number, switch, text
from .plain_text import Line

ValueName = Annotated[str, StringConstraints(pattern=r"^[a-z][a-z0-9_]{0,19}$")]


class Drift(Section):
    """Smooth random motion that is added to a value; of the same seed it is always the same."""

    amplitude: float = number(
        0.02,
        0,
        1e6,
        label="amplitude",
        step=0.002,
        keyable=False,
        tells="How far it wanders at most, either way.",
    )
    frequency: float = number(
        0.5,
        0.001,
        60,
        label="frequency",
        unit="Hz",
        step=0.01,
        keyable=False,
        tells="How often it turns about, in times a second.",
    )
    detail: int = Field(
        1,
        ge=1,
        le=5,
        title="detail",
        description="Adds finer and finer motion, each half as far and twice as fast.",
        json_schema_extra={"keyable": False, "unit": "", "step": 0.05},
    )
    seed: int = Field(
        1,
        ge=0,
        le=100_000,
        title="seed",
        description="Another number wanders otherwise.",
        json_schema_extra={"keyable": False, "unit": "", "step": 1},
    )
    loop: float = number(
        0.0,
        0,
        200_000,
        label="repeats after",
        unit="frames",
        step=1,
        keyable=False,
        tells="Comes back to where it was after so many frames, without a jump; 0 never.",
    )


class Coupling(Section):
    """A value that follows another one: ``gain`` times that one, ``delay`` frames ago, plus ``offset``; or
    what a formula makes of it.

    In a formula ``x`` is what is followed, ``own`` the value's own number with its keys, ``t`` seconds and
    ``f`` the frame; ``also`` names further values.
    """

    source: Line = Field("", max_length=300, title="follows", description="The value that it follows.")
    gain: float = number(
        1.0,
        -1e6,
        1e6,
        label="gain",
        unit="×",
        step=0.01,
        keyable=False,
        tells="How much of it; below 0 the other way.",
    )
    offset: float = number(0.0, -1e6, 1e6, label="offset", keyable=False, tells="Is added.")
    delay: float = number(
        0.0,
        -10_000,
        10_000,
        label="delay",
        unit="frames",
        step=0.1,
        keyable=False,
        tells="Follows so many frames later; below 0 it goes ahead.",
    )
    smoothing: float = number(
        0.0,
        0,
        500,
        label="smoothing",
        unit="frames",
        step=0.1,
        keyable=False,
        tells="Takes the mean over so many frames, most of it from the middle.",
    )
    limited: bool = switch(False, label="limits", tells="Keeps it between two numbers.")
    low: float = number(
        0.0, -1e6, 1e6, label="from", keyable=False, tells="Never below this.", when="limited=true"
    )
    high: float = number(
        1.0, -1e6, 1e6, label="to", keyable=False, tells="Never above this.", when="limited=true"
    )
    formula: str = text(
        "",
        label="formula",
        tells="Ordinary arithmetic; x is what it follows, own its own number, t seconds, f the frame. Empty: "
        "gain and offset alone.",
        longest=400,
    )
    also: dict[ValueName, Line] = Field(default_factory=dict, max_length=8)

    @property
    def sources(self) -> list[str]:
        """Pointers of all values it reads."""
        return [*([self.source] if self.source else []), *self.also.values()]

    @field_validator("formula")
    @classmethod
    def readable(cls, formula: str) -> str:
        if formula.strip():
            parse(formula)
        return formula

    @model_validator(mode="after")
    def known(self) -> Coupling:
        if self.formula.strip():
            unknown = sorted(parse(self.formula).names - {"x", "own", "t", "f", *self.also})
            if unknown:
                raise FormulaError(
                    f"the formula reads '{unknown[0]}', which is no value here; use x, own, t, f"
                    + (f" or {', '.join(sorted(self.also))}" if self.also else "")
                )
        if self.limited and self.high < self.low:
            raise ValueError(f"its limits are the wrong way round: from {self.low:g} to {self.high:g}")
        return self
