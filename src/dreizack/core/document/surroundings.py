"""What is all around, and what is seen behind."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from . import playing
from .air import Air
from .ground import Colour, Section, choice, colour, number, text
from .plain_text import Line

Studio = Literal[
    "dusk",
    "gallery",
    "overcast",
    "dark",
    "softboxes",
    "strips",
    "ring",
    "window",
    "neon alley",
    "harbour noon",
    "warm hall",
    "horizon",
    "starfield",
    "checks",
]


class Surroundings(Section):
    """The picture all around that lights the title and is mirrored in it."""

    source: Literal["made-up room", "picture", "video", "sky"] = choice(
        "made-up room",
        label="surroundings",
        tells="A generated room, a panorama or video of one's own, or the sky at a time of day.",
    )
    studio: Studio = choice(
        "dusk", label="room", tells="Which generated surroundings are mirrored.", when="source=made-up room"
    )
    picture: Line = text(
        "",
        label="panorama",
        tells="A panorama (HDR, EXR) or an ordinary picture, wrapped all around.",
        when="source=picture",
    )
    video: Line = text("", label="video", tells="A video, wrapped all around.", when="source=video")
    speed: float = playing.speed("source=video")
    offset: float = playing.offset("source=video")
    after: playing.After = playing.after("source=video")
    sky_by: Literal["angles", "place and time"] = choice(
        "angles",
        label="sun by",
        tells="Where the sun stands: as angles, or by place, date and time.",
        when="source=sky",
    )
    sun_elevation: float = number(
        28.0,
        -5,
        90,
        label="sun elevation",
        unit="°",
        step=0.1,
        tells="Height of the sun above the horizon.",
        when="source=sky&sky_by=angles",
    )
    sun_azimuth: float = number(
        130.0,
        -36000,
        36000,
        label="sun azimuth",
        unit="°",
        step=0.25,
        tells="Direction of the sun, clockwise from north; north is away from the viewer.",
        when="source=sky&sky_by=angles",
    )
    latitude: float = number(
        58.3,
        -90,
        90,
        label="latitude",
        unit="°",
        step=0.05,
        keyable=False,
        tells="North is positive.",
        when="source=sky&sky_by=place and time",
    )
    longitude: float = number(
        8.6,
        -180,
        180,
        label="longitude",
        unit="°",
        step=0.05,
        keyable=False,
        tells="East is positive.",
        when="source=sky&sky_by=place and time",
    )
    day: int = Field(
        172,
        ge=1,
        le=366,
        title="day of the year",
        description="1 is the first of January.",
        json_schema_extra={
            "keyable": False,
            "unit": "",
            "step": 1,
            "when": "source=sky&sky_by=place and time",
        },
    )
    hour: float = number(
        16.0,
        0,
        24,
        label="time (UTC)",
        unit="h",
        step=0.02,
        tells="Hours after midnight, universal time.",
        when="source=sky&sky_by=place and time",
    )
    haze: float = number(
        3.0,
        1.8,
        10,
        label="haze",
        step=0.02,
        keyable=False,
        tells="Turbidity of the air: 2 is very clear, 6 is hazy.",
        when="source=sky",
    )
    strength: float = number(
        0.0, -16, 8, label="strength", unit="stops", tells="How bright the surroundings are."
    )
    tint: Colour = colour(1, 1, 1, label="tint", tells="Colours the surroundings.")
    rotation: float = number(
        0.0,
        -36000,
        36000,
        label="rotation",
        unit="°",
        step=0.5,
        tells="Moves what is mirrored around the title.",
    )
    tilt: float = number(
        0.0, -360, 360, label="tilt", unit="°", step=0.25, tells="Tips the surroundings towards the viewer."
    )
    blur: float = number(
        0.0, 0, 90, label="blur", unit="°", step=0.1, tells="Softens what is mirrored, without steps."
    )
    air: Air = Field(default_factory=Air, title="air")


# Made here, since a field of that name hides the function below.
_ABOVE = colour(
    0.05,
    0.06,
    0.07,
    label="colour above",
    tells="The colour a gradient runs to at the top.",
    when="kind=gradient",
)


class Backdrop(Section):
    """What is visible behind everything."""

    kind: Literal["colour", "gradient", "surroundings", "picture", "video", "plate"] = choice(
        "colour",
        label="backdrop",
        tells="One colour, a gradient from below to above, the surroundings, a picture, a video, or the "
        "plate "
        "the words stand in.",
    )
    colour: Colour = colour(0.012, 0.014, 0.016, label="backdrop colour", tells="Colour behind the title.")
    second: Colour = _ABOVE
    picture: Line = text(
        "",
        label="backdrop picture",
        tells="The picture behind everything; it fills the frame.",
        when="kind=picture",
    )
    video: Line = text(
        "",
        label="backdrop video",
        tells="The video behind everything; it fills the frame.",
        when="kind=video",
    )
    speed: float = playing.speed("kind=video")
    offset: float = playing.offset("kind=video")
    after: playing.After = playing.after("kind=video")
    distance: float = number(
        12.0,
        0.1,
        10000,
        label="backdrop distance",
        unit="m",
        step=0.02,
        keyable=False,
        tells="How far away it lies for what is seen through glass: further away, glass moves it more.",
        when="kind=gradient,picture,video,plate",
    )
    blur: float = number(
        0.0,
        0,
        60,
        label="backdrop blur",
        unit="°",
        step=0.1,
        keyable=False,
        tells="Blurs what is seen behind.",
        when="kind=surroundings,picture,video",
    )
