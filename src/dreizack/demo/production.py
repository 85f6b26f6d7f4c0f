"""A fictional documentary about the crew of the car ferry Marrow Light on the Orrisund strait."""

from __future__ import annotations

from ..core.document import (
    Backdrop,
    Body,
    Camera,
    Colour,
    Coupling,
    Edge,
    Finish,
    Floor,
    Format,
    LetterSet,
    Marker,
    Optics,
    Place,
    Setting,
    Shot,
    Sound,
    Span,
    Strand,
    Surface,
    Surroundings,
    Telling,
    Timing,
    Title,
    Vector,
)
from ..core.document.ground import Turn
from ..core.document.optics import Bloom, Glints, Grain, Halation, Streak, Vignette
from ..core.finish import PRESETS
from ..core.light import key_fill_rim
from .bell import STRIKES
from .forms import BELL, ebb, flood, slack
from .keying import LAND, LEAVE, keys
from .on_the_quay import PLATE, on_the_quay
from .quay_words import on_the_wall, over_the_quay

PRODUCTION = "SLACK WATER"


def demo_shots() -> dict[str, Shot]:
    """The demo's shots by file name, in order."""
    return {
        "main-title": main_title(),
        "part-one": part_one(),
        "part-two": ebb(),
        "part-three": slack(),
        "part-four": flood(),
        "lower-third": lower_third(),
        "on-the-quay": on_the_quay(),
        "over-the-quay": over_the_quay(),
        "on-the-wall": on_the_wall(),
    }


def main_title() -> Shot:
    """The words come round over still water at dusk while the camera pulls back and the key sweeps along."""
    lights = key_fill_rim()
    key, fill, rim = lights["key"], lights["fill"], lights["rim"]
    key.position, key.intensity, key.colour_by, key.kelvin = (
        Vector(x=-2.6, y=2.4, z=2.2),
        -0.6,
        "kelvin",
        3800,
    )
    fill.intensity = -3.0
    rim.position, rim.intensity, rim.width = Vector(x=1.2, y=2.4, z=-2.6), 0.2, 3.0
    # Tall pictures show so much water that it would be mirrored there.
    rim.reaches, rim.listed = "all but these", "water"
    gold = PRESETS["gold"].model_copy(deep=True, update={"roughness": 0.2})
    face = {
        **gold.model_dump(exclude={"parts"}),
        "roughness": 0.34,
        "bump": "brushed",
        "bump_size": 0.012,
        "bump_depth": 0.06,
    }
    gold.parts = {"face": Surface.model_validate(face)}
    title = Title(
        name="Main title",
        words="SLACK WATER",
        setting=Setting(typeface="anton", size=0.5, tracking=36),
        body=Body(
            depth=0.2,
            front=Edge(profile="roundover", reach=0.014, rise=0.02),
            back=Edge(profile="chamfer", reach=0.006, rise=0.006),
        ),
        finish=gold,
        sets=[
            LetterSet(
                rule="every",
                step=1,
                hinge="baseline",
                timing=Timing(order="from the ends", length="stays", total=9, ease="ease-in"),
            )
        ],
        span=Span(departure=24),
    )
    return Shot(
        name="Main title",
        format=Format(width=1920, height=1080, frames=120),
        things={
            "title": title,
            "water": Floor(name="Still water", finish=PRESETS["still water"].model_copy(deep=True)),
            **lights,
        },
        camera=Camera(
            position=Vector(x=0.5, y=0.42, z=3.9),
            aim=Vector(x=0, y=0.2, z=0),
            focal_length=38,
            defocus=True,
            f_stop=1.4,
            shutter_angle=180,
        ),
        surroundings=Surroundings(studio="horizon", strength=0.35),
        backdrop=Backdrop(kind="surroundings", blur=1.5, colour=Colour(r=0.006, g=0.009, b=0.012)),
        channels={
            "/camera/position/x": keys((0, -1.1), (119, 0.5)),
            "/camera/position/y": keys((0, 0.16), (119, 0.42)),
            "/camera/position/z": keys((0, 2.3), (72, 4.2), (119, 4.3)),
            "/camera/aim/x": keys((0, -0.5), (90, 0.0)),
            "/things/title/place/rotation/y": keys((0, -34.0), (96, -5.0)),
            "/things/key/position/x": keys((10, -4.2), (104, -1.6)),
            "/things/key/intensity": keys((0, -2.6), (48, -0.2), (119, -0.6)),
            "/surroundings/rotation": keys((0, 140.0), (119, 168.0)),
            # The words go down into the water they stand on.
            "/things/title/sets/0/move/y": keys((96, 0.0), (110, -0.72), ease=LEAVE),
            "/things/title/sets/0/turn/x": keys((96, 0.0), (110, -24.0), ease=LEAVE),
        },
        optics=Optics(
            bloom=Bloom(amount=0.16, radius=0.22),
            glints=Glints(amount=0.3, points=6, angle=20, length=0.07, threshold=2.0),
            streak=Streak(amount=0.5, threshold=2.4, length=0.7, tint=Colour(r=0.9, g=0.75, b=0.5)),
            halation=Halation(amount=0.25, threshold=1.2),
            vignette=Vignette(amount=0.35),
            grain=Grain(amount=0.05),
        ),
        # Each stroke of the bell is a gleam on their edges.
        couplings={
            "/things/rim/intensity": Coupling(
                source="/sounds/bell/heard/high", gain=2.6, offset=-0.2, smoothing=2
            )
        },
        sounds={"bell": Sound(name="Bell buoy", file=BELL)},
        markers=[Marker(frame=round(second * 25), name="bell") for second in STRIKES],
    )


def part_one() -> Shot:
    """A serif of pale gold, a low sun behind and from the left, a slow truck."""
    lights = key_fill_rim()
    lights["key"].tint = Colour(r=1, g=0.72, b=0.46)
    lights["key"].position = Vector(x=-3.4, y=0.9, z=1.7)
    lights["key"].intensity = -0.6
    lights["rim"].intensity = 0.8
    lights["rim"].tint = Colour(r=1, g=0.86, b=0.7)
    lights["fill"].intensity = -3.4
    title = Title(
        name="Part title",
        words="FIRST\nLIGHT",
        setting=Setting(typeface="playfair-display", size=0.46, tracking=10, leading=1.36),
        body=Body(
            depth=0.14,
            front=Edge(profile="chamfer", reach=0.006, rise=0.012),
            back=Edge(profile="none", reach=0, rise=0),
        ),
        finish=Finish(
            base_colour=Colour(r=0.9, g=0.72, b=0.5), metallic=1, roughness=0.3, bump="grain", bump_depth=0.03
        ),
        sets=[
            LetterSet(
                rule="every", step=1, timing=Timing(order="along a direction", length="stays", total=12)
            )
        ],
        span=Span(arrival=44, departure=24),
    )
    # The sun, as rings that are drawn while it comes up.
    sun = Strand(
        name="Sun",
        rule="ring",
        count=4,
        radius=0.5,
        spread=0.07,
        thickness=0.007,
        stagger=0.5,
        wander=0.012,
        waves=6,
        flow=0.2,
        place=Place(position=Vector(x=0.1, y=0.5, z=-0.9), rotation=Turn(x=0, y=0, z=200)),
    )
    return Shot(
        name="Part one: First light",
        format=Format(width=1920, height=1080, frames=100),
        things={"title": title, "sun": sun, **lights},
        camera=Camera(position=Vector(x=-0.8, y=0.7, z=4.1), aim=Vector(x=0.05, y=0.5, z=0), focal_length=48),
        surroundings=Surroundings(studio="dusk", strength=-0.8),
        backdrop=Backdrop(
            kind="gradient", colour=Colour(r=0.13, g=0.042, b=0.014), second=Colour(r=0.005, g=0.013, b=0.036)
        ),
        optics=Optics(
            bloom=Bloom(amount=0.14, radius=0.2),
            glints=Glints(amount=0.22, points=8, angle=12, length=0.05, threshold=1.9),
            streak=Streak(amount=0.3, threshold=2.0, length=0.5, tint=Colour(r=1, g=0.7, b=0.4)),
            vignette=Vignette(amount=0.3),
            grain=Grain(amount=0.06),
        ),
        channels={
            "/camera/position/x": keys((0, -1.5), (99, 0.5)),
            "/things/sun/end": keys((8, 0.0), (66, 1.0)),
            "/things/sun/begin": keys((82, 0.0), (99, 1.0), ease=LEAVE),
            "/things/sun/place/position/y": keys((0, 0.1), (99, 0.85)),
            "/things/title/place/rotation/x": keys((0, -70.0), (44, 0.0)),
            "/things/title/place/position/y": keys((0, -0.9), (44, 0.0)),
            # The sun comes up, wanders on, and leaves the letters in the dark one after the other.
            "/things/key/intensity": keys((0, -4.5), (60, 0.35), (80, 0.35), (99, -6.0)),
            "/things/key/position/y": keys((0, 0.5), (99, 1.5)),
            "/things/title/sets/0/opacity": keys((76, 1.0), (87, 0.0)),
        },
    )


def lower_third() -> Shot:
    """A name and an office, low in the picture: letters turn in one after the other, like shutters."""
    lights = key_fill_rim()
    name = Title(
        name="Name",
        words="MAREN QUILLFEATHER",
        setting=Setting(typeface="barlow-condensed", size=0.16, tracking=30, align="left"),
        body=Body(
            depth=0.05,
            front=Edge(profile="chamfer", reach=0.004, rise=0.005),
            back=Edge(profile="none", reach=0, rise=0),
        ),
        sets=[
            LetterSet(
                rule="every",
                step=1,
                hinge="bottom",
                timing=Timing(order="reading", delay=1.4, ease="ease-out"),
            )
        ],
        span=Span(arrival=40, departure=16),
        finish=Finish(base_colour=Colour(r=0.78, g=0.79, b=0.8), metallic=1, roughness=0.34),
        place=Place(position=Vector(x=-1.35, y=-0.37, z=0), rotation=Turn(x=0, y=8, z=0)),
    )
    office = Title(
        name="Office",
        words="Mate, the Marrow Light\n# years aboard",
        telling=Telling(kind="count"),
        setting=Setting(typeface="barlow-condensed", size=0.095, tracking=20, leading=1.4, align="left"),
        body=Body(
            depth=0.03,
            front=Edge(profile="chamfer", reach=0.002, rise=0.003),
            back=Edge(profile="none", reach=0, rise=0),
        ),
        sets=[LetterSet(rule="every", step=1, hinge="left", timing=Timing(order="reading", delay=0.7))],
        span=Span(arrival=44, departure=14),
        finish=Finish(base_colour=Colour(r=0.78, g=0.57, b=0.24), metallic=1, roughness=0.3),
        place=Place(position=Vector(x=-1.35, y=-0.7, z=0), rotation=Turn(x=0, y=8, z=0)),
    )
    return Shot(
        name="Lower third: mate",
        format=Format(width=1920, height=1080, frames=80),
        things={"name": name, "office": office, **lights},
        camera=Camera(position=Vector(x=0, y=0, z=4.0), aim=Vector(x=0, y=0, z=0), focal_length=46),
        surroundings=Surroundings(studio="overcast", strength=-0.4),
        # What a lower third stands on: the film, here out of focus.
        backdrop=Backdrop(kind="video", video=PLATE, blur=1.0),
        channels={
            "/things/name/sets/0/turn/x": keys((0, -100.0), (18, 0.0)),
            "/things/name/sets/0/move/z": keys((0, 0.3), (18, 0.0)),
            "/things/name/sets/0/scale": keys((0, 0.0), (6, 1.0)),
            "/things/office/sets/0/turn/y": keys((12, -95.0), (30, 0.0)),
            "/things/office/sets/0/scale": keys((12, 0.0), (14, 1.0)),
            "/things/office/telling/value": keys((20, 0.0), (56, 17.0), ease=LAND),
            "/surroundings/rotation": keys((0, -40.0), (79, 40.0)),
            # Both leave to the side they came from.
            "/things/name/place/position/x": keys((66, -1.35), (79, -4.6), ease=LEAVE),
            "/things/office/place/position/x": keys((68, -1.35), (79, -4.2), ease=LEAVE),
        },
    )
