"""A shot: format, what stands in it, camera, surroundings, and the keys of every value."""

from __future__ import annotations

import re
from typing import Annotated, get_args

from pydantic import Field, model_validator

from .camera import Camera
from .changes import Change, Changes, changeable, fault_of
from .circles import circle
from .driven import Coupling, Drift
from .floor import Floor
from .ground import Section, text
from .guide import GuideLine
from .keys import Channel
from .light import Light
from .mark import Mark
from .marker import Marker
from .mesh import Mesh
from .optics import Optics
from .pivot import Pivot
from .plain_text import Line
from .plate import Plate
from .pointer import keyable
from .sheet import Sheet
from .sound import HEARD, Sound
from .strand import Strand
from .surroundings import Backdrop, Surroundings
from .swarm import Swarm
from .title import Title

MAX_THINGS = 64
MAX_CAMERAS = 8
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


# Made of letters or pieces, with sets of them.
Lettered = Title | Mark
Bodied = Lettered | Sheet | Mesh | Floor | Strand | Swarm
Placed = Bodied | Pivot
_Things = Placed | Light
Thing = Annotated[_Things, Field(discriminator="kind")]

THINGS: dict[str, type[Section]] = {kind.model_fields["kind"].default: kind for kind in get_args(_Things)}


class Shot(Section):
    """One animated scene.

    ``channels`` maps the JSON Pointer of a value (``/camera/position/x``) to its keys, ``drifts`` and
    ``couplings`` to what moves it besides.
    """

    name: Line = Field("Untitled shot", min_length=1, max_length=120)
    format: Format = Field(default_factory=Format)
    things: dict[Line, Thing] = Field(default_factory=dict, max_length=MAX_THINGS)
    camera: Camera = Field(default_factory=Camera)
    cameras: dict[Line, Camera] = Field(default_factory=dict, max_length=MAX_CAMERAS)
    through: Line = text(
        "", label="camera", tells="The camera that is looked through; empty: the first one.", longest=40
    )
    surroundings: Surroundings = Field(default_factory=Surroundings)
    backdrop: Backdrop = Field(default_factory=Backdrop)
    plate: Plate = Field(default_factory=Plate)
    optics: Optics = Field(default_factory=Optics)
    channels: dict[Line, Channel] = Field(default_factory=dict, max_length=2000)
    changes: dict[Line, Changes] = Field(default_factory=dict, max_length=500)
    drifts: dict[Line, Drift] = Field(default_factory=dict, max_length=500)
    couplings: dict[Line, Coupling] = Field(default_factory=dict, max_length=500)
    sounds: dict[Line, Sound] = Field(default_factory=dict, max_length=16)
    markers: list[Marker] = Field(default_factory=list, max_length=500)
    guides: list[GuideLine] = Field(default_factory=list, max_length=40)

    @model_validator(mode="after")
    def coherent(self) -> Shot:
        for thing in (*self.things, *self.sounds, *self.cameras):
            if not THING_ID.fullmatch(thing):
                raise ValueError(f"'{thing[:60]}' cannot name a thing: use up to 40 of a-z, 0-9 and '-'")
        for what, pointers in (
            ("channel", self.channels),
            ("drift", self.drifts),
            ("coupling", self.couplings),
        ):
            for pointer in pointers:
                if not keyable(self, pointer):
                    raise ValueError(
                        f"the {what} '{pointer[:120]}' does not lead to a value that can be keyed"
                    )
        looked = [self.through, *(key.value for key in self._cuts())]
        unknown = next((name for name in looked if name and name not in self.cameras), "")
        if unknown:
            raise ValueError(f"there is no camera '{str(unknown)[:40]}' to look through")
        for pointer, changes in self.changes.items():
            if pointer == "/through":
                continue
            if not changeable(self, pointer):
                raise ValueError(f"'{pointer[:120]}' is no choice, switch or text that can change")
            fault = fault_of(self, pointer, changes)
            if fault:
                raise ValueError(f"'{pointer[:120]}' cannot be what it is to be {fault}")
        self._couplings_lead_somewhere()
        self._nothing_hangs_on_itself()
        return self

    def _cuts(self) -> list[Change]:
        cuts = self.changes.get("/through")
        return cuts.keys if cuts is not None else []

    def _couplings_lead_somewhere(self) -> None:
        for pointer, coupling in self.couplings.items():
            for source in coupling.sources:
                if not (keyable(self, source) or self.hears(source)):
                    raise ValueError(
                        f"'{pointer[:120]}' follows '{source[:120]}', which is no value that moves"
                    )
        found = circle(self.couplings, lambda at: self.couplings[at].sources if at in self.couplings else [])
        if found:
            raise ValueError(f"values follow each other in a circle: {' follows '.join(found)[:400]}")

    def _nothing_hangs_on_itself(self) -> None:
        found = circle(self.things, lambda name: [on for on in _held(self.things[name]) if on in self.things])
        if found:
            raise ValueError(f"things hang on each other in a circle: {' hangs on '.join(found)[:400]}")

    def hears(self, pointer: str) -> bool:
        """Whether a pointer leads to what is heard in a sound: ``/sounds/bell/heard/level``."""
        parts = pointer.split("/")
        return (
            len(parts) == 5
            and parts[1::2] == ["sounds", "heard"]
            and parts[2] in self.sounds
            and parts[4] in HEARD
        )

    @property
    def titles(self) -> dict[str, Title]:
        return {name: thing for name, thing in self.things.items() if isinstance(thing, Title)}

    @property
    def bodied(self) -> dict[str, Bodied]:
        """Everything that has a body: titles, marks, sheets, meshes, floors, ornaments."""
        return {name: thing for name, thing in self.things.items() if isinstance(thing, Bodied)}

    @property
    def moving(self) -> list[str]:
        """Pointers of all values that may move: by keys, drift or a coupling."""
        found = {**self.channels, **self.drifts, **self.couplings}
        return list(dict.fromkeys([*found, *self._turned_along()]))

    def turned_by(self, pointer: str) -> list[Channel | None]:
        """The channels (x, y, z) of an orientation of which a pointer is one value; none where it is a value
        by itself, or nothing of it is keyed."""
        match pointer.split("/"):
            case ["", "things", name, "place", "rotation", "x" | "y" | "z"]:
                thing = self.things.get(name)
                if thing is not None and _turns_whole(thing):
                    at = pointer[:-1]
                    found = [self.channels.get(at + axis) for axis in "xyz"]
                    return found if any(found) else []
        return []

    def _turned_along(self) -> list[str]:
        """Pointers of values without keys that move all the same, as parts of keyed orientations."""
        below = [
            f"/things/{name}/place/rotation/" for name, thing in self.things.items() if _turns_whole(thing)
        ]
        return [
            at + axis
            for at in below
            for axis in "xyz"
            if at + axis not in self.channels and self.turned_by(at + axis)
        ]

    @property
    def lights(self) -> dict[str, Light]:
        return {name: thing for name, thing in self.things.items() if isinstance(thing, Light)}

    @property
    def pivots(self) -> dict[str, Pivot]:
        return {name: thing for name, thing in self.things.items() if isinstance(thing, Pivot)}

    @property
    def lit(self) -> dict[str, Light]:
        """The lights that shine: those that are solo, where there are any, else those that are on."""
        solo = {name: light for name, light in self.lights.items() if light.solo}
        return solo or {name: light for name, light in self.lights.items() if light.on}


def _turns_whole(thing: Thing) -> bool:
    return isinstance(thing, Placed) and thing.place.turns == "orientation"


def camera_followers(shot: Shot) -> set[str]:
    """Names of the things that the camera hangs on or aims at, and of all that those hang on."""
    found: set[str] = set()
    for name in (shot.camera.hangs_on, shot.camera.aim_at):
        while name in shot.things and name not in found:
            found.add(name)
            name = hanging(shot.things[name])
    return found


def _held(thing: Thing) -> list[str]:
    """Names of what a thing, or its copies, stand on."""
    copies = getattr(thing, "copies", None)
    if copies is None or not copies.count:
        return [hanging(thing)]
    return [hanging(thing), {"strand": copies.strand, "surface": copies.over}.get(copies.along, "")]


def hanging(thing: Thing | Camera) -> str:
    """The name of what a thing, or the camera, hangs or rides on; empty where it stands in the room."""
    if isinstance(thing, Pivot) and thing.rides:
        return thing.rides
    return thing.hangs_on if isinstance(thing, Light | Camera) else thing.place.hangs_on
