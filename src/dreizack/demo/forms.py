"""Part titles that show what forms a title can take."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import trimesh

from ..core.artwork.meshes import packed
from ..core.document import (
    Backdrop,
    Body,
    Camera,
    Colour,
    Coupling,
    Deformation,
    Drift,
    Edge,
    Fill,
    Finish,
    Floor,
    Format,
    LetterSet,
    Mark,
    Mesh,
    Optics,
    Outlines,
    Piece,
    Place,
    Setting,
    Sheet,
    Shell,
    Shot,
    Sound,
    Span,
    Strand,
    Surroundings,
    Swarm,
    Title,
    Turn,
    Vector,
)
from ..core.document import Path as Line
from ..core.document.optics import Bloom, Grain, Vignette
from ..core.document.strand import glowing
from ..core.files import write_whole
from ..core.finish import PRESETS
from ..core.light import key_fill_rim
from .bell import bell_and_swell
from .keying import LEAVE, keys
from .on_the_quay import bring_quay
from .quay_words import bring_views

BUOY, BELL = "buoy.mesh", "bell.wav"


def ebb() -> Shot:
    """Paper-cut: the letters swing out of the sheet they are cut from, every second one the other way."""
    lights = key_fill_rim()
    lights["key"].position = Vector(x=-2.2, y=1.6, z=2.6)
    lights["key"].width = lights["key"].height = 0.5
    lights["key"].intensity = 0.6
    lights["fill"].intensity = -2.6
    paper = Finish(base_colour=Colour(r=0.66, g=0.63, b=0.56), metallic=0, roughness=0.85)
    title = Title(
        name="Part title",
        words="EBB",
        setting=Setting(typeface="archivo-black", size=0.7, tracking=60),
        body=Body(depth=0.008, direction="both", front=Edge(profile="none"), back=Edge(profile="none")),
        finish=paper.model_copy(deep=True),
        sets=[
            LetterSet(rule="every", step=2, first=0, hinge="left", turn=Turn(y=-68)),
            LetterSet(
                rule="every",
                step=2,
                first=1,
                hinge="bottom",
                turn=Turn(x=74),
                own_finish=True,
                finish=Finish(base_colour=Colour(r=0.05, g=0.2, b=0.26), metallic=0, roughness=0.7),
            ),
        ],
        place=Place(position=Vector(x=0, y=-0.35, z=0)),
        span=Span(arrival=54, departure=24),
    )
    sheet = Sheet(
        name="Paper",
        width=3.4,
        height=1.9,
        thickness=0.008,
        gap=0.003,
        cut="title",
        corner=0.03,
        finish=paper,
        fill=Fill(kind="linear", angle=-90, second=Colour(r=0.36, g=0.4, b=0.4)),
    )
    behind = Sheet(
        name="Water",
        width=4.2,
        height=2.6,
        thickness=0.01,
        place=Place(position=Vector(x=0, y=0, z=-0.5)),
        finish=Finish(base_colour=Colour(r=0.03, g=0.12, b=0.16), metallic=0, roughness=0.5),
    )
    return Shot(
        name="Part two: Ebb",
        format=Format(width=1920, height=1080, frames=90),
        things={"title": title, "paper": sheet, "water": behind, **lights},
        camera=Camera(position=Vector(x=-0.5, y=0.3, z=3.4), aim=Vector(x=0, y=0, z=0), focal_length=44),
        surroundings=Surroundings(studio="overcast", strength=-2.2),
        backdrop=Backdrop(colour=Colour(r=0.02, g=0.03, b=0.035)),
        channels={
            "/things/title/sets/0/turn/y": keys((8, 0.0), (44, -68.0), (66, -68.0), (82, 0.0)),
            "/things/title/sets/1/turn/x": keys((16, 0.0), (54, 74.0), (66, 74.0), (84, 0.0)),
            "/camera/position/x": keys((0, -0.9), (89, 0.3)),
        },
    )


def slack() -> Shot:
    """Words on a bulging arc on still water, a bell buoy behind them, the ferry's ensign beside it."""
    lights = key_fill_rim()
    lights["key"].tint = Colour(r=1, g=0.86, b=0.7)
    title = Title(
        name="Part title",
        words="THE TIDE STANDS STILL",
        setting=Setting(typeface="zilla-slab", size=0.172, tracking=30),
        path=Line(kind="arc", stance="bulging", facing="outward", radius=3.2),
        place=Place(position=Vector(x=0, y=-0.6, z=0.4)),
        body=Body(
            depth=0.06,
            front=Edge(
                profile="drawn",
                reach=0.0105,
                rise=0.018,
                drawn=[(0, 0), (0.1, 0.55), (0.5, 0.62), (0.62, 1), (1, 1)],
            ),
            back=Edge(profile="chamfer", reach=0.004, rise=0.004),
        ),
        finish=Finish(base_colour=Colour(r=0.74, g=0.72, b=0.66), metallic=1, roughness=0.22),
    )
    ensign = Mark(
        name="Ensign",
        size=0.42,
        pieces=[Piece(name="fork", path=FORK, finish=0), Piece(name="bar", path=BAR, finish=1)],
        finishes=[
            PRESETS["worn brass"].model_copy(deep=True),
            PRESETS["signal lacquer"].model_copy(deep=True),
        ],
        body=Body(
            depth=0.06, front=Edge(profile="chamfer", reach=0.01, rise=0.015), back=Edge(profile="none")
        ),
        place=Place(position=Vector(x=-1.0, y=-0.59, z=-1.2)),
    )
    buoy = Mesh(
        name="Bell buoy",
        file=BUOY,
        part_names=["float", "tower"],
        place=Place(position=Vector(x=0.62, y=-0.7, z=-1.4)),
        finishes=[
            Finish(base_colour=Colour(r=0.42, g=0.03, b=0.02), metallic=0, roughness=0.35),
            Finish(base_colour=Colour(r=0.3, g=0.31, b=0.32), metallic=1, roughness=0.4),
        ],
    )
    # Waves that the bell sends over the water.
    waves = Strand(
        name="Waves",
        rule="ring",
        count=5,
        radius=0.56,
        spread=0.2,
        thickness=0.006,
        wander=0.02,
        waves=5,
        flow=0.3,
        finish=glowing(0.55, 0.75, 0.8, 0.5),
        place=Place(position=Vector(x=0.62, y=-0.595, z=-1.4), rotation=Turn(x=90, y=0, z=0)),
    )
    return Shot(
        name="Part three: Slack",
        format=Format(width=1920, height=1080, frames=100),
        things={
            "title": title,
            "ensign": ensign,
            "buoy": buoy,
            "waves": waves,
            "water": still_water(-0.6),
            **lights,
        },
        camera=Camera(
            position=Vector(x=0.3, y=0.36, z=5.0),
            aim=Vector(x=0, y=-0.16, z=0),
            focal_length=56,
            defocus=True,
            f_stop=0.9,
            focus="distance",
        ),
        surroundings=Surroundings(studio="horizon", strength=0.2, rotation=20),
        backdrop=Backdrop(kind="surroundings", blur=2.0),
        optics=Optics(
            bloom=Bloom(amount=0.1, radius=0.2), vignette=Vignette(amount=0.3), grain=Grain(amount=0.05)
        ),
        sounds={"bell": Sound(name="Bell buoy", file=BELL)},
        couplings={
            "/things/waves/thickness": Coupling(
                source="/sounds/bell/heard/level", gain=0.01, offset=0.0025, smoothing=4
            )
        },
        channels={
            "/things/waves/end": keys((4, 0.0), (40, 1.0)),
            "/things/waves/begin": keys((78, 0.0), (99, 1.0), ease=LEAVE),
            "/things/title/path/offset": keys((0, -1.6), (64, 0.0), (82, 0.0), (99, 2.6)),
            "/things/ensign/place/rotation/y": keys((0, -80.0), (70, 0.0)),
            "/camera/position/y": keys((0, -0.1), (99, 0.5)),
            # Focus comes from the bell buoy onto the words.
            "/camera/focus_distance": keys((8, 6.4), (44, 4.7)),
        },
        drifts={
            "/things/buoy/place/rotation/z": Drift(amplitude=5, frequency=0.35),
            "/things/buoy/place/rotation/x": Drift(amplitude=4, frequency=0.3, seed=2),
            "/things/buoy/place/position/y": Drift(amplitude=0.05, frequency=0.3),
        },
    )


def flood() -> Shot:
    """A shell around each letter, the word lifted by a bend and a twist that come to rest."""
    lights = key_fill_rim()
    lights["rim"].intensity = 1.2
    title = Title(
        name="Part title",
        words="FLOOD",
        setting=Setting(typeface="archivo-black", size=0.62, tracking=70),
        outlines=Outlines(hollow=True, width=0.034),
        body=Body(
            depth=0.22, front=Edge(profile="roundover", reach=0.016, rise=0.02), back=Edge(profile="none")
        ),
        shells=[
            Shell(
                offset=-0.036,
                depth=0.12,
                place=0.02,
                front=Edge(profile="ogee", reach=0.02, rise=0.03),
                back=Edge(profile="none"),
                finish=Finish(base_colour=Colour(r=0.02, g=0.16, b=0.2), metallic=0, roughness=0.16),
            )
        ],
        deformations=[
            Deformation(kind="bend", amount=14, axis="x"),
            Deformation(kind="twist", axis="x", amount=0),
        ],
        finish=PRESETS["polished steel"].model_copy(deep=True),
        span=Span(arrival=62, departure=20),
    )
    # Drops that gather into the words and are left when they go.
    drops = Swarm(
        name="Drops",
        grain="drop",
        count=900,
        size=0.022,
        variety=0.8,
        around="title",
        width=4.4,
        height=2.0,
        depth=2.4,
        swirl=0.5,
        flow=0.3,
        stagger=0.6,
        order="from below",
        finish=Finish(base_colour=Colour(r=0.03, g=0.2, b=0.24), metallic=0, roughness=0.06, clearcoat=1.0),
        place=Place(position=Vector(x=0, y=0.3, z=0)),
    )
    return Shot(
        name="Part four: Flood",
        format=Format(width=1920, height=1080, frames=90),
        things={"title": title, "drops": drops, "water": still_water(-0.5), **lights},
        camera=Camera(position=Vector(x=0.7, y=0.42, z=5.3), aim=Vector(x=0, y=0.3, z=0), focal_length=44),
        surroundings=Surroundings(studio="horizon", strength=-0.2, rotation=70),
        backdrop=Backdrop(kind="surroundings", blur=2.0),
        optics=Optics(
            bloom=Bloom(amount=0.12, radius=0.2), vignette=Vignette(amount=0.35), grain=Grain(amount=0.05)
        ),
        channels={
            "/things/drops/gather": keys((0, 0.0), (62, 0.92), (70, 0.92), (89, 0.0)),
            "/things/title/deformations/0/amount": keys((0, -120.0), (56, 14.0), (70, 14.0), (89, 60.0)),
            "/things/title/deformations/1/amount": keys((0, 150.0), (62, 0.0)),
            # The water rises to the words.
            "/things/water/place/position/y": keys((0, -0.75), (62, -0.03)),
            # The flood takes it along, past the camera.
            "/things/title/place/position/z": keys((70, 0.0), (89, 6.4), ease=LEAVE),
            "/things/title/place/position/y": keys((70, 0.0), (89, 0.5), ease=LEAVE),
        },
    )


def still_water(height: float, reach: float = 0.0) -> Floor:
    """Water to the horizon, so high in metres; ``reach`` as of :class:`Floor`."""
    return Floor(
        name="Still water",
        mirror_reach=reach,
        finish=PRESETS["still water"].model_copy(deep=True),
        place=Place(position=Vector(y=height)),
    )


def bring_demo_files(library: Path) -> None:
    """Put what the demo's shots need into a library: the bell buoy and its sound, made by code."""
    write_whole(library / BUOY, packed(buoy_scene(), "glb"))
    write_whole(library / BELL, bell_and_swell())
    bring_quay(library)
    bring_views(library)


def buoy_scene() -> bytes:
    """The bell buoy as GLB: a turned float and a tower of three legs with a bell."""
    profile = np.array(
        [[0.0, 0.0], [0.34, 0.0], [0.46, 0.08], [0.5, 0.16], [0.46, 0.24], [0.2, 0.3], [0.0, 0.3]]
    )
    hull = trimesh.creation.revolve(profile, sections=96)
    bell = trimesh.creation.revolve(
        np.array([[0.0, 0.56], [0.16, 0.56], [0.12, 0.62], [0.09, 0.78], [0.05, 0.86], [0.0, 0.86]]),
        sections=72,
    )
    legs = [
        trimesh.creation.cylinder(
            0.018,
            segment=[[0.34 * np.cos(a), 0.34 * np.sin(a), 0.26], [0.07 * np.cos(a), 0.07 * np.sin(a), 1.05]],
            sections=20,
        )
        for a in np.arange(3) * 2 * np.pi / 3
    ]
    lamp = trimesh.creation.icosphere(subdivisions=4, radius=0.085)
    lamp.apply_translation([0, 0, 1.1])
    scene: Any = trimesh.Scene()
    turn: Any = trimesh.transformations.rotation_matrix
    upright = turn(-np.pi / 2, [1, 0, 0])
    tower: Any = trimesh.util.concatenate([bell, *legs, lamp])
    for name, mesh in (("float", hull), ("tower", tower)):
        mesh.apply_transform(upright)
        scene.add_geometry(
            trimesh.Trimesh(mesh.vertices, mesh.faces, process=False), node_name=name, geom_name=name
        )
    return bytes(scene.export(file_type="glb"))


# The ensign of the Marrow Light: a fork that stands in a bar of water.
FORK = (
    "M0 0.05L0.055 0.42C0.17 0.44 0.26 0.52 0.28 0.66L0.29 0.9L0.38 0.88L0.31 1L0.2 0.92L0.235 0.9L0.22 "
    "0.68C0.21 0.58 0.15 0.52 0.06 0.5"
    "L0.05 0.88L0.12 0.88L0 1.06L-0.12 0.88L-0.05 0.88L-0.06 0.5C-0.15 0.52 -0.21 0.58 -0.22 0.68L-0.235 "
    "0.9L-0.2 0.92L-0.31 1L-0.38 0.88"
    "L-0.29 0.9L-0.28 0.66C-0.26 0.52 -0.17 0.44 -0.055 0.42Z"
)
BAR = (
    "M-0.42 0.16C-0.3 0.26 -0.18 0.26 -0.08 0.18L-0.07 0.27C-0.2 0.35 -0.32 0.33 -0.42 0.26Z"
    "M0.42 0.16C0.3 0.06 0.18 0.06 0.08 0.14L0.07 0.23C0.2 0.15 0.32 0.17 0.42 0.26Z"
)
