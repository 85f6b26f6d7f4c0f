"""Air that takes light and lights up: against the integral along a ray."""

from __future__ import annotations

import numpy as np
import pytest

from dreizack.core.document import Camera, Colour, Finish, Format, Light, Sheet, Shot, Surroundings, Vector
from dreizack.core.document.air import Air
from dreizack.core.render import Stage, Window
from dreizack.core.render.sampling.launch import feature_samples, light_picture
from dreizack.core.scene import BodyStore, exposed

SIZE = (64, 36)
FORMAT = Format(width=64, height=36, frames=1)
BLACK = Colour(r=0, g=0, b=0)


def shot_with(air: Air, **things: Light | Sheet) -> Shot:
    return Shot(
        format=FORMAT,
        things=things,
        surroundings=Surroundings(strength=-16, air=air),
        camera=Camera(position=Vector(z=4), aim=Vector(), focal_length=85),
    )


def staged(shot: Shot) -> tuple[Stage, object]:
    stage = Stage(BodyStore())
    stage.show(exposed(shot, 0.0))
    return stage, stage.at_moment(0)


def light_of(shot: Shot, samples: int = 256) -> np.ndarray:
    stage, moment = staged(shot)
    return light_picture(stage, moment, SIZE, Window(0, 0, *SIZE), samples, 0)  # type: ignore[arg-type]


def glowing(z: float) -> Sheet:
    sheet = Sheet(width=9, height=9, finish=Finish(base_colour=BLACK, metallic=0, emission=1))
    sheet.place.position = Vector(y=-4.5, z=z)
    return sheet


@pytest.mark.parametrize(("density", "z"), [(0.1, 0.0), (0.4, -3.0), (2.0, 1.0)])
def test_what_is_seen_fades_as_the_way_through_the_air_says(density: float, z: float) -> None:
    """Bouguer, Lambert and Beer; air without colour sends nothing back."""
    air = Air(density=density, tint=BLACK)
    clear = light_of(shot_with(Air(), sheet=glowing(z)))[18, 32]
    seen = light_of(shot_with(air, sheet=glowing(z)))[18, 32]
    away = 4 - z - 0.001
    np.testing.assert_allclose(seen[:3] / clear[:3], np.exp(-density * away), rtol=0.02)
    assert seen[3] == pytest.approx(1, abs=1e-4)


def test_even_light_from_everywhere_fills_the_air() -> None:
    """Of it the air sends back what it takes, whichever way it scatters."""
    tint, reach = Colour(r=1, g=0.5, b=0.25), 8.0
    for forward in (0.0, 0.7, -0.5):
        air = Air(density=0.15, tint=tint, forward=forward, reach=reach)
        shot = shot_with(air, all=Light(source="ambient", intensity=-2))
        there = exposed(shot, 0.0).lights["all"].radiance
        found = light_of(shot, 64)[18, 32]
        met = 1 - np.exp(-0.15 * reach)
        np.testing.assert_allclose(found[:3], met * there * [1, 0.5, 0.25], rtol=0.02)
        assert found[3] == pytest.approx(met, abs=1e-4)


@pytest.mark.parametrize("forward", [0.0, 0.6, -0.4])
@pytest.mark.parametrize("density", [0.05, 0.6])
def test_a_lamp_beside_the_way_lights_the_air_as_the_integral_says(density: float, forward: float) -> None:
    lamp = Light(source="panel", width=0.08, height=0.08, intensity=2, position=Vector(x=1.5, z=1))
    lamp.aim = Vector(x=0, z=1)
    air = Air(density=density, forward=forward, reach=9)
    shot = shot_with(air, lamp=lamp)
    state = exposed(shot, 0.0).lights["lamp"]
    area = 4 * np.linalg.norm(state.matrix[:3, 0]) * np.linalg.norm(state.matrix[:3, 1])
    # Along the middle of the picture, from z = 4 on.
    t = np.linspace(0, 9, 200_001)
    x, z = 1.5, (4 - t) - 1
    square = x**2 + z**2
    # From the lamp to the air and on to the camera, which is at +z.
    cosine = z / np.sqrt(square)
    scattered = (1 - forward**2) / (4 * np.pi * (1 + forward**2 - 2 * forward * cosine) ** 1.5)
    faces = x / np.sqrt(square)
    brought = area * faces / square * scattered * density * np.exp(-density * t)
    expected = np.trapezoid(brought, t) * state.radiance
    pixels = light_of(shot, 1024)[16:20, 30:34, :3].mean(axis=(0, 1))
    np.testing.assert_allclose(pixels, expected, rtol=0.01)


def test_what_stands_in_the_light_throws_a_shadow_into_the_air() -> None:
    lamp = Light(source="panel", width=0.3, height=0.3, intensity=2, position=Vector(y=6), aim=Vector())
    air = Air(density=0.1, reach=9)
    plate = Sheet(width=3, height=3, finish=Finish(base_colour=BLACK))
    plate.place.position = Vector(y=2, z=-1.5)
    plate.place.rotation.x = 90
    lit = light_of(shot_with(air, lamp=lamp))[18, 32, :3].mean()
    # It is above what the camera sees.
    shaded = light_of(shot_with(air, lamp=lamp, plate=plate))[18, 32, :3].mean()
    assert shaded < 0.75 * lit


def test_footage_keeps_its_own_air() -> None:
    air = Air(density=0.3, reach=9, over=False)
    things = {"sheet": glowing(0.0), "all": Light(source="ambient", intensity=0)}
    things["sheet"].width = 0.4  # type: ignore[union-attr]
    found = light_of(shot_with(air, **things), 64)
    np.testing.assert_array_equal(found[:, :8], 0)
    assert found[18, 32, 3] == pytest.approx(1, abs=1e-4)
    # What guides the denoiser says the same of the whole picture.
    for over in (False, True):
        shot = shot_with(air.model_copy(update={"over": over}), **things)
        stage, moment = staged(shot)
        window = Window(0, 0, *SIZE)
        covered = feature_samples(stage, moment, SIZE, window.pixels(SIZE[0]), 4, 0)[:, 6]  # type: ignore[arg-type]
        np.testing.assert_allclose(covered.reshape(36, 64)[:, :8], light_of(shot, 4)[:, :8, 3], atol=1e-5)


def test_clear_air_costs_and_changes_nothing() -> None:
    shot = shot_with(Air(), sheet=glowing(0.0))
    stage, _ = staged(shot)
    assert stage.tables is not None and not stage.tables.kinds.air
    assert exposed(shot, 0.0).air is None
