"""Words that change over time."""

from __future__ import annotations

from datetime import date
from typing import Literal

from pydantic import Field, field_validator

from .ground import Section, choice, number, text
from .plain_text import Line

Separator = Literal["none", "space", "comma", "point", "apostrophe"]


class Telling(Section):
    """What of the typed words is told, or what stands in them at ``#``, from frame to frame."""

    kind: Literal["as typed", "letter by letter", "resolving", "count", "clock", "timecode", "date"] = choice(
        "as typed",
        label="words over time",
        tells="As typed; told letter by letter; resolving from random characters; or a number, clock, "
        "timecode or "
        "date where # stands in the words (without one, in their place).",
    )
    progress: float = number(
        1.0,
        0,
        1,
        label="progress",
        step=0.005,
        tells="How much is told, or has resolved.",
        when="kind=letter by letter,resolving",
    )
    pool: Line = text(
        "ABCDEFGHJKLMNPRSTUVWXYZ0123456789",
        label="random characters",
        tells="What letters show until they have resolved.",
        when="kind=resolving",
    )
    changes: float = number(
        2.0,
        0.5,
        100,
        label="changes every",
        unit="frames",
        step=0.1,
        keyable=False,
        tells="How long a random character stays.",
        when="kind=resolving",
    )
    seed: int = Field(
        1,
        ge=0,
        le=100_000,
        title="seed",
        description="Another number shows other characters.",
        json_schema_extra={"keyable": False, "unit": "", "step": 1, "when": "kind=resolving"},
    )
    value: float = number(
        0.0,
        -1e12,
        1e12,
        label="number",
        step=0.1,
        tells="What is counted; of a clock seconds, of a date days after its beginning.",
        when="kind=count,clock,date",
    )
    widths: Literal["held", "free"] = choice(
        "held",
        label="widths",
        tells="Held, all digits are as wide (where the typeface has such digits), so that words do not "
        "jitter.",
        when="kind=count,clock,timecode,date",
    )
    decimals: int = Field(
        0,
        ge=0,
        le=6,
        title="decimals",
        description="Places after the decimal mark.",
        json_schema_extra={"keyable": False, "unit": "", "step": 0.05, "when": "kind=count"},
    )
    least: int = Field(
        1,
        ge=1,
        le=15,
        title="digits at least",
        description="Fills up with zeros in front.",
        json_schema_extra={"keyable": False, "unit": "", "step": 0.05, "when": "kind=count"},
    )
    grouping: Separator = choice(
        "space", label="thousands", tells="What stands between thousands.", when="kind=count"
    )
    mark: Literal["point", "comma"] = choice(
        "point", label="decimal mark", tells="What stands before the decimals.", when="kind=count"
    )
    sign: Literal["if below 0", "always"] = choice(
        "if below 0", label="sign", tells="When a sign is shown.", when="kind=count"
    )
    clock: Literal["h:mm", "h:mm:ss", "mm:ss", "mm:ss.0", "mm:ss.00"] = choice(
        "h:mm:ss", label="shows", tells="Hours, minutes and seconds.", when="kind=clock"
    )
    begins: Line = Field(
        "2031-03-20",
        max_length=10,
        title="begins",
        description="The date at number 0, as 2031-03-20.",
        json_schema_extra={"keyable": False, "when": "kind=date"},
    )
    written: Literal["20.3.2031", "20.03.2031", "03/20/2031", "20/03/2031", "2031-03-20"] = choice(
        "20.3.2031", label="written", tells="How the 20th of March 2031 is written.", when="kind=date"
    )

    @field_validator("begins")
    @classmethod
    def a_date(cls, begins: str) -> str:
        try:
            date.fromisoformat(begins)
        except ValueError:
            raise ValueError(f"'{begins}' is no date; write year, month and day like 2031-03-20") from None
        return begins
