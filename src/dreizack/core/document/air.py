"""What the air does to what is seen through it."""

from __future__ import annotations

from .ground import Colour, Section, colour, number, switch


class Air(Section):
    """Haze that light shines in: things fade with distance, lights throw shafts."""

    density: float = number(
        0.0,
        0,
        5,
        label="density",
        unit="/m",
        step=0.001,
        tells="How much of what is seen a metre of air takes; 0 is clear air.",
    )
    tint: Colour = colour(1, 1, 1, label="colour", tells="The colour in which the air lights up.")
    forward: float = number(
        0.2,
        -0.9,
        0.9,
        label="forward",
        step=0.005,
        tells="Above 0 air lights up towards lights, below 0 away from them, at 0 every way alike.",
    )
    reach: float = number(
        20.0,
        0.1,
        1000,
        label="reaches",
        unit="m",
        step=0.05,
        tells="How far from the camera there is air; what is behind lies as far away.",
    )
    over: bool = switch(
        True,
        label="before the backdrop",
        tells="Whether the backdrop is seen through the air, too; off for footage that has its own.",
    )
