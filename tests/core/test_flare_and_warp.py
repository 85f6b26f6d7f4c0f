"""Flare, blur and bending: where they are told to be, and nothing where they are not."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from dreizack.core.document import Camera, Format, Light, Optics, Setting, Shot, Title, Vector
from dreizack.core.optics import Finishing, Passes, Place, scene_light
from dreizack.core.optics.steps.bend import bent, bent_from
from dreizack.core.optics.steps.flare import flared
from dreizack.core.optics.steps.warp import drawn_out
from dreizack.core.render import QUALITIES, Stage, trace
from dreizack.core.scene import BodyStore, bake, exposed
from dreizack.core.scene.baking.optics import numbers_below

PLACE = Place(160, 90)


def values(**of: float) -> dict[str, float]:
    """New optics with some values: ``flare__amount`` is that of the flare."""
    shot = Optics()
    found = {}
    for name in numbers_below(shot):
        at = shot
        for part in name.split("/"):
            at = getattr(at, part)
        found[name] = float(at)  # type: ignore[arg-type]
    return found | {name.replace("__", "/"): value for name, value in of.items()}


def noise(rng: np.random.Generator) -> np.ndarray:
    return rng.uniform(0, 2, (90, 160, 3)).astype(np.float32)


def test_new_optics_leave_a_picture_as_it_is(rng: np.random.Generator) -> None:
    light = noise(rng)
    for step in (flared, drawn_out, bent):
        assert np.array_equal(step(light, values(), PLACE), light)


def test_a_flare_is_brightest_at_its_light_and_its_ghosts_lie_on_the_line_through_the_middle() -> None:
    dark = np.zeros((90, 160, 3), np.float32)
    of = values(flare__amount=1, flare__x=0.25, flare__y=0.3, flare__star=0)
    made = flared(dark, of, PLACE).sum(axis=2)
    assert np.unravel_index(made.argmax(), made.shape) == pytest.approx((27, 40), abs=2)
    ghosts = made - flared(dark, of | {"flare/ghosts": 0}, PLACE).sum(axis=2)
    rows, columns = np.nonzero(ghosts > 1e-4)
    # From the light through the middle: (40, 27) to (80, 45).
    off = np.abs((columns - 80) * (27 - 45) - (rows - 45) * (40 - 80)) / np.hypot(40, 18)
    assert len(rows) > 50 and np.average(off, weights=ghosts[rows, columns]) < 8
    assert ghosts.min() > -1e-5


@pytest.mark.parametrize(("blades", "rays"), [(6, 6), (5, 10)])
def test_stars_have_a_ray_a_blade_or_two(blades: int, rays: int) -> None:
    dark = np.zeros((360, 640, 3), np.float32)
    of = values(flare__amount=1, flare__x=0.5, flare__y=0.5, flare__ghosts=0, flare__star=4, flare__size=0.02)
    made = flared(dark, of | {"flare/blades": blades}, Place(640, 360)).sum(axis=2)
    angle = np.linspace(0, 2 * np.pi, 720, endpoint=False)
    ring = made[(180 + 70 * np.sin(angle)).astype(int), (320 + 70 * np.cos(angle)).astype(int)]
    bright = ring > ring.mean() + 0.25 * (ring.max() - ring.mean())
    assert int((bright & ~np.roll(bright, 1)).sum()) == rays


def test_a_light_is_hidden_by_as_much_as_stands_before_it() -> None:
    shot = Shot(
        format=Format(width=320, height=180, frames=1),
        things={
            "title": Title(words="O", setting=Setting(typeface="archivo-black")),
            "lamp": Light(source="point", position=Vector(x=0, y=0.25, z=-1)),
        },
        camera=Camera(position=Vector(x=0.3, y=0.3, z=2.4), aim=Vector(x=0.2, y=0.25, z=0)),
    )
    shot.optics.flare.light, shot.optics.flare.amount, shot.optics.flare.size = "lamp", 1.0, 0.06
    stage = Stage(BodyStore())
    stage.show(exposed(shot, 0.0))
    alpha = trace(stage, 640, 360, QUALITIES["draft"]).rgba[..., 3]
    rows, columns = np.mgrid[:360, :640] + 0.5
    shares = []
    for x in np.linspace(-0.5, 0.9, 12):
        shot.things["lamp"].position.x = float(x)  # type: ignore[union-attr]
        optics = bake(shot, np.zeros(1)).optics
        at = optics["flare/x"][0] * 640, optics["flare/y"][0] * 360
        disc = np.hypot(columns - at[0], rows - at[1]) < 0.06 * 360
        shares.append((optics["flare/amount"][0], 1 - alpha[disc].mean()))
    found, true = np.array(shares).T
    assert true.min() < 0.3 and true.max() > 0.9, "the light passes behind the letter"
    np.testing.assert_allclose(found, true, atol=0.12)
    # Before the letter it is not hidden, and behind the camera there is none.
    shot.things["lamp"].position = Vector(x=0.0, y=0.25, z=1.0)  # type: ignore[union-attr]
    assert bake(shot, np.zeros(1)).optics["flare/amount"][0] == 1
    shot.things["lamp"].position = Vector(x=0.0, y=0.25, z=9.0)  # type: ignore[union-attr]
    assert bake(shot, np.zeros(1)).optics["flare/amount"][0] == 0


@pytest.mark.parametrize(("angle", "axis"), [(0, 1), (90, 0), (180, 1)])
def test_blur_draws_out_along_its_line_and_keeps_the_light(angle: float, axis: int) -> None:
    point = np.zeros((90, 160, 3), np.float32)
    point[45, 80] = 1
    made = drawn_out(point, values(blur__length=0.4, blur__angle=angle), PLACE)[..., 0]
    assert made.sum() == pytest.approx(1, abs=0.01)
    rows, columns = np.nonzero(made > made.max() / 10)
    extent = (np.ptp(rows), np.ptp(columns))
    assert extent[axis] == pytest.approx(0.4 * 90, abs=4) and extent[1 - axis] <= 2
    middle = np.array([(made * grid).sum() for grid in np.mgrid[:90, :160]])
    np.testing.assert_allclose(middle, [45, 80], atol=0.6)


def test_zoom_and_spin_leave_their_middle_and_go_the_right_way(rng: np.random.Generator) -> None:
    light = np.zeros((90, 160, 3), np.float32)
    light[45, 120] = 1
    zoomed = drawn_out(light, values(blur__zoom=0.2), PLACE)[..., 0]
    spun = drawn_out(light, values(blur__spin=20), PLACE)[..., 0]
    spread = [[np.ptp(axis) for axis in np.nonzero(made > made.max() / 10)] for made in (zoomed, spun)]
    assert spread[0][0] <= 2 and spread[0][1] == pytest.approx(40 * np.log(1.2), abs=3)
    assert spread[1][1] <= 3 and spread[1][0] == pytest.approx(2 * 40 * np.sin(np.radians(10)), abs=3)
    flat = np.full((90, 160, 3), 0.4, np.float32)
    np.testing.assert_allclose(drawn_out(flat, values(blur__zoom=0.3, blur__spin=9), PLACE), flat, atol=1e-5)


def test_bending_ends_at_its_reach_and_turns_its_middle() -> None:
    x, y = (a.astype(np.float32) for a in np.meshgrid(np.linspace(-1, 1, 41), np.linspace(-1, 1, 41)))
    of = values(bend__bulge=0.6, bend__twirl=90, bend__reach=0.5)
    fx, fy = bent_from(x, y, of)
    beyond = np.hypot(x, y) > 0.5
    np.testing.assert_allclose(fx[beyond], x[beyond], atol=1e-6)
    np.testing.assert_allclose(fy[beyond], y[beyond], atol=1e-6)
    near = np.float32(0.004)
    gx, gy = bent_from(np.array([near]), np.zeros(1, np.float32), of)
    # Swollen: what is seen there comes from nearer; turned by a right angle.
    assert abs(float(gx[0])) < 2e-4 and float(gy[0]) == pytest.approx(near * 0.55, rel=0.02)


def test_windows_are_bent_as_the_whole_is(rng: np.random.Generator) -> None:
    light = np.repeat(np.repeat(noise(rng)[::6, ::6], 6, axis=0), 6, axis=1)[:90, :160]
    of = values(bend__ripple=0.02, bend__shimmer=0.01, bend__finest=0.3, bend__flow=0.3)
    whole = bent(np.ascontiguousarray(light), of, PLACE)
    window = replace(PLACE, left=30, top=20)
    part = bent(np.ascontiguousarray(light[20:80, 30:130]), of, window)
    assert np.abs(part[8:-8, 8:-8] - whole[28:72, 38:122]).mean() < 0.02
    assert np.abs(whole - light).mean() > 0.02


def test_all_of_it_traces_nothing_again_and_goes_by_time() -> None:
    shot = Shot(format=Format(frames=50))
    shot.optics.bend.shimmer = 0.01
    flow = bake(shot, np.array([0.0, 25.0, 50.0])).optics["bend/flow"]
    np.testing.assert_allclose(flow, [0, 0.5, 1.0])
    before = exposed(shot, 10.0).traced_key
    shot.optics.blur.length, shot.optics.flare.amount = 0.2, 1.0
    state = exposed(shot, 10.0)
    assert state.traced_key == before and state.optics["blur/length"] == 0.2
    picture = scene_light(
        Passes(np.zeros((9, 16, 4), np.float32)), Finishing(0, "shoulder", np.zeros(3), state.optics)
    )
    assert np.isfinite(picture).all() and picture.max() > 0


@pytest.mark.parametrize(
    "extreme",
    [
        {"flare__size": 0.001, "flare__amount": 8, "flare__x": -2},
        {"flare__amount": 8, "flare__spread": 4, "flare__blades": 16, "flare__ghosts": 4},
        {"blur__length": 2, "blur__zoom": 0.9, "blur__spin": 180},
        {"bend__bulge": -1, "bend__twirl": 3600, "bend__reach": 0.01},
        {"bend__ripple": 0.5, "bend__shimmer": 0.2, "bend__finest": 0.004},
    ],
)
def test_extremes_give_sound_pictures(extreme: dict[str, float], rng: np.random.Generator) -> None:
    light = noise(rng)
    of = values(**extreme)
    for step in (flared, drawn_out, bent):
        made = step(light, of, PLACE)
        assert made.shape == light.shape and np.isfinite(made).all() and made.min() >= 0
