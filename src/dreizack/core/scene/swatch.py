"""A small shot that shows a finish: a pebble, lit as a new title is."""

from __future__ import annotations

from ..document import (
    Backdrop,
    Body,
    Camera,
    Colour,
    Edge,
    Finish,
    Format,
    Look,
    Mark,
    Piece,
    Shot,
    Title,
    Vector,
)
from ..light import key_fill_rim

# A circle of height 1 on its foot (quarters of cubics).
_CIRCLE = (
    "M0 0C0.27614 0 0.5 0.22386 0.5 0.5C0.5 0.77614 0.27614 1 0 1C-0.27614 1 -0.5 0.77614 -0.5 "
    "0.5C-0.5 0.22386 -0.27614 0 0 0Z"
)


def swatch(finish: Finish, side: int) -> Shot:
    """The shot, ``side`` pixels square, of one frame."""
    round_edge = Edge(profile="roundover", reach=0.42, rise=0.38)
    pebble = Mark(
        name="Pebble",
        size=1.0,
        pieces=[Piece(path=_CIRCLE)],
        finishes=[finish],
        body=Body(depth=0.8, front=round_edge, back=round_edge),
    )
    return Shot(
        name="Finish",
        format=Format(width=side, height=side, frames=1),
        things={"pebble": pebble, **key_fill_rim()},
        camera=Camera(position=Vector(x=0.7, y=0.9, z=4.6), aim=Vector(x=0, y=0.5, z=0), focal_length=142),
        backdrop=Backdrop(colour=Colour(r=0.013, g=0.013, b=0.013)),
    )


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
