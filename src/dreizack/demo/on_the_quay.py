"""SLACK WATER on the quay: words that stand in footage whose camera was solved."""

from __future__ import annotations

from pathlib import Path

from ..core.clips.plates import take_plate
from ..core.document import Colour, Edge, Finish, Floor, Format, Light, Mark, Setting, Shot, Title, Vector
from ..core.document.ground import Turn
from ..core.document.shot import Rate
from ..core.files import write_whole
from ..core.finish import PRESETS

PLATE, SOLVE = "plate-quay.clip", "solve-quay.solve"
AROUND = "panorama-quay.panorama"
# Where ground, origin, scale and direction were picked, and where the sun was found.
ORIGIN, TURN, SCALE = (-0.091503, 1.305923, -5.117758), (-8.495371, -20.556141, 2.445465), 1.393693
SUN = (-7.7548, 3.5022, 5.2533)
SHIPPED = Path(__file__).parent / "footage"


def bring_quay(library: Path) -> None:
    """Put the footage of the quay (made by :mod:`.quay`), its solve and what is around into a library."""
    for name in ("quay.solve", "quay.panorama"):
        stem, ending = name.split(".")
        kind = "solve" if ending == "solve" else "panorama"
        write_whole(library / f"{kind}-{stem}.{ending}", (SHIPPED / name).read_bytes())
    if not (library / PLATE).exists():
        write_whole(library / PLATE, take_plate(str(SHIPPED / "quay.mp4")))


def on_the_quay() -> Shot:
    """The title stands on the stones between bollard and crates, in the light of the evening."""
    words = Title(
        name="Title", words="SLACK WATER", setting=Setting(typeface="anton", size=0.64, align="centre")
    )
    words.finish = PRESETS["worn brass"].model_copy(deep=True)
    words.place.position, words.place.rotation = Vector(x=0.42, y=0.0, z=0.2), Turn(y=-4)
    ground = Floor(name="Ground of the plate")
    ground.visibility.catches = True
    ground.finish.roughness = 0.9
    sun = Light(name="Sun of the plate", source="sun", intensity=1.376, colour_by="kelvin", kelvin=4300)
    x, y, z = SUN
    sun.position, sun.aim = Vector(x=x, y=y, z=z), Vector()
    # The crate behind the words, picked in the plate: it takes their shadow.
    crate = Mark(name="Crate of the plate", size=1.24)
    crate.body.depth, crate.body.direction = 1.24, "back"
    crate.body.front = crate.body.back = Edge(profile="none", reach=0, rise=0)
    crate.place.position, crate.place.rotation = Vector(x=2.3, y=0, z=-0.298), Turn(y=14)
    crate.finishes = [Finish(base_colour=Colour(r=0.3, g=0.3, b=0.3), metallic=0, roughness=0.9)]
    crate.visibility.catches = True
    shot = Shot(
        name="On the quay",
        format=Format(width=960, height=540, rate=Rate(num=24, den=1), frames=96),
        things={"title": words, "ground": ground, "crate": crate, "sun": sun},
    )
    shot.plate.clip, shot.plate.solve = PLATE, SOLVE
    grained(shot)
    shot.backdrop.kind, shot.camera.rig = "plate", "matched"
    (x, y, z), (pitch, yaw, roll) = ORIGIN, TURN
    shot.plate.origin, shot.plate.turn = Vector(x=x, y=y, z=z), Turn(x=pitch, y=yaw, z=roll)
    shot.plate.scale = SCALE
    shot.surroundings.source, shot.surroundings.picture = "picture", AROUND
    return shot


def grained(shot: Shot) -> None:
    """Shadows and grain as in the plate, by strokes in light and in shade and by what is even."""
    shot.plate.shadow_density, shot.plate.shadow_colour = 1.105, Colour(r=0.0, g=0.1035, b=0.2909)
    grain = shot.plate.grain
    grain.dark, grain.middle, grain.light, grain.size, grain.colour = 1.666, 1.62, 1.031, 1.586, 0.193
