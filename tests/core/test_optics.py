"""Lens, film and grade: each step against what it says, alone and through a window."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dreizack.core.document import Channel, Format, Key, Light, Optics, Shot, Title, Vector, resolve
from dreizack.core.media.finishing import finishing
from dreizack.core.optics import Finishing, Passes, Place, finished, scene_light
from dreizack.core.optics.spread import blurred, brighter, octave_sigmas, spread
from dreizack.core.optics.steps.film import grained, halated
from dreizack.core.optics.steps.grade import boxed, graded
from dreizack.core.optics.steps.lens import (
    bloomed,
    diffused,
    distorted,
    fringed,
    glinted,
    rayed,
    streaked,
    veiled,
    vignetted,
)
from dreizack.core.scene import bake, frame_names, frame_state
from dreizack.core.scene.baking.optics import numbers_below

PLACE = Place(320, 180)


def values(**changed: float) -> dict[str, float]:
    """Values of plain optics, with some changed: ``bloom_amount=0.2``."""
    plain = Optics()
    found = {name: float(resolve(plain, f"/{name}")) for name in numbers_below(plain)}
    for name, value in changed.items():
        effect, _, rest = name.partition("_")
        at = f"{effect}/{rest}" if f"{effect}/{rest}" in found else f"{effect}/{rest.replace('_', '/')}"
        assert at in found, at
        found[at] = value
    return found


def point(light: float = 100.0, place: Place = PLACE) -> np.ndarray:
    picture = np.zeros((place.height, place.width, 3), np.float32)
    picture[place.height // 2, place.width // 2] = light
    return picture


def scene(seed: int = 3, place: Place = PLACE) -> np.ndarray:
    noise = np.random.default_rng(seed).random((place.height // 8 + 1, place.width // 8 + 1, 3))
    soft = cv2.resize(noise, (place.width, place.height), interpolation=cv2.INTER_CUBIC)
    return np.maximum(soft, 0).astype(np.float32)


STEPS = [
    distorted,
    fringed,
    diffused,
    bloomed,
    streaked,
    rayed,
    veiled,
    vignetted,
    halated,
    grained,
    graded,
    boxed,
]


@pytest.mark.parametrize("step", STEPS)
def test_nothing_is_done_where_nothing_is_asked_for(step: object) -> None:
    light = scene()
    np.testing.assert_array_equal(step(light, values(), PLACE), light)  # type: ignore[operator]


@given(st.floats(0.8, 60))
@settings(max_examples=25)
def test_wide_blurs_are_gaussians_of_that_width(sigma: float) -> None:
    picture = np.zeros((400, 400, 1), np.float32)
    picture[200, 200] = 1
    soft = blurred(picture, sigma)[..., 0].astype(np.float64)
    assert soft.sum() == pytest.approx(1, abs=0.004)
    x = np.arange(400) - 200
    across = soft.sum(axis=0)
    assert (across * x).sum() == pytest.approx(0, abs=0.02 * sigma)
    if sigma <= 45:
        assert np.sqrt((across * x**2).sum()) == pytest.approx(sigma, rel=0.05)


@given(st.floats(0.01, 0.9), st.floats(0.02, 0.12), st.floats(0, 3), st.sampled_from([0.0, 0.4]))
@settings(max_examples=20)
def test_bloom_neither_adds_nor_loses_light(
    amount: float, radius: float, falloff: float, threshold: float
) -> None:
    light = point()
    found = bloomed(
        light,
        values(bloom_amount=amount, bloom_radius=radius, bloom_falloff=falloff, bloom_threshold=threshold),
        PLACE,
    )
    assert found.sum() == pytest.approx(light.sum(), rel=0.005)
    assert found.min() >= -1e-6
    middle = found[PLACE.height // 2, PLACE.width // 2, 0]
    # What has spread is missing where it came from (the narrowest width leaves some of it there).
    assert 100 * (1 - amount) - 0.5 <= middle < 100


def test_bloom_has_no_edge_and_falls_off_all_the_way() -> None:
    found = bloomed(point(1000), values(bloom_amount=0.3, bloom_radius=0.2), PLACE)[90, 160:, 0]
    assert (np.diff(found[1:100]) <= 1e-5).all() and found[60] > 0
    ratios = found[8:60:6] / np.maximum(found[14:66:6], 1e-9)
    assert ratios.max() < 8


def test_widths_go_by_the_height_of_the_picture() -> None:
    small, large = Place(320, 180), Place(640, 360)
    of = values(bloom_amount=0.5, bloom_radius=0.1)
    one = bloomed(scene(1, small), of, small)
    two = bloomed(cv2.resize(scene(1, small), (640, 360), interpolation=cv2.INTER_LINEAR), of, large)
    np.testing.assert_allclose(cv2.resize(two, (320, 180), interpolation=cv2.INTER_AREA), one, atol=0.03)
    assert octave_sigmas(0.1, 360)[-1] == 2 * octave_sigmas(0.1, 180)[-1]


@given(st.floats(0.05, 5), st.floats(0, 1))
def test_thresholds_keep_colours_and_begin_softly(threshold: float, knee: float) -> None:
    ramp = np.linspace(0, 10, 500, dtype=np.float32)[None, :, None] * np.array([1.0, 0.5, 0.25], np.float32)
    kept = brighter(ramp, threshold, knee)
    grey = ramp @ np.array([0.2126, 0.7152, 0.0722], np.float32)
    assert (kept[grey < threshold * (1 - knee) - 1e-5] == 0).all()
    share = kept[0, 1:, 0] / ramp[0, 1:, 0]
    np.testing.assert_allclose(kept[0, 1:, 1] / ramp[0, 1:, 1], share, atol=1e-5)
    assert (np.diff(share) >= -1e-6).all() and share.max() <= 1
    above = grey[0] > threshold * (1 + knee) + 1e-4
    np.testing.assert_allclose(
        (kept[0] @ [0.2126, 0.7152, 0.0722])[above], grey[0][above] - threshold, rtol=1e-4
    )


@pytest.mark.parametrize("points", [2, 4, 6])
def test_glints_are_stars_on_points_with_as_many_arms(points: int) -> None:
    of = values(glints_amount=1, glints_points=points, glints_angle=20, glints_length=0.4)
    light = point(500)
    arms = (glinted(light, of, PLACE) - light)[..., 1]
    y, x = np.unravel_index(light[..., 1].argmax(), light.shape[:2])
    angles = np.radians(np.arange(0, 360, 2.0))
    ring = arms[np.rint(y - 22 * np.sin(angles)).astype(int), np.rint(x + 22 * np.cos(angles)).astype(int)]
    bright = np.sort(np.flatnonzero(ring > 0.3 * ring.max()) * 2.0)
    # Groups of neighbouring angles are the arms.
    groups = np.split(bright, np.flatnonzero(np.diff(bright) > 12) + 1)
    found = sorted(float(np.mean(group)) for group in groups)
    expected = sorted((20 + 360 * k / points) % 360 for k in range(points))
    np.testing.assert_allclose(found, expected, atol=5)


def test_what_is_large_and_lit_has_no_glints() -> None:
    of = values(glints_amount=4, glints_threshold=1.0, glints_size=0.01)
    lit = np.zeros((180, 320, 3), np.float32)
    lit[40:140, 60:260] = 5
    made = glinted(lit, of, PLACE) - lit
    # Inside next to nothing, and nothing anywhere where it is dark.
    assert made[60:120, 90:230].max() < 0.02
    assert (glinted(lit * 0.1, of, PLACE) == lit * 0.1).all()
    spot = lit.copy() * 0
    spot[90, 160] = 5 * 40
    assert (glinted(spot, of, PLACE) - spot).max() > 5 * made.max()


def test_streaks_run_along_their_angle_alone() -> None:
    for angle, axis in ((0.0, 0), (90.0, 1)):
        found = streaked(point(500), values(streak_amount=1, streak_angle=angle, streak_length=0.5), PLACE)[
            ..., 2
        ]
        along = found.max(axis=axis)
        across = found.max(axis=1 - axis)
        assert (along > 1e-3).sum() > 40 and (across > 1e-3).sum() < 12


def test_rays_run_away_from_their_place_and_are_held_up_by_what_is_dark() -> None:
    light = np.full((180, 320, 3), 2.0, np.float32)
    light[60:120, 150:170] = 0
    found = rayed(light, values(rays_amount=0.5, rays_x=0.1, rays_y=0.5, rays_length=0.7), PLACE) - light
    # Behind the dark bar as seen from the left there is less than above it.
    assert found[90, 200, 0] < 0.9 * found[20, 200, 0]
    assert found[90, 100, 0] > found[90, 200, 0]


def test_rays_get_fainter_to_their_end_and_have_no_edge_there() -> None:
    light = np.zeros((180, 320, 3), np.float32)
    light[80:100, 60:80] = 2.0
    # The place is on the left edge, the lamp's far side at 80: it ends at 80 over what is nearest, 0.54.
    ray = rayed(light, values(rays_amount=1, rays_x=0, rays_y=0.5, rays_length=0.5), PLACE)[90, 84:, 0]
    assert np.all(np.diff(ray) <= 1e-4) and ray[0] > 0.1
    end = round(80 / 0.54) - 84
    assert 0 < ray[end - 8] < 0.08 * ray[0] and ray[end + 4 :].max() < 1e-3


@given(st.floats(0.05, 1))
def test_veil_and_diffusion_leave_the_mean(amount: float) -> None:
    light = scene()
    assert veiled(light, values(veil_amount=amount), PLACE).mean() == pytest.approx(
        float(light.mean()), rel=0.02
    )
    soft = diffused(light, values(diffusion_amount=amount), PLACE)
    assert soft.mean() == pytest.approx(float(light.mean()), rel=0.01) and soft.std() < light.std()


@given(st.floats(-0.3, 0.3))
def test_distortion_follows_its_formula_and_fills_the_picture(amount: float) -> None:
    ramp = np.zeros((181, 321, 3), np.float32)
    ramp[...] = np.arange(321, dtype=np.float32)[None, :, None]
    place = Place(321, 181)
    found = distorted(ramp, values(distortion_amount=amount), place)
    half = np.hypot(321, 181) / 2
    r = np.arange(-150, 151) / half
    wanted = 160 + half * r * (1 + amount * r**2) / max(1.0, 1 + amount)
    np.testing.assert_allclose(found[90, 10:311, 0], wanted, atol=0.06)
    assert found.min() >= 0 and np.isfinite(found).all()


def test_fringes_move_red_out_and_blue_in_by_what_they_say() -> None:
    light = np.zeros((180, 320, 3), np.float32)
    light[:, 260:] = 1
    found = fringed(light, values(aberration_amount=0.04), PLACE)
    edges = [float(np.interp(0.5, found[90, 240:280, c], np.arange(240, 280))) for c in range(3)]
    assert edges[0] - edges[1] == pytest.approx(0.02 * 100, abs=0.3)
    assert edges[1] - edges[2] == pytest.approx(0.02 * 100, abs=0.3)


def test_vignettes_are_darkest_in_the_corners_and_leave_the_middle() -> None:
    found = vignetted(
        np.ones((180, 320, 3), np.float32), values(vignette_amount=0.6, vignette_reach=0.4), PLACE
    )
    assert found[90, 160, 0] == 1 and found[0, 0, 0] == found.min()
    assert 0.4 <= found.min() < 0.9


def test_halation_is_a_rim_of_its_colour_around_what_is_bright() -> None:
    light = np.full((180, 320, 3), 0.05, np.float32)
    light[70:110, 140:180] = 8
    found = halated(light, values(halation_amount=0.5, halation_radius=0.03), PLACE) - light
    assert found[90, 160].max() == pytest.approx(0, abs=0.3) and found[90, 185, 0] > 0.1
    assert found[90, 185, 0] > 3 * found[90, 185, 2]


@given(st.floats(0.05, 1), st.floats(0.6, 4), st.floats(0, 1))
@settings(max_examples=20)
def test_grain_leaves_the_mean_and_differs_from_frame_to_frame(
    amount: float, size: float, own: float
) -> None:
    light = np.full((180, 320, 3), 0.18, np.float32)
    of = values(grain_amount=amount, grain_size=size, grain_colour=own)
    one, two = (grained(light, of, Place(320, 180, frame=f)) for f in (5, 6))
    np.testing.assert_array_equal(one, grained(light, of, Place(320, 180, frame=5)))
    assert not np.array_equal(one, two)
    # A tenth of a code of 8 bit, at middle grey.
    codes = [
        finished(
            Passes(np.dstack([p, np.ones((180, 320), np.float32)])), Finishing(0, "shoulder", np.zeros(3))
        )
        for p in (light, one)
    ]
    assert abs(float(one.mean()) / 0.18 - 1) < 0.004 + 0.05 * amount**2
    assert codes[1].std() > 0.2 * amount


@given(st.floats(0.2, 2), st.floats(-0.1, 0.2), st.floats(0.5, 2), st.floats(0, 2))
def test_the_grade_is_that_of_the_asc(slope: float, offset: float, power: float, saturation: float) -> None:
    light = scene()
    found = graded(
        light,
        values(grade_slope_r=slope, grade_offset_g=offset, grade_power_b=power, grade_saturation=saturation),
        PLACE,
    )
    s, o, p = np.array([slope, 1, 1]), np.array([0, offset, 0]), np.array([1, 1, power])
    out = np.maximum(light.astype(np.float64) * s + o, 0) ** p
    grey = (out @ [0.2126, 0.7152, 0.0722])[..., None]
    np.testing.assert_allclose(found, np.maximum(grey + saturation * (out - grey), 0), atol=1e-4)


def test_the_grade_agrees_with_opencolorio() -> None:
    import PyOpenColorIO

    cdl = PyOpenColorIO.CDLTransform()
    (
        cdl.setSlope([1.2, 0.9, 1.1]),
        cdl.setOffset([0.02, 0.0, 0.01]),
        cdl.setPower([1.1, 0.9, 1.0]),
        cdl.setSat(0.8),
    )
    cdl.setStyle(PyOpenColorIO.CDL_NO_CLAMP)
    light = np.ascontiguousarray(scene().reshape(1, -1, 3))
    wanted = light.copy()
    PyOpenColorIO.Config.CreateRaw().getProcessor(cdl).getDefaultCPUProcessor().applyRGB(wanted)
    names = {"slope": (1.2, 0.9, 1.1), "offset": (0.02, 0.0, 0.01), "power": (1.1, 0.9, 1.0)}
    of = values(grade_saturation=0.8) | {
        f"grade/{n}_{c}": v for n, three in names.items() for c, v in zip("rgb", three, strict=True)
    }
    np.testing.assert_allclose(graded(light, of, PLACE), np.maximum(wanted, 0), atol=1e-4)


def test_contrast_turns_about_middle_grey() -> None:
    light = np.array([[[0.18] * 3, [0.36] * 3]], np.float32)
    np.testing.assert_allclose(
        graded(light, values(grade_contrast=2), PLACE)[0, :, 0], [0.18, 0.72], rtol=1e-5
    )


def test_bars_leave_the_shape_that_is_asked_for() -> None:
    found = boxed(np.ones((180, 320, 3), np.float32), values(letterbox_aspect=2.39), PLACE)
    assert found[..., 0].sum() / 320 == pytest.approx(320 / 2.39, abs=0.01) and found[0].max() == 0
    tall = boxed(np.ones((180, 320, 3), np.float32), values(letterbox_aspect=1.0), PLACE)
    assert tall[..., 0].sum() / 180 == pytest.approx(180, abs=0.01)


@pytest.mark.parametrize("step", [vignetted, grained, boxed, graded])
def test_a_window_shows_what_the_whole_picture_does_there(step: object) -> None:
    of = values(vignette_amount=0.7, grain_amount=0.5, letterbox_aspect=2.1, grade_warmth=0.5)
    light = scene()
    whole = step(light, of, Place(320, 180, frame=9))  # type: ignore[operator]
    part = step(light[40:120, 50:210], of, Place(320, 180, 50, 40, 9))  # type: ignore[operator]
    np.testing.assert_allclose(part, whole[40:120, 50:210], atol=1e-5)


@pytest.mark.parametrize(
    "wild",
    [
        {"bloom_amount": 1, "bloom_radius": 0.0},
        {"bloom_amount": 1, "bloom_radius": 2.0},
        {"bloom_amount": 1, "bloom_threshold": 50},
        {"streak_amount": 4, "streak_length": 2},
        {"streak_amount": 4, "streak_length": 0},
        {"glints_amount": 8, "glints_length": 1, "glints_points": 12, "glints_threshold": 0},
        {"glints_amount": 8, "glints_length": 0},
        {"rays_amount": 8, "rays_x": -2, "rays_y": 3, "rays_length": 1},
        {"distortion_amount": -0.6, "aberration_amount": 0.05},
        {"grain_amount": 1, "grain_size": 12},
        {"veil_amount": 1, "vignette_amount": 1, "vignette_reach": 1.5},
    ],
)
def test_no_value_makes_a_picture_black_or_full_white(wild: dict[str, float]) -> None:
    beauty = np.dstack([scene(), np.ones((180, 320), np.float32)])
    found = scene_light(Passes(beauty), Finishing(0, "shoulder", np.zeros(3), values(**wild), PLACE))
    assert np.isfinite(found).all() and 0.02 < found.mean() < 60


def optical_shot() -> Shot:
    shot = Shot(
        format=Format(width=160, height=90, frames=20),
        things={"title": Title(), "lamp": Light(position=Vector(x=0, y=0.22, z=-4))},
    )
    shot.optics.bloom.amount = 0.3
    shot.optics.rays.light, shot.optics.rays.amount = "lamp", 0.5
    shot.channels = {"/optics/vignette/amount": Channel(keys=[Key(frame=0, value=0), Key(frame=19, value=1)])}
    return shot


def test_optics_are_keyed_and_change_nothing_that_is_traced() -> None:
    shot = optical_shot()
    baked = bake(shot)
    first, last = frame_state(shot, baked, 0), frame_state(shot, baked, 19)
    assert first.optics["vignette/amount"] == 0 and last.optics["vignette/amount"] == 1
    assert first.traced_key == last.traced_key and len(set(frame_names(shot, np.arange(20.0)))) == 1
    plain = shot.model_copy(update={"optics": Optics(), "channels": {}})
    assert frame_state(plain, bake(plain), 0).optics == {}
    assert frame_state(plain, bake(plain), 0).traced_key == first.traced_key
    settings_ = finishing(last, (160, 90))
    assert settings_.place == Place(160, 90, frame=19) and settings_.optics["bloom/amount"] == 0.3


def test_rays_come_from_where_their_light_is_seen() -> None:
    shot = optical_shot()
    shot.camera.position, shot.camera.aim = Vector(x=0, y=0.22, z=4), Vector(x=0, y=0.22, z=0)
    shot.things["lamp"].position = Vector(x=1, y=0.22, z=-4)  # type: ignore[union-attr]
    found = frame_state(shot, bake(shot), 0).optics
    half = np.tan(np.radians(shot.camera.vertical_angle(16 / 9) / 2)) * 16 / 9
    assert found["rays/x"] == pytest.approx(0.5 + 1 / 8 / half / 2, abs=1e-6) and found[
        "rays/y"
    ] == pytest.approx(0.5)
    shot.things["lamp"].position = Vector(x=0, y=0, z=9)  # type: ignore[union-attr]
    assert frame_state(shot, bake(shot), 0).optics["rays/amount"] == 0


def test_spread_adds_up() -> None:
    assert spread(point(), 0.05, 1.0).sum() == pytest.approx(300, rel=0.005)
