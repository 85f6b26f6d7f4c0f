"""A shot: format, what stands in it, camera, surroundings, and the keys of every value."""

from __future__ import annotations

import math
import re
from typing import Annotated, Literal

from pydantic import Field, model_validator

from .ground import Colour, Section, Vector, choice, colour, number, vector
from .keys import Channel
from .mark import Mark
from .mesh import Mesh
from .pointer import keyable
from .sheet import Sheet
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


class Camera(Section):
    """A camera at ``position`` looking at ``aim``."""

    position: Vector = vector(1.1, 0.35, 4.2)
    aim: Vector = vector(0.0, 0.22, 0.0)
    roll: float = number(0.0, -36000, 36000, label="roll", unit="°", step=0.25, tells="Tilts the horizon.")
    focal_length: float = number(
        45.0, 4, 1200, label="focal length", unit="mm", step=0.25,
        tells="Short lenses widen and exaggerate depth, long ones flatten it.",
    )
    sensor_width: float = number(
        36.0, 2, 120, label="sensor width", unit="mm", step=0.1, keyable=False,
        tells="Width of the recorded picture inside the camera.",
    )
    exposure: float = number(
        0.0, -12, 12, label="exposure", unit="stops", step=0.01, tells="Brightens or darkens the whole picture."
    )

    def vertical_angle(self, aspect: float) -> float:
        """Vertical angle of view in degrees for a picture of this aspect ratio."""
        return math.degrees(2 * math.atan(self.sensor_width / aspect / (2 * self.focal_length)))


class Light(Section):
    """A panel: a rectangle that shines towards its aim.

    At 0 stops it sends 9π W/sr along its axis whatever its size, so that a white card three metres
    away and facing it has the scene-linear value 1; a larger panel is softer, not brighter.
    """

    kind: Literal["light"] = "light"
    name: str = Field("Light", min_length=1, max_length=120)
    on: bool = Field(True, title="lit", description="Switches the light.", json_schema_extra={"keyable": False})
    intensity: float = number(0.0, -16, 12, label="intensity", unit="stops", tells="Each stop doubles the light.")
    tint: Colour = colour(1, 1, 1, label="tint", tells="Colour of the light.")
    width: float = number(1.2, 0.01, 100, label="width", unit="m", tells="Wider is softer from side to side.")
    height: float = number(1.2, 0.01, 100, label="height", unit="m", tells="Taller is softer up and down.")
    position: Vector = vector(-2.2, 2.6, 2.6)
    aim: Vector = vector(0.0, 0.25, 0.0)


class Surroundings(Section):
    """The picture all around that lights the title and is mirrored in it."""

    studio: Literal["dusk", "gallery", "overcast", "dark"] = choice(
        "dusk", label="made-up room", tells="Which generated surroundings are mirrored."
    )
    strength: float = number(0.0, -16, 8, label="strength", unit="stops", tells="How bright the surroundings are.")
    rotation: float = number(
        0.0, -36000, 36000, label="rotation", unit="°", step=0.5, tells="Moves what is mirrored around the title."
    )


class Backdrop(Section):
    """What is visible behind everything."""

    colour: Colour = colour(0.012, 0.014, 0.016, label="backdrop colour", tells="Colour behind the title.")


Bodied = Title | Mark | Sheet | Mesh
Thing = Annotated[Title | Mark | Sheet | Mesh | Light, Field(discriminator="kind")]


class Shot(Section):
    """One animated scene.

    ``channels`` maps the JSON Pointer of a value (``/camera/position/x``) to its keys.
    """

    name: str = Field("Untitled shot", min_length=1, max_length=120)
    format: Format = Field(default_factory=Format)
    things: dict[str, Thing] = Field(default_factory=dict, max_length=MAX_THINGS)
    camera: Camera = Field(default_factory=Camera)
    surroundings: Surroundings = Field(default_factory=Surroundings)
    backdrop: Backdrop = Field(default_factory=Backdrop)
    channels: dict[str, Channel] = Field(default_factory=dict, max_length=2000)

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
        """Everything that has a body: titles, marks, sheets, meshes."""
        return {name: thing for name, thing in self.things.items() if not isinstance(thing, Light)}

    @property
    def lights(self) -> dict[str, Light]:
        return {name: thing for name, thing in self.things.items() if isinstance(thing, Light)}
