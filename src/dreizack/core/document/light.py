"""Lights."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .ground import Colour, Section, Vector, choice, colour, number, switch, text, thing_name, vector
from .plain_text import Line
from .span import Span, span


class Light(Section):
    """A light: a panel, disc, spot or point somewhere, the sun, or ambient light from everywhere.

    At 0 stops a panel, disc, spot or point sends 9π W/sr towards its aim whatever its size, so that a white
    card three metres away and facing it has the scene-linear value 1; a larger one is softer, not brighter.
    Sun and ambient light give that card the value 1 wherever it is.
    """

    kind: Literal["light"] = "light"
    name: Line = Field("Light", min_length=1, max_length=120)
    on: bool = switch(True, label="lit", tells="Switches the light.")
    solo: bool = switch(
        False, label="solo", tells="Only lights that are solo shine, as long as there is one."
    )
    source: Literal["panel", "disc", "spot", "point", "sun", "ambient"] = choice(
        "panel",
        label="kind of light",
        tells="A rectangle or disc that glows, a cone of light, a bulb, the sun, or light from everywhere.",
    )
    measured_in: Literal["stops", "candela", "lumen", "lux"] = choice(
        "stops",
        label="intensity in",
        tells="Stops, or a physical unit: candela towards the aim, lumen in all, lux on a card three metres "
        "away.",
    )
    intensity: float = number(
        0.0,
        -16,
        12,
        label="intensity",
        unit="stops",
        tells="Each stop doubles the light; at −16 it is dark.",
        when="measured_in=stops",
    )
    amount: float = number(
        1000.0,
        0,
        1e8,
        label="amount",
        step=5,
        tells="In that unit; a white card in 1000 lux has the value 1. Sun and ambient light take it as lux.",
        when="measured_in=candela,lumen,lux",
        units={"measured_in": {"candela": "cd", "lumen": "lm", "lux": "lx"}},
    )
    falloff: Literal["inverse square", "inverse", "none"] = choice(
        "inverse square",
        label="falloff",
        tells="How light weakens with distance; but for the first a departure from physics, alike three "
        "metres away.",
        when="source=panel,disc,spot,point",
    )
    colour_by: Literal["tint", "kelvin"] = choice(
        "tint", label="colour by", tells="A tint, or the temperature of a glowing body."
    )
    tint: Colour = colour(1, 1, 1, label="tint", tells="Colour of the light.", when="colour_by=tint")
    kelvin: float = number(
        5600.0,
        1000,
        20000,
        label="temperature",
        unit="K",
        step=10,
        tells="Candle 1900, lamp 3200, daylight 5600, shade 8000.",
        when="colour_by=kelvin",
    )
    width: float = number(
        1.2,
        0.01,
        100,
        label="width",
        unit="m",
        tells="Wider is softer from side to side.",
        when="source=panel",
    )
    height: float = number(
        1.2, 0.01, 100, label="height", unit="m", tells="Taller is softer up and down.", when="source=panel"
    )
    size: float = number(
        0.15,
        0.002,
        100,
        label="size",
        unit="m",
        step=0.002,
        tells="Diameter; a larger source is softer.",
        when="source=disc,spot,point",
    )
    cone: float = number(
        40.0,
        1,
        170,
        label="cone",
        unit="°",
        step=0.25,
        tells="Full angle of the cone of light.",
        when="source=spot",
    )
    penumbra: float = number(
        0.3,
        0,
        1,
        label="penumbra",
        step=0.005,
        tells="How much of the cone is a soft edge.",
        when="source=spot",
    )
    slide: Line = text(
        "",
        label="slide",
        tells="A picture that the spot throws; bright parts let light through.",
        when="source=spot",
    )
    breadth: float = number(
        0.53,
        0.05,
        60,
        label="breadth",
        unit="°",
        step=0.01,
        tells="How large it stands in the sky; the sun is 0.53° wide, haze makes it wider.",
        when="source=sun",
    )
    position: Vector = vector(-2.2, 2.6, 2.6, when="source!=ambient")
    aim: Vector = vector(0.0, 0.25, 0.0, when="source!=ambient")
    aim_at: Line = thing_name(
        label="aims at",
        tells="The thing it follows; its aim moves with that.",
        of="place",
        when="source!=ambient",
    )
    hangs_on: Line = thing_name(
        label="hangs on",
        tells="The thing it moves with; position and aim are counted from there.",
        of="place",
        when="source!=ambient",
    )
    mirrored: bool = switch(
        True, label="seen in reflections", tells="Whether it is mirrored in things, not only lights them."
    )
    reaches: Literal["everything", "only these", "all but these"] = choice(
        "everything", label="reaches", tells="Which things the light falls on."
    )
    listed: Line = text(
        "",
        label="these",
        tells="The things it reaches, or leaves out.",
        longest=2000,
        when="reaches!=everything",
    )
    shadow_density: float = number(
        1.0,
        0,
        1,
        label="shadow density",
        step=0.005,
        tells="A departure from physics: below 1 some of the light gets through whatever stands in its way.",
    )
    shadow_colour: Colour = colour(
        0,
        0,
        0,
        label="shadow colour",
        tells="A departure from physics: light of this colour where it is blocked.",
    )
    span: Span = span()

    def reached(self, thing: str) -> bool:
        """Whether this light falls on a thing."""
        return self.reaches == "everything" or (thing in self.listed.split()) == (
            self.reaches == "only these"
        )
