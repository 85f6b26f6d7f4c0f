"""The light a new shot arrives in: a body cannot be judged without one."""

from __future__ import annotations

from ..document import Colour, Light, Vector


def key_fill_rim() -> dict[str, Light]:
    """Key from the left, a cool fill from the right, a rim from behind and above."""
    aim = Vector(x=0, y=0.25, z=0)
    return {
        "key": Light(
            name="Key",
            intensity=0.6,
            tint=Colour(r=1, g=0.93, b=0.84),
            width=1.4,
            height=1.4,
            position=Vector(x=-2.4, y=2.2, z=2.6),
            aim=aim,
        ),
        "fill": Light(
            name="Fill",
            intensity=-1.6,
            tint=Colour(r=0.8, g=0.9, b=1),
            width=2.4,
            height=1.6,
            position=Vector(x=3.0, y=0.9, z=2.6),
            aim=aim,
        ),
        "rim": Light(
            name="Rim",
            intensity=0.9,
            tint=Colour(r=0.95, g=0.97, b=1),
            width=2.6,
            height=0.6,
            position=Vector(x=0.7, y=2.3, z=-2.4),
            aim=aim,
        ),
    }
