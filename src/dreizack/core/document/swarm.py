"""A swarm: thousands of grains that gather into words and leave them."""

from __future__ import annotations

from typing import ClassVar, Literal

from pydantic import Field

from .bodied import BodiedSection
from .finish import Finish
from .ground import choice, number, switch, thing_name
from .place import Place
from .plain_text import Line
from .span import Span, span
from .strand import glowing
from .visibility import Visibility

MAX_GRAINS = 20_000


class Swarm(BodiedSection):
    """Grains in a cloud that flows, or on the bodies of a thing, and anywhere between. Where each of them is
    at a moment follows from its seed alone, without playing from the start."""

    curved: ClassVar[bool] = False
    kind: Literal["swarm"] = "swarm"
    name: Line = Field("Swarm", min_length=1, max_length=120)
    count: int = Field(
        2000,
        ge=1,
        le=MAX_GRAINS,
        title="grains",
        description="How many there are.",
        json_schema_extra={"keyable": False, "unit": "", "step": 2},
    )
    grain: Literal["spark", "drop", "flake"] = choice(
        "spark", label="grain", tells="Small octahedra, round drops, or flat flakes."
    )
    size: float = number(
        0.008, 0.0001, 5, label="size", unit="m", step=0.0005, tells="Across, of a middling grain."
    )
    variety: float = number(0.6, 0, 1, label="variety", step=0.01, tells="How much their sizes differ.")
    cloud: Literal["box", "ball", "shell", "ring"] = choice(
        "box", label="cloud", tells="Where they are when they are not gathered."
    )
    width: float = number(3.0, 0, 500, label="width", unit="m", step=0.01, tells="Of the cloud.")
    height: float = number(1.2, 0, 500, label="height", unit="m", step=0.01, tells="Of the cloud.")
    depth: float = number(1.2, 0, 500, label="depth", unit="m", step=0.01, tells="Of the cloud.")
    around: Line = thing_name(label="gathers on", tells="The thing on whose bodies they gather.", of="body")
    gather: float = number(
        0.0, 0, 1, label="gathered", step=0.01,
        tells="0: all in the cloud, 1: all on the thing. Keyed down from 1, the words dissolve.",
        when="around!=",
    )  # fmt: skip
    stagger: float = number(
        0.5, 0, 1, label="one after the other", step=0.01,
        tells="How much later the last grain goes than the first.", when="around!=",
    )  # fmt: skip
    order: Literal["by chance", "from the left", "from the right", "from below", "from above"] = choice(
        "by chance", label="who goes first", tells="In which order they go.", when="around!="
    )
    swirl: float = number(
        0.3,
        0,
        50,
        label="flow",
        unit="m",
        step=0.005,
        tells="How far the flow carries them from their place.",
    )
    eddies: float = number(
        1.2, 0.02, 50, label="eddies", unit="/m", step=0.01, tells="How many eddies the flow has a metre.",
        keyable=False,
    )  # fmt: skip
    flow: float = number(
        0.25, -20, 20, label="flows", unit="/s", step=0.005, tells="How fast the flow changes."
    )
    rise: float = number(
        0.0, -20, 20, label="rises", unit="m/s", step=0.005,
        tells="How fast they rise, or sink; what leaves the cloud comes in again on the other side.",
    )  # fmt: skip
    twinkle: float = number(
        0.0, 0, 1, label="twinkle", step=0.01, tells="How much their size changes from moment to moment."
    )
    life: float = number(
        0.0, 0, 1000, label="lives", unit="s", step=0.02, keyable=False,
        tells="How long a grain is there before it begins anew; 0: for ever.",
    )  # fmt: skip
    ages: Literal["alike", "swells and fades", "shrinks"] = choice(
        "swells and fades", label="size over life", tells="How large a grain is while it lives.",
        when="life!=0",
    )  # fmt: skip
    thrown: float = number(
        0.0, 0, 500, label="thrown", unit="m/s", step=0.01,
        tells="How fast grains fly off to all sides when they begin.", when="life!=0",
    )  # fmt: skip
    falls: float = number(
        0.0, 0, 100, label="falls", unit="m/s²", step=0.05,
        tells="How fast they become faster downward; on the ground of the earth 9.81.", when="life!=0",
    )  # fmt: skip
    ground: bool = switch(
        False, label="ground", tells="They bounce off a ground, and lie on it.", when="life!=0"
    )
    ground_height: float = number(
        0.0, -500, 500, label="ground at", unit="m", step=0.005,
        tells="How high the ground is, in the swarm's own space.", when="ground=true&life!=0",
    )  # fmt: skip
    bounce: float = number(
        0.4, 0, 0.95, label="bounce", step=0.01, tells="How much of its speed a grain keeps when it bounces.",
        when="ground=true&life!=0",
    )  # fmt: skip
    seed: int = Field(
        1,
        ge=0,
        le=1_000_000,
        title="seed",
        description="Another number, another cloud.",
        json_schema_extra={"keyable": False, "unit": "", "step": 0.1},
    )
    finish: Finish = Field(default_factory=lambda: glowing(1.0, 0.78, 0.5, 1.6))
    place: Place = Field(default_factory=Place)
    span: Span = span()
    visibility: Visibility = Field(default_factory=Visibility)

    @property
    def runs(self) -> bool:
        flows = self.swirl > 0 and self.flow != 0
        return flows or self.rise != 0 or self.twinkle > 0 or self.life > 0

    @property
    def goes_by(self) -> str:
        return self.around
