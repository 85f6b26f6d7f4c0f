"""The starts there are. Each is named by what it looks like, and nothing in it is locked."""

from __future__ import annotations

from typing import Any

from ..document import (
    Backdrop,
    Body,
    Colour,
    Edge,
    Floor,
    Light,
    Outlines,
    Shot,
    Surroundings,
    Title,
    Turn,
    Vector,
)
from ..document.body import Wire
from ..document.optics import Bloom, Grain, Halation, Optics, Rays, Streak, Veil, Vignette
from ..finish import PRESETS
from .start import Start


def _wear(title: Title, finish: str, **changes: Any) -> None:
    title.finish = PRESETS[finish].model_copy(deep=True, update=changes)


def _floor(shot: Shot, finish: str, **changes: Any) -> None:
    made = Floor(name="Floor", finish=PRESETS[finish].model_copy(deep=True, update=changes))
    shot.things["floor"] = made


def _lights(shot: Shot, **lights: Light) -> None:
    """These lights instead of those there are."""
    for name in list(shot.lights):
        del shot.things[name]
    shot.things.update(lights)


def _panel(name: str, at: tuple[float, float, float], stops: float, **more: Any) -> Light:
    x, y, z = at
    return Light(
        name=name, position=Vector(x=x, y=y, z=z), aim=Vector(x=0, y=0.2, z=0), intensity=stops, **more
    )


def _behind(
    shot: Shot, below: tuple[float, float, float], above: tuple[float, float, float] | None = None
) -> None:
    r, g, b = below
    shot.backdrop = Backdrop(kind="colour", colour=Colour(r=r, g=g, b=b))
    if above is not None:
        red, green, blue = above
        shot.backdrop.kind, shot.backdrop.second = "gradient", Colour(r=red, g=green, b=blue)


def _sun(name: str, at: tuple[float, float, float], stops: float, **more: Any) -> Light:
    x, y, z = at
    return Light(
        name=name, source="sun", position=Vector(x=x, y=y, z=z), aim=Vector(), intensity=stops, **more
    )


def _seen_from(shot: Shot, x: float, y: float, focal: float = 50.0) -> None:
    """The side from which it is seen; how far away follows from the words."""
    shot.camera.position = Vector(x=x, y=y, z=4.0)
    shot.camera.aim = Vector(x=0, y=0.2, z=0)
    shot.camera.focal_length = focal


def _plain(shot: Shot, title: Title) -> None:
    return


def _gold_over_water(shot: Shot, title: Title) -> None:
    _wear(title, "gold", roughness=0.22)
    _floor(shot, "still water")
    shot.lights["fill"].intensity = -2.5
    shot.lights["rim"].reaches, shot.lights["rim"].listed = "all but these", "floor"
    shot.surroundings = Surroundings(studio="horizon", strength=0.3, rotation=150)
    shot.backdrop = Backdrop(kind="surroundings", blur=1.5)
    shot.optics = Optics(
        bloom=Bloom(amount=0.14, radius=0.2), vignette=Vignette(amount=0.3), grain=Grain(amount=0.04)
    )
    _seen_from(shot, -0.7, 0.35, 40)


def _cut_paper(shot: Shot, title: Title) -> None:
    _wear(title, "paper")
    title.body = Body(depth=0.035, front=Edge(profile="none"), back=Edge(profile="none"))
    title.place.position = Vector(x=0, y=0, z=0.09)
    title.place.rotation = Turn()
    _lights(
        shot,
        sun=Light(
            name="Low sun",
            source="sun",
            position=Vector(x=-3, y=2.6, z=3),
            aim=Vector(),
            intensity=0.6,
            kelvin=5200,
        ),
    )
    wall = Floor(name="Paper wall", finish=PRESETS["paper"].model_copy(deep=True))
    wall.place.rotation = Turn(x=90)
    shot.things["wall"] = wall
    shot.surroundings = Surroundings(studio="overcast", strength=-1.2)
    _behind(shot, (0.75, 0.73, 0.69))
    _seen_from(shot, 0.0, 0.2, 60)


def _lit_tubes(shot: Shot, title: Title) -> None:
    _wear(title, "neon rose")
    title.outlines = Outlines(hollow=True, width=0.016)
    title.body = Body(
        depth=0.016,
        front=Edge(profile="roundover", reach=0.007, rise=0.008),
        back=Edge(profile="roundover", reach=0.007, rise=0.008),
    )
    _lights(shot, back=_panel("Back wall light", (1.6, 2.4, -1.8), -3.2, kelvin=9000, colour_by="kelvin"))
    _floor(shot, "wet stone", roughness=0.18)
    shot.surroundings = Surroundings(studio="dark", strength=-1.0)
    _behind(shot, (0.004, 0.006, 0.012), (0.02, 0.014, 0.03))
    shot.optics = Optics(
        bloom=Bloom(amount=0.3, radius=0.3, falloff=0.8),
        halation=Halation(amount=0.15, threshold=1.0),
        grain=Grain(amount=0.05),
    )
    _seen_from(shot, 0.5, 0.3)


def _stone_in_the_sun(shot: Shot, title: Title) -> None:
    _wear(title, "slate")
    title.body = Body(
        depth=0.26, front=Edge(profile="chamfer", reach=0.018, rise=0.018), back=Edge(profile="none")
    )
    _floor(shot, "terracotta", roughness=0.95)
    _lights(
        shot,
        sun=_sun("Afternoon sun", (-4, 2.2, 1.6), 1.6, colour_by="kelvin", kelvin=4400),
    )
    shot.surroundings = Surroundings(source="sky", sun_elevation=26, sun_azimuth=290, strength=-1.0)
    shot.backdrop = Backdrop(kind="surroundings")
    _seen_from(shot, 0.9, 0.7, 45)


def _ice(shot: Shot, title: Title) -> None:
    _wear(title, "frosted glass")
    title.body.depth = 0.22
    cold: dict[str, Any] = {"colour_by": "kelvin", "kelvin": 8200}
    _lights(
        shot,
        back=_panel("Back light", (0.8, 1.9, -2.4), 2.4, width=3.0, height=0.9, **cold),
        front=_panel("Soft front", (-1.8, 1.6, 2.6), -1.2, width=2.4, height=1.6, **cold),
    )
    shot.surroundings = Surroundings(studio="strips", strength=-0.2)
    _behind(shot, (0.03, 0.07, 0.11), (0.1, 0.2, 0.28))
    shot.optics = Optics(bloom=Bloom(amount=0.16, radius=0.2))
    _seen_from(shot, -0.5, 0.25, 60)


def _black_on_black(shot: Shot, title: Title) -> None:
    _wear(title, "piano lacquer")
    _floor(shot, "piano lacquer", roughness=0.3)
    # Lamps are seen in the edges of the letters alone.
    unseen: dict[str, Any] = {"reaches": "all but these", "listed": "floor"}
    tall: dict[str, Any] = {"width": 0.4, "height": 2.4, **unseen}
    _lights(
        shot,
        left=_panel("Left edge", (-2.4, 1.6, -1.2), 3.0, **tall),
        right=_panel("Right edge", (2.4, 1.6, -1.2), 2.4, colour_by="kelvin", kelvin=4200, **tall),
        top=_panel(
            "Top", (0.0, 2.6, 0.6), -0.6, width=3.0, height=0.3, reaches="all but these", listed="floor"
        ),
    )
    shot.surroundings = Surroundings(studio="strips", strength=-0.6)
    _behind(shot, (0.004, 0.004, 0.005))
    shot.optics = Optics(grain=Grain(amount=0.05), vignette=Vignette(amount=0.3))
    _seen_from(shot, 0.4, 0.3, 65)


def _mirror_steel(shot: Shot, title: Title) -> None:
    _wear(title, "chromium")
    title.body = Body(depth=0.2, front=Edge(profile="ogee", reach=0.028, rise=0.03), back=Edge())
    shot.surroundings = Surroundings(studio="strips", strength=0.4, rotation=20)
    _behind(shot, (0.015, 0.02, 0.03), (0.1, 0.12, 0.16))
    shot.optics = Optics(
        streak=Streak(amount=0.5, threshold=2.0, length=0.6), bloom=Bloom(amount=0.1, radius=0.14)
    )
    _seen_from(shot, -0.8, 0.1, 45)


def _painted_wood(shot: Shot, title: Title) -> None:
    _wear(title, "signal lacquer", roughness=0.55, clearcoat=0.1)
    title.body = Body(depth=0.34, front=Edge(profile="roundover", reach=0.024, rise=0.024), back=Edge())
    _floor(shot, "sailcloth")
    key = shot.lights["key"]
    key.colour_by, key.kelvin, key.intensity = "kelvin", 4300, key.intensity - 1.0
    shot.lights["fill"].intensity -= 1.0
    shot.surroundings = Surroundings(studio="warm hall", strength=-1.6)
    _behind(shot, (0.34, 0.28, 0.2), (0.5, 0.42, 0.32))
    _seen_from(shot, -1.1, 0.9, 50)


def _hard_shadow(shot: Shot, title: Title) -> None:
    _wear(title, "satin white")
    title.body = Body(depth=0.12, front=Edge(profile="none"), back=Edge(profile="none"))
    title.place.rotation = Turn()
    title.place.position = Vector(x=0, y=0, z=0.14)
    wall = Floor(name="Wall", finish=PRESETS["chalk"].model_copy(deep=True, update={"roughness": 1.0}))
    wall.finish.base_colour = Colour(r=0.72, g=0.2, b=0.08)
    wall.place.rotation = Turn(x=90)
    shot.things["wall"] = wall
    _lights(
        shot,
        sun=_sun("Hard sun", (-3, 3, 2.2), 1.2, breadth=0.3),
    )
    shot.surroundings = Surroundings(studio="overcast", strength=-2.2)
    _behind(shot, (0.72, 0.2, 0.08))
    _seen_from(shot, 0.0, 0.25, 60)


def _through_haze(shot: Shot, title: Title) -> None:
    _wear(title, "cast iron", roughness=0.6)
    title.body.depth = 0.3
    _lights(
        shot,
        behind=_panel(
            "Behind the words", (0.0, 0.4, -2.6), 3.0, width=1.7, height=0.4, colour_by="kelvin", kelvin=3600
        ),
        edge=_panel("Edge", (-2.6, 2.2, -0.6), 0.0, width=0.6, height=2.0, colour_by="kelvin", kelvin=6500),
    )
    shot.surroundings = Surroundings(studio="dark", strength=-1.4)
    _behind(shot, (0.03, 0.018, 0.012), (0.16, 0.075, 0.03))
    shot.optics = Optics(
        rays=Rays(amount=0.55, light="behind", length=0.7, threshold=0.1, tint=Colour(r=1, g=0.8, b=0.6)),
        bloom=Bloom(amount=0.1, radius=0.2),
        veil=Veil(amount=0.03),
        grain=Grain(amount=0.05),
    )
    _seen_from(shot, 0.0, 0.1, 40)


def _drawn_in_wire(shot: Shot, title: Title) -> None:
    _wear(title, "polished brass")
    title.wire = Wire(edges="between parts", radius=0.006, solid=False)
    title.wire.finish = PRESETS["lamp filament"].model_copy(deep=True)
    title.body = Body(depth=0.24, front=Edge(profile="none"), back=Edge(profile="none"))
    shot.surroundings = Surroundings(studio="softboxes", strength=-1.0)
    _behind(shot, (0.006, 0.01, 0.016), (0.02, 0.03, 0.042))
    shot.optics = Optics(bloom=Bloom(amount=0.2, radius=0.16), grain=Grain(amount=0.03))
    _seen_from(shot, -0.9, 0.6, 45)


def _soft_clay(shot: Shot, title: Title) -> None:
    _wear(title, "wax")
    title.body = Body(
        depth=0.2,
        front=Edge(profile="roundover", reach=0.05, rise=0.05),
        back=Edge(profile="roundover", reach=0.05, rise=0.05),
    )
    _floor(shot, "satin white", roughness=0.8)
    floor = shot.things["floor"]
    assert isinstance(floor, Floor)
    floor.finish.base_colour = Colour(r=0.42, g=0.24, b=0.2)
    for light in shot.lights.values():
        light.intensity -= 1.2
    shot.surroundings = Surroundings(studio="window", strength=-1.4)
    _behind(shot, (0.36, 0.2, 0.17), (0.46, 0.29, 0.25))
    _seen_from(shot, 0.6, 0.8, 55)


def _cold_harbour(shot: Shot, title: Title) -> None:
    _wear(title, "hull black", roughness=0.4)
    _floor(shot, "wet stone")
    shot.surroundings = Surroundings(studio="overcast", strength=-0.2)
    shot.lights["rim"].intensity = 1.6
    _behind(shot, (0.16, 0.2, 0.23), (0.42, 0.48, 0.52))
    shot.optics = Optics(veil=Veil(amount=0.05), vignette=Vignette(amount=0.35), grain=Grain(amount=0.06))
    shot.optics.grade.warmth, shot.optics.grade.saturation = -0.25, 0.8
    _seen_from(shot, -0.6, 0.3, 35)


STARTS = {
    start.name: start
    for start in (
        Start("plain", "as it comes", "Worn brass in soft light: what every new title wears", _plain),
        Start("water", "gold over water", "Gold at dusk, mirrored in still water", _gold_over_water),
        Start("paper", "cut paper", "White paper before white paper, in low sun", _cut_paper),
        Start("tubes", "lit tubes", "Glowing tubes over wet stone, at night", _lit_tubes),
        Start("stone", "stone in the sun", "Slate with a long shadow, under the sky", _stone_in_the_sun),
        Start("ice", "ice", "Frosted glass with light behind it", _ice),
        Start("black", "black on black", "Lacquer that only its edges show", _black_on_black),
        Start("steel", "mirror steel", "Chromium among strips of light", _mirror_steel),
        Start("wood", "painted blocks", "Thick, painted, in a warm hall", _painted_wood),
        Start("shadow", "hard shadow", "White before a wall, the sun high and hard", _hard_shadow),
        Start("haze", "through haze", "Iron before a lamp, rays between the letters", _through_haze),
        Start("wire", "drawn in wire", "Edges of the letters alone, in brass", _drawn_in_wire),
        Start("clay", "soft clay", "Round and waxen, by a window", _soft_clay),
        Start("harbour", "cold harbour", "Black hull, wet stone, a grey morning", _cold_harbour),
    )
}
