"""A small shot that shows a finish: a pebble, lit as a new title is."""

from __future__ import annotations

from typing import Any

from ..document import (
    Backdrop,
    Body,
    Camera,
    Colour,
    Edge,
    Fill,
    Finish,
    Format,
    Look,
    Mark,
    Piece,
    Sheet,
    Shot,
    Title,
    Vector,
)
from ..light import key_fill_rim
from .frame import fingerprint
from .naming import RENDER_VERSION

# How many times as thick as letters are the pebble is.
THICKER = 3.0
# A circle of height 1 on its foot (quarters of cubics).
_CIRCLE = (
    "M0 0C0.27614 0 0.5 0.22386 0.5 0.5C0.5 0.77614 0.27614 1 0 1C-0.27614 1 -0.5 0.77614 -0.5 "
    "0.5C-0.5 0.22386 -0.27614 0 0 0Z"
)


def swatch(finish: Finish, side: int) -> Shot:
    """The shot, ``side`` pixels square, of one frame."""
    # Colour within has so much further to go.
    finish = finish.model_copy(update={"attenuation_distance": finish.attenuation_distance * THICKER})
    round_edge = Edge(profile="roundover", reach=0.42, rise=0.38)
    pebble = Mark(
        name="Pebble",
        size=1.0,
        pieces=[Piece(path=_CIRCLE)],
        finishes=[finish],
        body=Body(depth=0.8, front=round_edge, back=round_edge),
    )
    things: dict[str, Any] = {"pebble": pebble, **key_fill_rim()}
    if finish.transmission > 0:
        things["card"] = _card()
    return Shot(
        name="Finish",
        format=Format(width=side, height=side, frames=1),
        things=things,
        camera=Camera(position=Vector(x=0.7, y=0.9, z=4.6), aim=Vector(x=0, y=0.5, z=0), focal_length=142),
        backdrop=Backdrop(colour=Colour(r=0.013, g=0.013, b=0.013)),
    )


def _card() -> Sheet:
    """What glass is seen by: a card that glows, light above and dark below, behind the pebble."""
    light = Finish(base_colour=Colour(r=0.6, g=0.6, b=0.6), metallic=0, roughness=1, emission=0.0)
    card = Sheet(name="Card", width=2.6, height=2.6, finish=light)
    card.fill = Fill(kind="linear", second=Colour(r=0.02, g=0.02, b=0.02), angle=-90, middle=0.55)
    card.place.position = Vector(x=-0.1, y=0.5, z=-1.1)
    return card


def chip_name(shot: Shot) -> str:
    """What the picture of a swatch is called: what it shows and how it is traced. What is as it is by default
    does not count, so that new values change nothing."""
    return fingerprint((RENDER_VERSION, shot.model_dump_json(exclude_defaults=True)))


def look_swatch(look: Look, side: int) -> Shot:
    """A small shot that shows a look on two letters."""
    title = Title.model_validate({**look.sections, "words": "Aa"})
    size = title.setting.size
    return Shot(
        name="Look",
        format=Format(width=side, height=side, frames=1),
        things={"title": title, **key_fill_rim()},
        camera=Camera(
            position=Vector(x=size * 1.6, y=size * 1.5, z=size * 7.5),
            aim=Vector(x=0, y=size * 0.5, z=0),
            focal_length=105,
        ),
        backdrop=Backdrop(colour=Colour(r=0.013, g=0.013, b=0.013)),
    )
