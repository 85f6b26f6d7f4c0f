"""What of a thing is uncovered: an edge that travels over it."""

from __future__ import annotations

from typing import Literal

from .ground import Colour, Section, choice, colour, number


class Reveal(Section):
    """A thing is there only between two edges that travel over it in its own space: straight, from its middle
    outward, or round it; soft, ragged or glowing."""

    runs: Literal["straight", "from the middle", "round"] = choice(
        "straight", label="runs", tells="How the edge travels: straight across, from the middle, or round it."
    )
    begin: float = number(
        0.0, 0, 1, label="uncovered from", step=0.005,
        tells="Where what is there begins. Keyed from 0 to 1 the thing goes away.",
    )  # fmt: skip
    end: float = number(
        1.0, 0, 1, label="uncovered to", step=0.005,
        tells="Where it ends. Keyed from 0 to 1 the thing comes.",
    )  # fmt: skip
    angle: float = number(
        0.0, -3600, 3600, label="towards", unit="°", step=0.5,
        tells="Where the edge travels to: 0 to the right, 90 upward.", when="runs=straight,round",
    )  # fmt: skip
    softness: float = number(
        0.05, 0, 2, label="softness", step=0.005, tells="How wide the edge is, as a share of its way."
    )
    ragged: float = number(
        0.0, 0, 2, label="ragged", step=0.005, tells="How far it strays, as a share of its way."
    )
    grain: float = number(
        0.12, 0.002, 50, label="grain", unit="m", step=0.002, keyable=False,
        tells="How large the parts are by which it strays.", when="ragged!=0",
    )  # fmt: skip
    glow: float = number(
        0.0, 0, 500, label="edge glows", step=0.02, tells="How bright the edge is while it travels."
    )
    width: float = number(
        0.06, 0.001, 2, label="width of the glow", step=0.002, tells="As a share of its way.", when="glow!=0"
    )
    tint: Colour = colour(
        1.0, 0.45, 0.12, label="colour of the glow", tells="What the edge glows in.", when="glow!=0"
    )

    @property
    def whole(self) -> bool:
        return self.begin <= 0 and self.end >= 1
