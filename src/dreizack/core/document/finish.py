"""The surface of things."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from . import playing
from .ground import Colour, Section, choice, colour, number, text
from .plain_text import Line

PartName = Literal["face", "bevel", "wall", "back"]
BumpKind = Literal["none", "hammered", "brushed", "grain", "ripples", "flakes", "weave"]


class Stop(Section):
    """A colour of a gradient and where along it it stands."""

    at: float = number(
        0.0, 0, 1, label="at", step=0.005, keyable=False, tells="Where along the gradient this colour stands."
    )
    colour: Colour = Field(
        default_factory=lambda: Colour(r=1, g=1, b=1),
        title="colour",
        description="The colour there.",
        json_schema_extra={"keyable": False},
    )


class SurfacePicture(Section):
    """A picture or gradient on one channel of a surface, and how it is mapped.

    ``size`` 1 lets the picture cover its space; shifts are in shares of the picture. Gradients are mixed in
    scene-linear light.
    """

    fill: Literal["none", "picture", "video", "gradient"] = choice(
        "none", label="picture", tells="A picture, a video or a gradient on the surface."
    )
    file: Line = text("", label="file", tells="The picture or video.", when="fill=picture,video")
    speed: float = playing.speed("fill=video")
    offset: float = playing.offset("fill=video")
    after: playing.After = playing.after("fill=video")
    gradient: Literal["linear", "radial", "depth", "outline", "inward"] = choice(
        "linear",
        label="gradient",
        when="fill=gradient",
        tells="Along a line, out from the middle, from the back to the face, along the outlines of letters, "
        "or inward from them.",
    )
    width: float = number(
        0.03,
        0.0002,
        10,
        label="width",
        unit="m",
        step=0.0005,
        keyable=False,
        tells="How far inward it runs.",
        when="fill=gradient&gradient=inward",
    )
    inset: float = number(
        0.0,
        0,
        10,
        label="inset",
        unit="m",
        step=0.0005,
        keyable=False,
        tells="How far from the outline it begins.",
        when="fill=gradient&gradient=inward",
    )
    one_sided: float = number(
        0.0,
        0,
        1,
        label="one-sided",
        step=0.005,
        keyable=False,
        tells="1 keeps it to where the outline faces the angle below.",
        when="fill=gradient&gradient=inward",
    )
    lit_from: float = number(
        120.0,
        -360,
        360,
        label="facing",
        unit="°",
        step=0.5,
        keyable=False,
        tells="That angle, counter-clockwise from the right.",
        when="fill=gradient&gradient=inward",
    )
    channel: Literal["base colour", "emission", "roughness", "opacity"] = choice(
        "base colour", label="it sets", tells="What of the surface the picture sets.", when="fill!=none"
    )
    space: Literal["letter", "word", "line", "title", "room", "plate"] = choice(
        "title",
        label="mapped on",
        when="fill!=none",
        tells="What the picture covers; in the room it stays where it is while letters move through it, on "
        "the plate it fills the frame.",
    )
    size: float = number(
        1.0,
        0.01,
        100,
        label="size",
        unit="×",
        step=0.005,
        tells="1 covers the whole space.",
        when="fill!=none",
    )
    shift_x: float = number(
        0.0,
        -100,
        100,
        label="shift across",
        unit="×",
        step=0.005,
        tells="Moves the picture sideways.",
        when="fill!=none",
    )
    shift_y: float = number(
        0.0,
        -100,
        100,
        label="shift up",
        unit="×",
        step=0.005,
        tells="Moves the picture up.",
        when="fill!=none",
    )
    angle: float = number(
        0.0, -36000, 36000, label="angle", unit="°", step=0.5, tells="Turns the picture.", when="fill!=none"
    )
    repeat: Literal["repeat", "mirrored", "once"] = choice(
        "mirrored",
        label="beyond it",
        tells="Whether the picture goes on beyond its edge, as it is or mirrored.",
        when="fill!=none",
    )
    stops: list[Stop] = Field(
        default_factory=lambda: [
            Stop(at=0, colour=Colour(r=0.02, g=0.05, b=0.09)),
            Stop(at=1, colour=Colour(r=0.9, g=0.6, b=0.3)),
        ],
        min_length=1,
        max_length=16,
        title="stops",
        description="The colours of the gradient.",
        json_schema_extra={"when": "fill=gradient"},
    )


class Surface(Section):
    """A surface in the open physically based terms: glTF 2.0 metallic-roughness with the terms of its
    extensions KHR_materials_ior, _anisotropy, _clearcoat, _sheen, _transmission, _volume and
    _emissive_strength.

    ``named`` is the name of the finish of the library it follows, if any.
    """

    named: Line = Field("", max_length=60)
    base_colour: Colour = colour(
        0.78,
        0.57,
        0.24,
        label="base colour",
        tells="The colour of the material itself; of metal, what it mirrors.",
    )
    metallic: float = number(1.0, 0, 1, label="metallic", step=0.005, tells="0 is paint, 1 is bare metal.")
    roughness: float = number(
        0.28, 0, 1, label="roughness", step=0.005, tells="0 mirrors sharply, 1 is matte."
    )
    ior: float = number(
        1.5,
        1.0,
        3.0,
        label="index of refraction",
        step=0.005,
        tells="How strongly what is no metal mirrors, seen straight on: 1.33 is water, 1.5 lacquer, 2.4 "
        "diamond.",
    )
    anisotropy: float = number(
        0.0,
        0,
        1,
        label="brushed",
        step=0.005,
        tells="Draws highlights out, as on metal brushed along the outline.",
    )
    clearcoat: float = number(
        0.0,
        0,
        1,
        label="clearcoat",
        step=0.005,
        tells="A layer of clear lacquer on top, which mirrors by itself.",
    )
    clearcoat_roughness: float = number(
        0.1, 0, 1, label="coat roughness", step=0.005, tells="How dull that layer is.", when="clearcoat!=0"
    )
    sheen: float = number(
        0.0,
        0,
        1,
        label="sheen",
        step=0.005,
        tells="The bright rim of cloth, velvet and dust, seen from the side.",
    )
    transmission: float = number(
        0.0,
        0,
        1,
        label="transmission",
        step=0.005,
        tells="How much light goes through, as through glass; roughness frosts it.",
    )
    attenuation_colour: Colour = colour(
        1,
        1,
        1,
        label="colour in depth",
        tells="The colour of light that has gone through the material for the distance below.",
        when="transmission!=0",
    )
    attenuation_distance: float = number(
        0.2,
        0.001,
        100,
        label="distance",
        unit="m",
        step=0.002,
        tells="How deep light goes until it has that colour.",
        when="transmission!=0",
    )
    scatter: float = number(
        0.0,
        0,
        1,
        label="scatter",
        step=0.005,
        when="transmission!=0",
        tells="How cloudy the inside is: light that enters is scattered there before it leaves again, as in "
        "wax, milk glass and jade.",
    )
    emission: float = number(
        0.0,
        0,
        1000,
        label="emission",
        step=0.01,
        tells="How brightly it glows by itself; 1 is as bright as white paper in full light.",
    )
    emission_colour: Colour = colour(
        1, 1, 1, label="emission colour", tells="The colour of that glow.", when="emission!=0"
    )
    opacity: float = number(
        1.0, 0, 1, label="opacity", step=0.005, tells="Fades the surface away without bending what is behind."
    )
    picture: SurfacePicture = Field(default_factory=SurfacePicture, title="picture")
    bump: BumpKind = choice(
        "none", label="bump", tells="A fine relief on the surface, which breaks up what it mirrors."
    )
    bump_size: float = number(
        0.02,
        0.0005,
        5,
        label="bump size",
        unit="m",
        step=0.0005,
        keyable=False,
        tells="How large the relief is.",
        when="bump!=none",
    )
    bump_depth: float = number(
        0.3, 0, 4, label="bump depth", step=0.01, tells="How strong the relief is.", when="bump!=none"
    )


class Finish(Surface):
    """The surface of a body; ``parts`` holds those parts of it that differ."""

    parts: dict[PartName, Surface] = Field(default_factory=dict, max_length=4, title="parts")
