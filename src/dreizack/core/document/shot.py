"""A shot: format, what stands in it, camera, surroundings, and the keys of every value."""

from __future__ import annotations

import re
from typing import Annotated

from pydantic import Field, model_validator

from .camera import Camera
from .floor import Floor
from .ground import Section
from .keys import Channel
from .light import Light
from .mark import Mark
from .mesh import Mesh
from .plain_text import Line
from .pointer import keyable
from .sheet import Sheet
from .surroundings import Backdrop, Surroundings
from .title import Title

MAX_THINGS = 64
MAX_FRAMES = 20_000
MAX_PIXELS = 7680 * 4320
THING_ID = re.compile(r"[a-z0-9][a-z0-9-]{0,39}")


class Rate(Section):
    """Frames a second as a fraction (SMPTE ST 2036-1 lists 24000/1001, 30000/1001, …)."""

    num: int = Field(25, ge=1, le=240_000)
    den: int = Field(1, ge=1, le=1001)

    @model_validator(mode="after")
    def sensible(self) -> Rate:
        if not 1 <= self.num / self.den <= 240:
            raise ValueError("the frame rate must lie between 1 and 240 frames a second")
        return self

    @property
    def per_second(self) -> float:
        return self.num / self.den


class Format(Section):
    """Picture size in pixels, frame rate and length in frames."""

    width: int = Field(1920, ge=16, le=8192)
    height: int = Field(1080, ge=16, le=8192)
    rate: Rate = Field(default_factory=lambda: Rate(num=25, den=1))
    frames: int = Field(120, ge=1, le=MAX_FRAMES)

    @model_validator(mode="after")
    def not_enormous(self) -> Format:
        if self.width * self.height > MAX_PIXELS:
            raise ValueError("the picture may have at most 7680 × 4320 pixels")
        return self

    @property
    def aspect(self) -> float:
        return self.width / self.height


Bodied = Title | Mark | Sheet | Mesh | Floor
Thing = Annotated[Title | Mark | Sheet | Mesh | Floor | Light, Field(discriminator="kind")]


class Shot(Section):
    """One animated scene.

    ``channels`` maps the JSON Pointer of a value (``/camera/position/x``) to its keys.
    """

    name: Line = Field("Untitled shot", min_length=1, max_length=120)
    format: Format = Field(default_factory=Format)
    things: dict[Line, Thing] = Field(default_factory=dict, max_length=MAX_THINGS)
    camera: Camera = Field(default_factory=Camera)
    surroundings: Surroundings = Field(default_factory=Surroundings)
    backdrop: Backdrop = Field(default_factory=Backdrop)
    channels: dict[Line, Channel] = Field(default_factory=dict, max_length=2000)

    @model_validator(mode="after")
    def coherent(self) -> Shot:
        for thing in self.things:
            if not THING_ID.fullmatch(thing):
                raise ValueError(f"'{thing[:60]}' cannot name a thing: use up to 40 of a-z, 0-9 and '-'")
        for pointer in self.channels:
            if not keyable(self, pointer):
                raise ValueError(f"the channel '{pointer[:120]}' does not lead to a value that can be keyed")
        return self

    @property
    def titles(self) -> dict[str, Title]:
        return {name: thing for name, thing in self.things.items() if isinstance(thing, Title)}

    @property
    def bodied(self) -> dict[str, Bodied]:
        """Everything that has a body: titles, marks, sheets, meshes, floors."""
        return {name: thing for name, thing in self.things.items() if not isinstance(thing, Light)}

    @property
    def lights(self) -> dict[str, Light]:
        return {name: thing for name, thing in self.things.items() if isinstance(thing, Light)}

    @property
    def lit(self) -> dict[str, Light]:
        """The lights that shine: those that are solo, where there are any, else those that are on."""
        solo = {name: light for name, light in self.lights.items() if light.solo}
        return solo or {name: light for name, light in self.lights.items() if light.on}
