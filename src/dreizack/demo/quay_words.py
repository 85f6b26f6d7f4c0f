"""Words over the pan and on the wall of the still: a camera that only turns, and one told by edges."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np

from ..core.clips.plates import take_plate
from ..core.document import Colour, Floor, Format, Light, Setting, Sheet, Shot, Title, Vector
from ..core.document.ground import Turn
from ..core.document.shot import Rate
from ..core.files import write_whole
from ..core.finish import PRESETS
from ..core.match import solve_bytes, solve_of_edges
from .on_the_quay import AROUND, SHIPPED, grained

PAN, PAN_SOLVE = "plate-quay-pan.clip", "solve-quay-pan.solve"
STILL, STILL_SOLVE = "plate-quay-still.clip", "solve-quay-still.solve"
SIZE, FOCAL = (960, 540), 960.0
# Ends of edges of bricks and windows, as picked in the still: level ones, then upright ones.
LEVEL = [
    [[220.1, 399.8], [630.3, 364.7]],
    [[221.4, 191.4], [629.6, 222.1]],
    [[222.1, 42.0], [629.4, 119.3]],
]
UPRIGHT = [[[403.5, 404.0], [403.9, 0.0]], [[535.7, 390.5], [535.7, 6.0]], [[629.4, 380.4], [629.1, 32.4]]]


def bring_views(library: Path) -> None:
    """Put the pan and the still of the quay (made by :mod:`.quay_views`) and their solves into a library."""
    write_whole(library / PAN_SOLVE, (SHIPPED / "quay-pan.solve").read_bytes())
    level, upright = (np.array(lines) for lines in (LEVEL, UPRIGHT))
    solve = solve_of_edges(level, upright, SIZE, True, FOCAL, 1)
    write_whole(library / STILL_SOLVE, solve_bytes(solve))
    for name, footage in ((PAN, "quay-pan.mp4"), (STILL, "quay-still.jpg")):
        if not (library / name).exists():
            write_whole(library / name, take_plate(str(SHIPPED / footage)))


def over_the_quay() -> Shot:
    """Words as tall as a house stand in the water far behind the quay while the camera turns past them."""
    words = Title(name="Title", words="TERN & TALLOW", setting=Setting(typeface="anton", align="centre"))
    words.finish = PRESETS["worn brass"].model_copy(deep=True)
    words.place.position, words.place.rotation = Vector(x=9.92, y=0.0, z=-44.92), Turn(y=-12.455)
    words.place.scale = 5.61
    ground = Floor(name="Ground of the plate")
    ground.visibility.catches, ground.finish.roughness = True, 0.9
    shot = _in_the_evening("Over the quay", {"title": words, "ground": ground}, (-8.849, 3.502, 3.07), -15.0)
    shot.format.frames, shot.plate.clip, shot.plate.solve = 72, PAN, PAN_SOLVE
    # By two picks on the horizon, and that the camera stood 1.7 m high.
    shot.plate.origin = Vector(x=0.020344413, y=-0.098178266, z=-0.076004484)
    shot.plate.turn = Turn(x=-2.562463745, y=-0.015335994, z=-0.685692275)
    return shot


def on_the_wall() -> Shot:
    """Letters on a wall of bricks, in a still: the sun goes along it, so that their shadows are long."""
    words = Title(
        name="Title", words="MARROW LIGHT", setting=Setting(typeface="anton", size=0.62, align="centre")
    )
    words.finish = PRESETS["worn brass"].model_copy(deep=True)
    words.place.position, words.place.rotation = Vector(x=5.85, y=1.2, z=-7.384), Turn(y=-0.296)
    # Where it was picked, and on along the bricks.
    wall = Sheet(name="Wall of the plate", width=9.0, height=5.3947, thickness=0.1)
    wall.finish.base_colour, wall.finish.metallic = Colour(r=0.3, g=0.3, b=0.3), 0.0
    wall.finish.roughness = 0.9
    wall.place.position, wall.place.rotation = Vector(x=4.96, y=2.6973, z=-7.486), Turn(y=-0.296)
    wall.visibility.catches = True
    shot = _in_the_evening("On the wall", {"title": words, "wall": wall}, (-9.004, 3.531, 2.54), -18.3)
    shot.format.frames, shot.plate.clip, shot.plate.solve = 48, STILL, STILL_SOLVE
    return shot


def _in_the_evening(name: str, things: dict[str, Any], sun: tuple[float, float, float], turn: float) -> Shot:
    """Things in a plate of the quay, in the light of its evening."""
    x, y, z = sun
    light = Light(name="Sun of the plate", source="sun", intensity=1.376, colour_by="kelvin", kelvin=4300)
    light.position, light.aim = Vector(x=x, y=y, z=z), Vector()
    shot = Shot(
        name=name,
        format=Format(width=SIZE[0], height=SIZE[1], rate=Rate(num=24, den=1)),
        things={**things, "sun": light},
    )
    grained(shot)
    shot.backdrop.kind, shot.camera.rig = "plate", "matched"
    shot.surroundings.source, shot.surroundings.picture = "picture", AROUND
    shot.surroundings.rotation = turn
    return shot
