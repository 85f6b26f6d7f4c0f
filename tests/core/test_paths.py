"""Tracing against brute force and against what physics demands: energy, samples, lens, shutter, switches."""

from __future__ import annotations

import numpy as np
import pytest

from dreizack.core.document import (
    Camera,
    Channel,
    Colour,
    Finish,
    Floor,
    Format,
    Key,
    Light,
    Reveal,
    Setting,
    Sheet,
    Shot,
    Surface,
    Surroundings,
    Title,
    Vector,
    Visibility,
)
from dreizack.core.render import Quality, Stage, trace
from dreizack.core.render.kernel.engine import arrays, engine
from dreizack.core.render.transport.sampler import Sampler, mixed
from dreizack.core.scene import BodyStore, bake, exposed, frame_state

from ..conftest import plain_title
from .test_render import SIZE, light_of, stage_of, traced

mi, dr = engine(), arrays()


def sequence(count: int, seed: int = 5) -> tuple[np.ndarray, np.ndarray]:
    chance = Sampler(mixed(dr.full(mi.UInt32, seed, count)), dr.arange(mi.UInt32, count))
    return np.array(chance.one()), np.array(chance.two()).T


@pytest.mark.parametrize("count", [16, 64, 256])
def test_samples_are_stratified_in_both_dimensions(count: int) -> None:
    one, two = sequence(count)
    assert sorted((one * count).astype(int).tolist()) == list(range(count))
    root = int(np.sqrt(count))
    assert len({(int(x * root), int(y * root)) for x, y in two}) == count
    for axis in (0, 1):
        assert sorted((two[:, axis] * count).astype(int).tolist()) == list(range(count))


def test_pixels_and_dimensions_know_nothing_of_each_other() -> None:
    (a, p), (b, q) = sequence(1024, 1), sequence(1024, 2)
    for x, y in ((a, b), (p[:, 0], p[:, 1]), (p[:, 0], q[:, 0]), (a, p[:, 0])):
        assert abs(np.corrcoef(x, y)[0, 1]) < 0.12


def in_white(title: Title, samples: int, monkeypatch: pytest.MonkeyPatch) -> float:
    monkeypatch.setattr(
        "dreizack.core.render.staging.stage.around_picture", lambda _: np.ones((256, 512, 3), np.float32)
    )
    shot = Shot(
        format=Format(width=160, height=90, frames=1),
        surroundings=Surroundings(studio="overcast", strength=0),
        things={"title": title},
        camera=Camera(position=Vector(x=0.3, y=0.3, z=1.4), aim=Vector(x=0, y=0.25, z=0)),
    )
    rgba = traced(shot, samples)
    inside = rgba[rgba[..., 3] > 0.999][:, :3]
    assert len(inside) > 500
    return float(inside.mean())


@pytest.mark.parametrize("title", [plain_title("S"), Title(words="S")], ids=["plain", "with bevels"])
def test_furnace(title: Title, monkeypatch: pytest.MonkeyPatch) -> None:
    """A body that takes no light, in surroundings that are 1 everywhere, cannot be seen."""
    title.finish = Finish(base_colour=Colour(r=1, g=1, b=1), metallic=1, roughness=0.03)
    assert in_white(title, 256, monkeypatch) == pytest.approx(1, abs=0.002)


def test_light_agrees_with_the_renderers_own_integrator(shot: Shot) -> None:
    """Same scene, same samples, no denoising: the mean of every channel, and of every block of pixels."""
    stage = stage_of(shot)
    mi_sensor = mi.load_dict(
        {
            "type": "perspective",
            "fov": 40.0,
            "near_clip": 0.01,
            "far_clip": 1e4,
            "sampler": {"type": "independent"},
            "film": {
                "type": "hdrfilm",
                "width": SIZE[0],
                "height": SIZE[1],
                "rfilter": {"type": "box"},
                "pixel_format": "rgba",
            },
        }
    )
    state = stage.state
    assert state is not None
    params = mi.traverse(mi_sensor)
    _, up, forward = state.pose.axes
    params["to_world"] = mi.ScalarTransform4f().look_at(
        origin=state.pose.position.tolist(), target=(state.pose.position + forward).tolist(), up=up.tolist()
    )
    half = np.tan(np.radians(state.pose.angle / 2)) * SIZE[0] / SIZE[1]
    params["x_fov"] = float(np.degrees(2 * np.arctan(half)))
    params.update()
    mine = light_of(stage, SIZE, 512)
    # Its surroundings carry their strength themselves.
    scene = mi.traverse(stage.scene)
    scene["surroundings.scale"] = state.surroundings_strength
    scene.update()
    path = mi.load_dict({"type": "path", "max_depth": 16, "rr_depth": 99, "hide_emitters": True})
    theirs = np.array(mi.render(stage.scene, sensor=mi_sensor, integrator=path, spp=1024, seed=3))
    np.testing.assert_allclose(mine.mean(axis=(0, 1)), theirs.mean(axis=(0, 1)), rtol=0.005)
    # Blocks on thin bright edges stay noisy whatever one does; those on faces do not.
    blocks = [a[:, :, :3].reshape(9, 10, 16, 10, 3).mean(axis=(1, 3, 4)) for a in (mine, theirs)]
    bright = blocks[1] > 0.1
    assert bright.sum() > 20
    np.testing.assert_allclose(blocks[0][bright], blocks[1][bright], rtol=0.04)


def test_single_lights_add_up_to_all_of_them(shot: Shot) -> None:
    stage = stage_of(shot)

    def raw() -> np.ndarray:
        return light_of(stage, SIZE, 64)[..., :3]

    whole = raw()
    names = ["surroundings", *shot.lights]
    total = np.zeros_like(whole)
    for name in names:
        stage.only({other: float(other == name) for other in names})
        total += raw()
    stage.only({})
    # The very same paths: only what each light sends differs.
    np.testing.assert_allclose(total, whole, rtol=2e-3, atol=2e-4)


def floor_and_sheet(**light: object) -> Shot:
    """A sheet above a floor, a spot straight above: the floor's middle is in shadow."""
    # It takes no light, so that none goes round it.
    sheet = Sheet(
        width=1, height=1, finish=Finish(base_colour=Colour(r=0, g=0, b=0), metallic=0, roughness=1, ior=1.0)
    )
    sheet.place.position, sheet.place.rotation.x = Vector(x=0, y=1, z=0), -90
    return Shot(
        format=Format(width=160, height=90, frames=1),
        things={
            "floor": Floor(finish=Finish(base_colour=Colour(r=0.5, g=0.5, b=0.5), metallic=0, roughness=1)),
            "sheet": sheet,
            "spot": Light(
                source="spot",
                cone=90,
                size=0.05,
                position=Vector(x=0, y=4, z=0.01),
                aim=Vector(x=0, y=0, z=0),
                **light,
            ),
        },
        camera=Camera(position=Vector(x=0, y=0.5, z=6), aim=Vector(x=0, y=0, z=0), focal_length=60),
        surroundings=Surroundings(studio="dark", strength=-16),
    )


def middle(shot: Shot) -> float:
    return float(traced(shot, 64)[43:46, 76:84, 1].mean())


def test_shadows_and_the_switches_that_take_them_away() -> None:
    dark, bare = floor_and_sheet(), floor_and_sheet()
    del bare.things["sheet"]
    lit = middle(bare)
    assert middle(dark) < 0.02 * lit
    casts_not = floor_and_sheet()
    casts_not.things["sheet"].visibility = Visibility(casts=False)  # type: ignore[union-attr]
    assert middle(casts_not) == pytest.approx(lit, rel=0.04)
    receives_not = floor_and_sheet()
    receives_not.things["floor"].visibility = Visibility(receives=False)  # type: ignore[union-attr]
    assert middle(receives_not) == pytest.approx(lit, rel=0.04)
    half = floor_and_sheet(shadow_density=0.5)
    assert middle(half) == pytest.approx(lit / 2, rel=0.04)
    tinted = floor_and_sheet(shadow_colour=Colour(r=0, g=0.25, b=0))
    assert middle(tinted) == pytest.approx(lit / 4, rel=0.04)


def test_a_light_reaches_only_what_it_is_told_to() -> None:
    lit = floor_and_sheet(reaches="only these", listed="floor")
    del lit.things["sheet"]
    dark = lit.model_copy(deep=True)
    dark.things["spot"].reaches = "all but these"  # type: ignore[union-attr]
    assert middle(lit) > 0.05
    assert middle(dark) < 1e-3


def test_what_glows_is_seen_whatever_lights_are_told_to_reach() -> None:
    alike = floor_and_sheet()
    alike.things["floor"].finish.emission = 3  # type: ignore[union-attr]
    told = alike.model_copy(deep=True)
    told.things["spot"].reaches = "all but these"  # type: ignore[union-attr]
    for shot in (alike, told):
        shot.things["spot"].intensity = -16  # type: ignore[union-attr]
    assert middle(alike) > 2
    assert middle(told) == pytest.approx(middle(alike), rel=1e-2)


def test_what_is_covered_throws_no_shadow() -> None:
    lit, halved = floor_and_sheet(), floor_and_sheet()
    del lit.things["sheet"]
    halved.things["sheet"].reveal = Reveal(end=0.0)  # type: ignore[union-attr]
    assert middle(halved) == pytest.approx(middle(lit), rel=0.04)
    halved.things["sheet"].reveal = Reveal(end=0.5, softness=2.0)  # type: ignore[union-attr]
    assert 0.2 * middle(lit) < middle(halved) < 0.8 * middle(lit)


def test_what_the_camera_does_not_see_still_casts_its_shadow() -> None:
    seen, unseen = floor_and_sheet(), floor_and_sheet()
    unseen.things["sheet"].visibility = Visibility(camera=False)  # type: ignore[union-attr]
    a, b = traced(seen, 64), traced(unseen, 64)
    assert middle(unseen) < 0.05
    # Where the sheet stood one sees the floor or nothing now.
    assert np.abs(a - b)[:44].max() > 0.05


def test_see_through_surfaces_let_light_and_view_through() -> None:
    solid = floor_and_sheet()
    solid.things["sheet"].finish.opacity = 0.5  # type: ignore[union-attr]
    bare = floor_and_sheet()
    del bare.things["sheet"]
    # A sheet has two sides: half of a half gets through.
    assert middle(solid) == pytest.approx(middle(bare) / 4, rel=0.06)


def test_parts_wear_what_they_are_given() -> None:
    title = plain_title("I")
    title.finish = Finish(base_colour=Colour(r=0, g=0, b=1), metallic=0, roughness=1)
    title.finish.parts = {"face": Surface(base_colour=Colour(r=1, g=0, b=0), metallic=0, roughness=1)}
    title.setting = Setting(typeface="archivo-black", size=1, align="centre")
    shot = Shot(
        format=Format(width=160, height=90, frames=1),
        things={"title": title, "sun": Light(source="ambient")},
        camera=Camera(position=Vector(x=2.5, y=0.5, z=2.5), aim=Vector(x=0, y=0.5, z=0)),
        surroundings=Surroundings(strength=-16),
    )
    rgba = traced(shot, 32)
    red, blue = rgba[..., 0] > 4 * rgba[..., 2] + 0.1, rgba[..., 2] > 4 * rgba[..., 0] + 0.1
    assert red.sum() > 100 and blue.sum() > 100


def test_a_glowing_face_lights_the_floor() -> None:
    shot = floor_and_sheet()
    shot.things["sheet"].finish.emission = 4.0  # type: ignore[union-attr]
    shot.things["spot"].on = False  # type: ignore[union-attr]
    assert middle(shot) > 0.05


def test_clear_glass_shows_the_backdrop_behind_it() -> None:
    title = plain_title("I")
    title.finish = Finish(
        base_colour=Colour(r=1, g=1, b=1), metallic=0, roughness=0.0, transmission=1, ior=1.1
    )
    title.setting = Setting(typeface="archivo-black", size=4, align="centre")
    title.place.position = Vector(x=0, y=-2, z=0)
    shot = Shot(
        format=Format(width=160, height=90, frames=1),
        things={"title": title},
        surroundings=Surroundings(strength=-16),
        camera=Camera(position=Vector(x=0, y=0, z=8), aim=Vector(x=0, y=0, z=0), focal_length=200),
    )
    alpha = traced(shot, 256)[40:50, 75:85, 3]
    # Two surfaces, each mirrors ((n - 1) / (n + 1))².
    assert alpha.mean() == pytest.approx(2 * (0.1 / 2.1) ** 2, abs=0.01)


def test_glass_takes_colour_with_depth() -> None:
    values = {}
    for depth in (0.2, 0.4):
        title = plain_title("I")
        title.body.depth = depth
        title.finish = Finish(
            base_colour=Colour(r=1, g=1, b=1),
            metallic=0,
            roughness=0.0,
            transmission=1,
            ior=1.01,
            attenuation_colour=Colour(r=0.25, g=1, b=1),
            attenuation_distance=0.4,
        )
        title.setting = Setting(typeface="archivo-black", size=4, align="centre")
        title.place.position = Vector(x=0, y=-2, z=0)
        wall = Sheet(
            width=40, height=40, finish=Finish(base_colour=Colour(r=0, g=0, b=0), metallic=0, emission=1)
        )
        wall.place.position = Vector(x=0, y=0, z=-3)
        shot = Shot(
            format=Format(width=160, height=90, frames=1),
            things={"title": title, "wall": wall},
            surroundings=Surroundings(strength=-16),
            camera=Camera(position=Vector(x=0, y=0, z=8), aim=Vector(x=0, y=0, z=0), focal_length=200),
        )
        inside = traced(shot, 256)[40:50, 75:85].mean(axis=(0, 1))
        values[depth] = inside[0] / inside[1]
    assert values[0.4] == pytest.approx(0.25, rel=0.06)
    assert values[0.2] == pytest.approx(0.5, rel=0.06)


def point_of_light(**camera: object) -> Shot:
    """A tiny glowing sheet two metres behind what is in focus."""
    spark = Sheet(
        width=0.01, height=0.01, finish=Finish(base_colour=Colour(r=0, g=0, b=0), metallic=0, emission=900)
    )
    spark.place.position = Vector(x=0, y=0, z=-2)
    return Shot(
        format=Format(width=320, height=180, frames=1),
        things={"spark": spark},
        surroundings=Surroundings(strength=-16),
        camera=Camera(
            position=Vector(x=0, y=0, z=3),
            aim=Vector(x=0, y=0, z=0),
            defocus=True,
            **{"f_stop": 1.0, "focal_length": 60, **camera},
        ),
    )


def disc_of(shot: Shot) -> np.ndarray:
    stage = Stage(BodyStore())
    stage.show(exposed(shot, 0.0))
    return light_of(stage, (320, 180), 256)[..., 1]


def test_what_is_out_of_focus_is_a_disc_of_the_size_optics_say() -> None:
    light = disc_of(point_of_light())
    # Circle of confusion on the plane in focus, seen from the lens: aperture (d - f) / d.
    aperture, focus, away = 0.06 / 1.0, 3.0, 5.0
    wide = aperture * (away - focus) / away
    pixels = wide / (2 * 3.0 * np.tan(np.radians(Camera(focal_length=60).vertical_angle(16 / 9)) / 2)) * 180
    lit = light > light.max() * 0.25
    assert 2 * np.sqrt(lit.sum() / np.pi) == pytest.approx(pixels, rel=0.12)
    sharp = disc_of(point_of_light(focus="distance", focus_distance=5.0))
    assert (sharp > sharp.max() * 0.25).sum() < 12
    assert sharp.sum() == pytest.approx(light.sum(), rel=0.05)


def test_blades_make_corners_and_keep_the_light() -> None:
    import cv2

    round_, angular = (
        disc_of(point_of_light(focal_length=150)),
        disc_of(point_of_light(focal_length=150, blades=3)),
    )
    assert angular.sum() == pytest.approx(round_.sum(), rel=0.05)
    for light, corners in ((angular, 3), (round_, 6)):
        mask = (cv2.GaussianBlur(cv2.resize(light, None, fx=8, fy=8), (0, 0), 6) > light.max() * 0.25).astype(
            np.uint8
        )
        contour = max(
            cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)[0], key=cv2.contourArea
        )
        shape = cv2.approxPolyDP(contour, 0.06 * cv2.arcLength(contour, True), True)
        assert (len(shape) == 3) == (corners == 3)


def moving(shutter: float) -> Shot:
    """A glowing sheet, 0.2 m wide, that travels 1 m a frame."""
    bar = Sheet(
        width=0.2, height=0.4, finish=Finish(base_colour=Colour(r=0, g=0, b=0), metallic=0, emission=1)
    )
    return Shot(
        format=Format(width=160, height=90, frames=5),
        things={"bar": bar},
        surroundings=Surroundings(strength=-16),
        camera=Camera(
            position=Vector(x=0, y=0, z=5), aim=Vector(x=0, y=0, z=0), focal_length=50, shutter_angle=shutter
        ),
        channels={
            "/things/bar/place/position/x": Channel(
                keys=[Key(frame=0, value=-2, ease={"kind": "linear"}), Key(frame=4, value=2)]
            )
        },
    )


def test_what_moves_is_smeared_over_the_time_the_shutter_is_open() -> None:
    rows = {}
    for shutter in (0.0, 180.0):
        stage = Stage(BodyStore())
        stage.show(exposed(moving(shutter), 2.0))
        rows[shutter] = trace(stage, 160, 90, Quality(64, "high")).rgba[40:50, :, 3].mean(axis=0)
    metre = 90 / (2 * 5 * np.tan(np.radians(Camera(focal_length=50).vertical_angle(16 / 9)) / 2))
    assert rows[180.0].sum() == pytest.approx(rows[0.0].sum(), rel=0.05)
    # 0.2 m wide and half a metre on its way.
    assert (rows[0.0] > 0.05).sum() / metre == pytest.approx(0.2, abs=0.06)
    assert (rows[180.0] > 0.05).sum() / metre == pytest.approx(0.7, abs=0.06)
    place = (np.arange(160) + 0.5 - 80) / metre
    assert (rows[180.0] * place).sum() / rows[180.0].sum() == pytest.approx(0, abs=0.03)


def test_a_moving_camera_smears_as_a_moving_thing_does() -> None:
    shot = moving(180.0)
    keys = shot.channels.pop("/things/bar/place/position/x")
    back = Channel(keys=[key.model_copy(update={"value": -key.value}) for key in keys.keys])
    shot.channels = {"/camera/position/x": back, "/camera/aim/x": back.model_copy(deep=True)}
    state = exposed(shot, 2.0)
    assert not state.during and state.closing is not None
    stage = Stage(BodyStore())
    stage.show(state)
    row = trace(stage, 160, 90, Quality(64, "high")).rgba[40:50, :, 3].mean(axis=0)
    metre = 90 / (2 * 5 * np.tan(np.radians(Camera(focal_length=50).vertical_angle(16 / 9)) / 2))
    # Covered for more than a twentieth of the time: all but 0.025 m at each end.
    assert (row > 0.05).sum() / metre == pytest.approx(0.65, abs=0.05)


def test_nothing_is_evaluated_twice_where_nothing_moves(shot: Shot) -> None:
    shot.channels = {}
    shot.camera.shutter_angle = 180
    state = exposed(shot, 0.0)
    assert not state.during and state.closing is None
    assert state.traced_key == frame_state(shot, bake(shot, np.zeros(1)), 0).traced_key
