"""Glass over a backdrop, floors that end, slides, falloff, units: against geometry and photometry."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from dreizack.core.document import (
    Backdrop,
    Camera,
    Colour,
    Finish,
    Floor,
    Format,
    Light,
    Setting,
    Sheet,
    Shot,
    Surroundings,
    Title,
    Vector,
)
from dreizack.core.library import shelve
from dreizack.core.light import stops_of
from dreizack.core.render import Stage, Window
from dreizack.core.render.sampling.launch import light_picture
from dreizack.core.scene import BodyStore, bake, exposed

SIZE = (160, 90)
DARK = Surroundings(strength=-16)
FORMAT = Format(width=160, height=90, frames=1)


def light_at(shot: Shot, samples: int = 256) -> np.ndarray:
    stage = Stage(BodyStore())
    stage.show(exposed(shot, 0.0))
    return light_picture(stage, stage.at_moment(0), SIZE, Window(0, 0, *SIZE), samples, 0)


def pane(**finish: float) -> Title:
    """The middle of a very large I of clear glass, half a metre thick, its face at z = 0."""
    glass = Finish(
        base_colour=Colour(r=1, g=1, b=1), metallic=0, roughness=0, transmission=1, ior=1.5, **finish
    )
    title = Title(words="I", setting=Setting(typeface="archivo-black", size=6), finish=glass)
    title.body.front.profile = title.body.back.profile = "none"
    title.body.depth = 0.5
    title.place.position = Vector(x=0, y=-2.2, z=-0.5)
    return title


def test_a_pane_moves_what_is_behind_it_as_refraction_says() -> None:
    """A ray through a pane of thickness t leaves beside itself by t (tan a - tan b), sin a = n sin b
    (Snell)."""
    ramp = Backdrop(kind="gradient", colour=Colour(r=0, g=0, b=0), second=Colour(r=1, g=1, b=1), distance=6)
    eye = 4.0
    shot = Shot(
        format=FORMAT,
        things={"pane": pane()},
        surroundings=DARK,
        backdrop=ramp,
        camera=Camera(position=Vector(z=eye), aim=Vector(), focal_length=40),
    )
    light = light_at(shot)
    half = np.tan(np.radians(shot.camera.vertical_angle(16 / 9)) / 2)
    rows = np.arange(10, 80)
    slope = (1 - (rows + 0.5) * 2 / 90) * half
    inside = np.arcsin(np.sin(np.arctan(slope)) / 1.5)
    straight = slope * 6 - 0.5 * (slope - np.tan(inside))
    seen = light[rows, 78:82, 0].mean(axis=1)
    share = 0.5 + straight / (2 * half * 6)
    # What gets through two faces, seen straight on, with what is mirrored to and fro between them.
    once = ((1.5 - 1) / (1.5 + 1)) ** 2
    through = (1 - once) / (1 + once)
    np.testing.assert_allclose(seen, share * through, atol=0.03)
    # A backdrop of glass is no transparency: nothing shows through twice.
    assert light[45, 80, 3] == pytest.approx(1, abs=1e-3)


def test_what_is_out_of_reach_of_a_floor_fades_from_it() -> None:
    def shown(reach: float) -> float:
        mirror = Finish(base_colour=Colour(r=1, g=1, b=1), metallic=1, roughness=0)
        glow = Sheet(
            width=4, height=4, finish=Finish(base_colour=Colour(r=0, g=0, b=0), metallic=0, emission=1)
        )
        glow.place.position = Vector(y=0, z=-3)
        shot = Shot(
            format=FORMAT,
            things={"floor": Floor(finish=mirror, mirror_reach=reach), "glow": glow},
            surroundings=DARK,
            camera=Camera(position=Vector(y=1, z=0), aim=Vector(y=0, z=-2), focal_length=200),
        )
        return float(light_at(shot)[43:47, 78:82, 0].mean())

    whole = shown(0.0)
    assert whole == pytest.approx(1, rel=0.03)
    # From (0, 0, -2) on to the sheet at z = -3, half a metre up.
    assert shown(0.8) / whole == pytest.approx(np.exp(-np.hypot(1, 0.5) / 0.8), rel=0.06)


def test_a_lamp_that_does_not_reach_a_mirror_is_not_mirrored_there_nor_is_its_back() -> None:
    mirror = Finish(base_colour=Colour(r=1, g=1, b=1), metallic=1, roughness=0)
    black = Finish(base_colour=Colour(r=0, g=0, b=0), metallic=0, ior=1.0, emission=1)
    wall = Sheet(width=4, height=4, finish=black)
    wall.place.position = Vector(z=-3)
    # It hangs where the floor mirrors it, before the wall, and shines away from the camera.
    lamp = Light(source="panel", width=1, height=1, position=Vector(y=0.25, z=-2.5), aim=Vector(y=0.25, z=-9))

    def shown(**told: object) -> float:
        shot = Shot(
            format=FORMAT,
            things={"floor": Floor(finish=mirror), "wall": wall, "lamp": lamp.model_copy(update=told)},
            surroundings=DARK,
            camera=Camera(position=Vector(y=1, z=0), aim=Vector(y=0, z=-2), focal_length=200),
        )
        return float(light_at(shot)[43:47, 78:82, 0].mean())

    assert shown() < 0.02
    alone = shown(mirrored=False)
    assert shown(reaches="all but these", listed="floor") == pytest.approx(alone, rel=0.03)
    assert shown(reaches="only these", listed="wall") == pytest.approx(alone, rel=0.03)
    assert shown(reaches="only these", listed="floor wall") < 0.02


def test_a_floor_goes_over_into_the_backdrop_where_it_ends() -> None:
    floor = Floor(horizon=10)
    shot = Shot(
        format=FORMAT,
        things={"floor": floor},
        camera=Camera(position=Vector(y=50), aim=Vector(y=0), focal_length=60),
    )
    alpha = light_at(shot, 16)[..., 3]
    metre = 90 / (2 * 50 * np.tan(np.radians(shot.camera.vertical_angle(16 / 9)) / 2))
    away = np.abs(np.arange(160) + 0.5 - 80) / metre
    share = np.clip((away / 10 - 0.3) / 0.7, 0, 1)
    np.testing.assert_allclose(alpha[45], 1 - share * share * (3 - 2 * share), atol=0.04)


def card_under(light: Light, away: float) -> float:
    """Value of a small white card at the origin, seen from the side, with a light so far above."""
    card = Sheet(
        width=0.4,
        height=0.4,
        finish=Finish(base_colour=Colour(r=1, g=1, b=1), metallic=0, roughness=1, ior=1.0),
    )
    shot = Shot(
        format=FORMAT,
        things={
            "card": card,
            "light": light.model_copy(update={"position": Vector(z=away), "aim": Vector()}),
        },
        surroundings=DARK,
        camera=Camera(position=Vector(x=0.5, z=3), aim=Vector(), focal_length=400),
    )
    return float(light_at(shot)[40:50, 70:90, 1].mean())


def test_light_weakens_as_its_falloff_says() -> None:
    for falloff, rest in (("inverse square", 0.25), ("inverse", 0.5), ("none", 1.0)):
        light = Light(source="disc", size=0.2, falloff=falloff)  # type: ignore[arg-type]
        assert card_under(light, 6) / card_under(light, 3) == pytest.approx(rest, rel=0.02)
        assert card_under(light, 3) == pytest.approx(card_under(Light(source="disc", size=0.2), 3), rel=0.01)


def test_physical_units_give_the_light_they_say() -> None:
    # 9000 cd three metres away are 1000 lux, which make a white card 1.
    for light in (
        Light(source="disc", size=0.1, measured_in="candela", amount=9000),
        Light(source="point", size=0.1, measured_in="lumen", amount=4 * np.pi * 9000),
        Light(source="disc", size=0.1, measured_in="lumen", amount=np.pi * 9000),
        Light(source="spot", size=0.05, measured_in="lux", amount=1000),
        Light(source="sun", measured_in="lux", amount=1000),
    ):
        assert card_under(light, 3) == pytest.approx(
            card_under(Light(source=light.source, size=light.size), 3), rel=0.01
        )
    assert card_under(Light(source="disc", size=0.1, measured_in="lux", amount=500), 3) == pytest.approx(
        0.5, rel=0.15
    )


def test_lumens_of_a_spot_are_its_intensity_over_all_directions() -> None:
    cone, penumbra = np.array([60.0]), np.array([0.4])
    stops = stops_of("spot", "lumen", np.array([5000.0]), cone, penumbra)
    ends, full = np.cos(np.radians(30)), np.cos(np.radians(30 * 0.6))
    cosine = np.linspace(ends, 1, 200_001)
    share = np.clip((cosine - ends) / (full - ends), 0, 1)
    flux = 9000 * 2.0 ** stops[0] * 2 * np.pi * np.trapezoid(share**2 * (3 - 2 * share), cosine)
    assert flux == pytest.approx(5000, rel=1e-3)


def test_a_slide_is_thrown_the_right_way_round(tmp_path: object) -> None:
    slide = np.zeros((64, 64, 3), np.uint8)
    slide[:, 32:] = 255
    slide[:32] = (0, 0, 255)
    cv2.imwrite(f"{tmp_path}/slide.png", slide)
    shelve(tmp_path)  # type: ignore[arg-type]
    wall = Sheet(width=6, height=6, finish=Finish(base_colour=Colour(r=1, g=1, b=1), metallic=0, roughness=1))
    shot = Shot(
        format=FORMAT,
        surroundings=DARK,
        camera=Camera(position=Vector(z=5), aim=Vector(), focal_length=60),
        things={
            "wall": wall,
            "spot": Light(
                source="spot",
                cone=60,
                penumbra=0.1,
                size=0.01,
                slide="slide.png",
                position=Vector(z=3),
                aim=Vector(),
            ),
        },
    )
    light = light_at(shot, 64)[..., :3]
    above, right, left = (
        light[30:40, 60:100].mean(axis=(0, 1)),
        light[50:60, 90:100].mean(axis=(0, 1)),
        light[50:60, 60:70].mean(axis=(0, 1)),
    )
    assert above[0] > 10 * above[1]
    assert right.min() > 0.2
    assert left.max() < 0.02


def test_a_light_follows_the_thing_it_aims_at(shot: Shot) -> None:
    shot.things["key"].aim_at = "title"
    shot.things["title"].place.position = Vector(x=2, y=1, z=-1)
    aim = bake(shot, np.zeros(1)).lights["key"].aim[0]
    assert aim[0] == pytest.approx(2) and aim[2] == pytest.approx(-1) and 1 < aim[1] < 2


def test_a_picture_on_the_plate_fills_the_frame_whatever_it_lies_on(tmp_path: object) -> None:
    ramp = np.tile(np.linspace(0, 255, 320).astype(np.uint8)[None, :, None], (180, 1, 3))
    cv2.imwrite(f"{tmp_path}/ramp.png", ramp)
    shelve(tmp_path)  # type: ignore[arg-type]
    glow = Finish(base_colour=Colour(r=0, g=0, b=0), metallic=0, emission=1)
    glow.picture.fill, glow.picture.file, glow.picture.channel, glow.picture.space = (
        "picture",
        "ramp.png",
        "emission",
        "plate",
    )
    leaning = Sheet(width=9, height=9, finish=glow)
    leaning.place.rotation.y = 55
    shot = Shot(
        format=FORMAT,
        things={"sheet": leaning},
        surroundings=DARK,
        camera=Camera(position=Vector(x=0.4, z=6), aim=Vector(), focal_length=50),
    )
    row = light_at(shot, 16)[45, :, 1]
    seen = row > 0
    codes = np.clip(np.linspace(0, 255, 320), 0, 255)[1::2] / 255
    linear = np.where(codes <= 0.04045, codes / 12.92, ((codes + 0.055) / 1.055) ** 2.4)
    assert seen[30:130].all()
    np.testing.assert_allclose(row[30:130], linear[30:130], atol=0.02)
    glow.picture.angle = 180
    np.testing.assert_allclose(light_at(shot, 16)[45, 30:130, 1], linear[::-1][30:130], atol=0.02)
    # A quarter turn: as wide as the frame is, its middle part runs from bottom to top.
    glow.picture.angle = 90
    column = light_at(shot, 16)[10:80, 80, 1]
    np.testing.assert_allclose(
        column,
        np.interp(0.5 + (44.5 - np.arange(10, 80)) / 160, (np.arange(160) + 0.5) / 160, linear),
        atol=0.02,
    )
