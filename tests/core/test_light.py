"""Lights against the formulas they follow: irradiance, cones, penumbrae, the sun's place, colour
temperature."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import Colour, Finish, Floor, Light, Sheet, Shot, Vector, Visibility
from dreizack.core.light import (
    blurred,
    kelvin_tint,
    looked_up,
    panorama,
    sun_angles,
    sun_direction,
    sun_level,
)
from dreizack.core.light.sky import sky_picture
from dreizack.core.render import Stage
from dreizack.core.render.kernel.engine import engine
from dreizack.core.render.sampling.launch import light_picture
from dreizack.core.render.transport.lens import Window
from dreizack.core.scene import BodyStore, bake, frame_state

from .test_render import card, traced

WHITE = Finish(base_colour=Colour(r=1, g=1, b=1), metallic=0, roughness=1)


def lit_by(light: Light, samples: int = 256) -> float:
    """Value of a white card at the origin that faces the camera."""
    shot = card()
    shot.things["light"] = light
    return float(traced(shot, samples)[42:48, 77:83, :3].mean())


def at(x: float, y: float, z: float) -> Vector:
    return Vector(x=x, y=y, z=z)


@pytest.mark.parametrize("source", ["panel", "disc", "spot", "point"])
def test_all_sources_at_three_metres_give_a_card_the_same(source: str) -> None:
    light = Light(
        source=source, width=0.06, height=0.06, size=0.06, cone=60, position=at(0, 0, 3), aim=at(0, 0, 0)
    )
    # The finish is Burley's diffuse lobe, which is not exactly Lambert's; it is the same for all.
    panel = lit_by(Light(width=0.06, height=0.06, position=at(0, 0, 3), aim=at(0, 0, 0)))
    assert lit_by(light) == pytest.approx(panel, rel=0.005)


def test_sun_and_ambient_light_give_a_card_one_wherever_it_is() -> None:
    sun = lit_by(Light(source="sun", position=at(0, 0, 1), aim=at(0, 0, 0)))
    panel = lit_by(Light(width=0.06, height=0.06, position=at(0, 0, 3), aim=at(0, 0, 0)))
    assert sun == pytest.approx(panel, rel=0.005)
    assert lit_by(Light(source="ambient")) == pytest.approx(1.0, rel=0.06)


@pytest.mark.parametrize(("width", "distance"), [(0.5, 1.0), (2.0, 1.5), (4.0, 2.0)])
def test_a_large_panel_gives_its_analytic_irradiance(width: float, distance: float) -> None:
    """Irradiance of a square facing a point on its axis: configuration factor C-11 of Howell's catalogue,
    four times."""
    a = width / 2 / distance
    factor = 4 / (2 * np.pi) * 2 * (a / np.sqrt(1 + a * a)) * np.arctan(a / np.sqrt(1 + a * a))
    radiance = 9 * np.pi / width**2
    # The renderer's own diffuse surface, so that the light is measured, not the finish.
    shot = card()
    shot.things["light"] = Light(width=width, height=width, position=at(0, 0, distance), aim=at(0, 0, 0))
    stage = Stage(BodyStore())
    stage.show(frame_state(shot, bake(shot, np.zeros(1)), 0))
    mi = engine()
    for shape in stage.scene.shapes():
        if shape.id().startswith("title"):
            shape.set_bsdf(mi.load_dict({"type": "diffuse", "reflectance": {"type": "rgb", "value": 1.0}}))
    stage.only({"surroundings": 0.0})
    assert stage.state is not None
    found = light_picture(stage, stage.state, (160, 90), Window(78, 43, 4, 4), 4096, 0)
    # The card's face lies a little behind the origin.
    assert found[..., :3].mean() == pytest.approx(radiance * factor, rel=0.005)


def test_a_spot_ends_where_its_cone_does() -> None:
    shot = Shot(
        things={
            "floor": Floor(finish=WHITE),
            "spot": Light(
                source="spot", cone=40, penumbra=0.0, size=0.01, position=at(0, 4, 0.001), aim=at(0, 0, 0)
            ),
        }
    )
    shot.format.width, shot.format.height = 160, 90
    shot.camera.position, shot.camera.aim, shot.camera.focal_length = at(0, 8, 0.01), at(0, 0, 0), 60
    shot.surroundings.studio, shot.surroundings.strength = "dark", -16
    picture = traced(shot, 64, (320, 180))[..., 1]
    lit = (picture > picture.max() / 2).sum()
    # Pixels a metre on the floor.
    metre = 180 / (2 * 8 * np.tan(np.radians(shot.camera.vertical_angle(16 / 9)) / 2))
    radius = np.sqrt(lit / np.pi) / metre
    assert radius == pytest.approx(4 * np.tan(np.radians(20)), rel=0.02)


def test_the_penumbra_of_a_disc_is_as_wide_as_geometry_says() -> None:
    """Behind a straight edge at height h, a light of width w at height H blurs the shadow over w h / (H -
    h)."""
    shot = Shot(
        things={
            "floor": Floor(finish=WHITE),
            "edge": Sheet(
                width=40,
                height=40,
                thickness=0.001,
                visibility=Visibility(camera=False),
                finish=Finish(base_colour=Colour(r=0, g=0, b=0), metallic=0, roughness=1, ior=1.0),
            ),
            "light": Light(source="panel", width=2.0, height=1.0, position=at(0, 6, 0), aim=at(0, 0, 0)),
        }
    )
    shot.things["edge"].place.position, shot.things["edge"].place.rotation.x = at(20, 2, 0), -90  # type: ignore[union-attr]
    shot.camera.position, shot.camera.aim, shot.camera.focal_length = at(0, 9, 0.001), at(0, 0, 0), 60
    shot.surroundings.studio, shot.surroundings.strength = "dark", -16
    rows = traced(shot, 256, (320, 180))[80:100, :, 1].mean(axis=0)
    metre = 320 / (2 * 9 * np.tan(np.radians(shot.camera.vertical_angle(16 / 9)) / 2) * 16 / 9)
    place = (np.arange(320) + 0.5 - 160) / metre
    width = 2.0 * 2 / 4
    share = rows / rows[100:135].max()
    # Where the edge is passed by a tenth and by nine tenths of the light: four fifths of the penumbra apart.
    low, high = np.interp([-0.9, -0.1], -share[130:], place[130:])
    assert high - low == pytest.approx(0.8 * width, rel=0.06)


def test_kelvin_is_white_at_daylight_red_below_blue_above() -> None:
    colours = kelvin_tint(np.array([1900.0, 3200.0, 6504.0, 12000.0]))
    np.testing.assert_allclose(colours @ [0.2126, 0.7152, 0.0722], 1, rtol=1e-6)
    ratio = colours[:, 0] / np.maximum(colours[:, 2], 1e-6)
    assert np.all(np.diff(ratio) < 0)
    # The locus passes close to D65 (CIE 15:2018).
    np.testing.assert_allclose(colours[2], [1, 1, 1], atol=0.05)


@pytest.mark.parametrize(
    ("place", "day", "hour", "elevation"),
    [
        ((0.0, 0.0), 80, 12.12, 90.0),
        ((51.5, 0.0), 172, 12.03, 61.9),
        ((51.5, 0.0), 355, 11.97, 15.1),
        ((-33.9, 151.2), 355, 1.9, 79.5),
    ],
)
def test_the_sun_stands_where_the_almanac_says(
    place: tuple[float, float], day: int, hour: float, elevation: float
) -> None:
    found, _ = sun_angles(*place, float(day), np.array([hour]))
    assert found[0] == pytest.approx(elevation, abs=0.6)


def test_the_sun_rises_in_the_east_and_sets_in_the_west() -> None:
    elevation, azimuth = sun_angles(50.0, 0.0, 80.0, np.array([6.2, 18.0]))
    assert np.all(np.abs(elevation) < 3)
    assert azimuth[0] == pytest.approx(90, abs=4) and azimuth[1] == pytest.approx(270, abs=4)
    east, west = sun_direction(np.zeros(2), azimuth)
    assert east[0] > 0.99 and west[0] < -0.99


def test_a_low_sun_is_redder_and_weaker() -> None:
    levels = sun_level(np.array([-3.0, 3.0, 20.0, 80.0]), 3.0)
    assert levels[0].max() == 0
    assert np.all(np.diff(levels[1:], axis=0) > 0)
    assert levels[1, 0] / levels[1, 2] > 3 * levels[3, 0] / levels[3, 2]


@given(st.floats(-4, 89), st.floats(0, 360), st.floats(1.8, 10))
def test_every_sky_is_finite_light(elevation: float, azimuth: float, haze: float) -> None:
    sky = sky_picture(elevation, azimuth, haze, 32)
    assert np.isfinite(sky).all() and sky.min() >= 0 and sky.max() < 200


@pytest.mark.parametrize("angle", [0.5, 5.0, 30.0])
def test_blur_keeps_light_and_makes_no_steps(angle: float) -> None:
    picture = panorama("ring")
    soft = blurred(picture, angle)
    rows = np.sin((np.arange(len(picture)) + 0.5) * np.pi / len(picture))[:, None, None]
    assert (soft * rows).sum() == pytest.approx((picture * rows).sum(), rel=0.12)
    assert np.abs(np.diff(soft, axis=0)).max() <= np.abs(np.diff(picture, axis=0)).max()
    if angle > 4:
        assert np.abs(np.diff(soft, n=2, axis=1)).max() < 0.1


def test_panoramas_are_looked_up_where_their_pixels_are() -> None:
    picture = np.random.default_rng(3).random((16, 32, 3)).astype(np.float32)
    elevation = np.radians(90 - (np.arange(16) + 0.5) * 180 / 16)[:, None]
    turn = (np.arange(32) + 0.5) * 2 * np.pi / 32
    direction = np.stack(
        [
            np.cos(elevation) * np.sin(turn),
            np.sin(elevation) * np.ones(32),
            -np.cos(elevation) * np.cos(turn),
        ],
        axis=-1,
    )
    np.testing.assert_allclose(looked_up(picture, direction), picture, atol=1e-5)
