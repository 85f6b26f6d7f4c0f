"""The camera: where it stands, its lens and its shutter."""

from __future__ import annotations

import math
from typing import Literal

from pydantic import Field

from .ground import Section, Vector, choice, number, switch, thing_name, vector
from .plain_text import Line


class Camera(Section):
    """A camera at ``position`` looking at ``aim``."""

    name: Line = Field("Camera", min_length=1, max_length=120)
    rig: Literal["free", "orbit", "matched"] = choice(
        "free",
        label="stands",
        tells="Free in the room, at angles and a distance around its aim, or where the camera of the plate "
        "was, frame by frame.",
    )
    position: Vector = vector(1.1, 0.35, 4.2, when="rig=free")
    azimuth: float = number(
        14.7,
        -36000,
        36000,
        label="azimuth",
        unit="°",
        step=0.25,
        tells="How far around its aim it stands, from the front to the right.",
        when="rig=orbit",
    )
    elevation: float = number(
        1.7,
        -89.9,
        89.9,
        label="elevation",
        unit="°",
        step=0.1,
        tells="How steeply it looks down on its aim.",
        when="rig=orbit",
    )
    distance: float = number(
        4.34,
        0.02,
        5000,
        label="distance",
        unit="m",
        step=0.01,
        tells="How far from its aim it stands.",
        when="rig=orbit",
    )
    keeps: Literal["distance", "size"] = choice(
        "distance",
        label="longer lenses keep",
        tells="The distance; or the size of what it aims at: then the distance counts for a lens of 50 mm, "
        "and a longer one moves away.",
        when="rig=orbit",
    )
    aim: Vector = vector(0.0, 0.22, 0.0, when="rig=free,orbit")
    aim_at: Line = thing_name(
        label="aims at", tells="The thing it follows; its aim is counted from there.", of="place"
    )
    lead: float = number(
        0.0,
        -500,
        500,
        label="looks ahead",
        unit="frames",
        step=0.5,
        keyable=False,
        tells="Aims at where that thing will be so many frames later.",
    )
    hangs_on: Line = thing_name(
        label="hangs on",
        tells="The thing it moves with; position and aim are counted from there.",
        of="place",
    )
    roll: float = number(0.0, -36000, 36000, label="roll", unit="°", step=0.25, tells="Tilts the horizon.")
    focal_length: float = number(
        45.0,
        4,
        1200,
        label="focal length",
        unit="mm",
        step=0.25,
        tells="Short lenses widen and exaggerate depth, long ones flatten it.",
    )
    sensor_width: float = number(
        36.0,
        2,
        120,
        label="sensor width",
        unit="mm",
        step=0.1,
        keyable=False,
        tells="Width of the recorded picture inside the camera.",
    )
    exposure: float = number(
        0.0,
        -12,
        12,
        label="exposure",
        unit="stops",
        step=0.01,
        tells="Brightens or darkens the whole picture.",
    )
    view: Literal["shoulder", "plain sRGB", "plain Rec.709", "film"] = choice(
        "shoulder",
        label="view transform",
        tells="How light becomes display values: straight with a shoulder for highlights, plainly encoded "
        "and clipped, or as film-like as the Academy's.",
    )
    defocus: bool = switch(
        False, label="depth of field", tells="Blurs what is not in focus, as a real lens does."
    )
    f_stop: float = number(
        2.8,
        0.5,
        64,
        label="f-stop",
        unit="f/",
        step=0.02,
        tells="Small numbers open the lens and leave little in focus.",
        when="defocus=true",
    )
    focus: Literal["aim", "distance"] = choice(
        "aim",
        label="focus on",
        tells="What the camera aims at, or a distance that can be keyed.",
        when="defocus=true",
    )
    focus_distance: float = number(
        4.0,
        0.02,
        5000,
        label="focus distance",
        unit="m",
        step=0.01,
        tells="How far away the plane is that is sharp.",
        when="defocus=true&focus=distance",
    )
    blades: int = Field(
        0,
        ge=0,
        le=16,
        title="blades",
        description="Corners of the opening: 0 is round, 5 to 9 show in bright blurred points.",
        json_schema_extra={"keyable": False, "unit": "", "step": 1, "when": "defocus=true"},
    )
    blade_turn: float = number(
        0.0,
        -360,
        360,
        label="blade turn",
        unit="°",
        step=0.5,
        keyable=False,
        tells="Turns the opening.",
        when="defocus=true",
    )
    focus_drawn: Literal["by the lens", "afterwards"] = choice(
        "by the lens",
        label="focus drawn",
        tells="As light goes through the lens; or into the sharp picture afterwards: sooner without "
        "grain, but what lies behind blurred edges is guessed, and what is seen in mirrors and glass is as "
        "far away as their surface.",
        when="defocus=true",
    )
    shutter_angle: float = number(
        0.0,
        0,
        360,
        label="shutter angle",
        unit="°",
        step=0.5,
        keyable=False,
        tells="How long each frame is exposed: 180° is half a frame, 0 leaves no motion blur.",
    )

    def vertical_angle(self, aspect: float) -> float:
        """Vertical angle of view in degrees for a picture of this aspect ratio."""
        return math.degrees(2 * math.atan(self.sensor_width / aspect / (2 * self.focal_length)))
