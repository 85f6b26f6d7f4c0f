"""A strand: glowing lines that accompany a title."""

from __future__ import annotations

from typing import ClassVar, Literal

from pydantic import Field, field_validator

from .bodied import BodiedSection
from .copies import Copies
from .finish import Finish
from .ground import Colour, choice, number, text, thing_name
from .path_data import check_path, plain_path
from .place import Place
from .plain_text import Line
from .span import Span, span
from .visibility import Visibility


def glowing(r: float, g: float, b: float, strength: float) -> Finish:
    """A finish that sends light of its own."""
    made = Finish(metallic=0, roughness=0.6, emission=strength)
    made.base_colour = Colour(r=r * 0.2, g=g * 0.2, b=b * 0.2)
    made.emission_colour = Colour(r=r, g=g, b=b)
    return made


class Strand(BodiedSection):
    """Lines with a thickness, of which a part is shown. They are bodies: they stand before and behind the
    words, light them, and are mirrored in them."""

    curved: ClassVar[bool] = False
    kind: Literal["strand"] = "strand"
    name: Line = Field("Strand", min_length=1, max_length=120)
    rule: Literal["ring", "spiral", "line", "walk", "drawn", "outline", "wound"] = choice(
        "ring",
        label="runs",
        tells="As rings, spirals, straight lines, lines that wander about, a line drawn by hand, along "
        "the outlines of words and marks, or wound round something.",
    )
    along: Line = thing_name(
        label="goes by",
        tells="The words, or the mark, whose outlines it runs along, or what it is wound round.",
        of="body",
        when="rule=outline,wound",
    )
    drawn: str = text(
        "M-1.2 -0.2C-0.6 0.5 0.4 -0.6 1.2 0.3",
        label="drawn",
        tells="The drawn line in metres, as SVG path data.",
        longest=8000,
        when="rule=drawn",
    )
    count: int = Field(
        1,
        ge=1,
        le=200,
        title="how many",
        description="Lines beside one another.",
        json_schema_extra={
            "keyable": False,
            "unit": "",
            "step": 0.1,
            "when": "rule=ring,spiral,line,walk,drawn,wound",
        },
    )
    radius: float = number(
        0.9, 0.001, 500, label="radius", unit="m", step=0.005, tells="Of rings, and of where spirals begin.",
        when="rule=ring,spiral",
    )  # fmt: skip
    length: float = number(
        2.0, 0.001, 500, label="length", unit="m", step=0.01, tells="From end to end.", when="rule=line,walk"
    )
    turns: float = number(
        3.0, 0.05, 60, label="turns", step=0.02, tells="How often it goes round.", when="rule=spiral,wound"
    )
    rise: float = number(
        0.0, -500, 500, label="rise", unit="m", step=0.005, tells="How much it climbs on its way.",
        when="rule=spiral",
    )  # fmt: skip
    spread: float = number(
        0.05, -50, 50, label="apart", unit="m", step=0.002,
        tells="From one to the next; of spirals how far they widen; wound, how far from the body.",
        when="rule=ring,spiral,line,walk,drawn,wound",
    )  # fmt: skip
    thickness: float = number(
        0.008, 0.0002, 5, label="thickness", unit="m", step=0.0005, tells="Across, where it is thickest."
    )
    taper: float = number(
        0.5, 0, 1, label="taper", step=0.01, tells="How thin it becomes at the ends of what is shown."
    )
    begin: float = number(
        0.0,
        -10,
        10,
        label="shown from",
        step=0.005,
        tells="Where what is shown begins, as a share of its way.",
    )
    end: float = number(
        1.0, -10, 10, label="shown to", step=0.005, tells="Where it ends: keyed from 0 to 1 the line grows."
    )
    stagger: float = number(
        0.0, 0, 1, label="one after the other", step=0.01,
        tells="How much later the last line begins to show than the first.",
    )  # fmt: skip
    travel: float = number(
        0.0, -20, 20, label="travels", unit="/s", step=0.01,
        tells="How often a second what is shown goes all the way.",
    )  # fmt: skip
    dashes: int = Field(
        0,
        ge=0,
        le=400,
        title="dashes",
        description="How many it is cut into; 0: it is whole.",
        json_schema_extra={"keyable": False, "unit": "", "step": 0.1},
    )
    gap: float = number(
        0.5, 0, 0.99, label="gaps", step=0.01, tells="How much of each dash is left out.", keyable=True
    )
    wander: float = number(
        0.0, 0, 50, label="wander", unit="m", step=0.002, tells="How far it strays from its way."
    )
    waves: float = number(
        4.0, 0.1, 100, label="waves", step=0.05, tells="How often it strays on its way.", keyable=False
    )
    flow: float = number(
        0.0, -20, 20, label="flows", unit="/s", step=0.01, tells="How fast its straying changes."
    )
    pulse: float = number(
        0.0, 0, 1, label="pulse", step=0.01, tells="How much thickness swells along it; it runs as it flows."
    )
    seed: int = Field(
        1,
        ge=0,
        le=1_000_000,
        title="seed",
        description="Another number, another way.",
        json_schema_extra={"keyable": False, "unit": "", "step": 0.1},
    )
    finish: Finish = Field(default_factory=lambda: glowing(1.0, 0.62, 0.28, 2.2))
    place: Place = Field(default_factory=Place)
    span: Span = span()
    copies: Copies = Field(default_factory=Copies, title="copies")
    visibility: Visibility = Field(default_factory=Visibility)

    @field_validator("drawn")
    @classmethod
    def readable(cls, drawn: str) -> str:
        check_path(drawn, "the drawn line")
        return plain_path(drawn)

    @property
    def runs(self) -> bool:
        strays = (self.wander > 0 or self.pulse > 0) and self.flow != 0
        return self.travel != 0 or strays

    @property
    def closed(self) -> bool:
        """Whether its line returns to where it begins."""
        return self.rule in ("ring", "outline") or (self.rule == "drawn" and self.drawn.endswith("Z"))

    @property
    def goes_by(self) -> str:
        return self.along if self.rule in ("outline", "wound") else ""
