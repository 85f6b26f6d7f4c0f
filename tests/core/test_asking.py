"""The answer of the picture against brute force: single lights traced one by one, shadow rays, the law of
reflection."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import Shot, Vector
from dreizack.core.light import CannotPlace, for_highlight, for_shadow, shadow_tip
from dreizack.core.optics import clipped_share, clipping, false_colour
from dreizack.core.proof import explained
from dreizack.core.render import Quality, Stage, Window, ask, channel_picture, trace
from dreizack.core.scene import BodyStore, bake, frame_state

from .test_paths import floor_and_sheet
from .test_render import SIZE, stage_of

coordinate = st.floats(-3, 3)
point = st.tuples(coordinate, coordinate, coordinate)


def answer_of(shot: Shot, x: float, y: float, size: tuple[int, int] = (320, 180)):  # type: ignore[no-untyped-def]
    stage = Stage(BodyStore())
    state = frame_state(shot, bake(shot, np.zeros(1)), 0)
    return ask(stage, state, size, x, y), state


def spot_on_a_letter(shot: Shot) -> tuple[float, float]:
    alpha = trace(stage_of(shot), *SIZE, Quality(4, "fast")).rgba[..., 3]
    rows, columns = np.nonzero(alpha > 0.99)
    middle = len(rows) // 2
    return (columns[middle] + 0.5) / SIZE[0], (rows[middle] + 0.5) / SIZE[1]


def test_what_lights_bring_adds_up_and_is_what_single_lights_give(shot: Shot) -> None:
    x, y = spot_on_a_letter(shot)
    found, _ = answer_of(shot, x, y)
    assert found.thing == "title" and found.part in ("face", "bevel", "wall", "back") and found.source >= 0
    total = np.sum([share.light for share in found.shares], axis=0)
    np.testing.assert_allclose(total, found.light, rtol=0.01, atol=1e-4)
    for share in found.shares:
        if share.name == "surroundings":
            continue
        alone = shot.model_copy(deep=True)
        alone.surroundings.strength = -16
        for name in list(alone.lights):
            if name != share.name:
                del alone.things[name]
        brute, _ = answer_of(alone, x, y)
        np.testing.assert_allclose(brute.light, share.light, rtol=0.06, atol=2e-3)


def test_what_blocks_a_light_is_named() -> None:
    shot = floor_and_sheet()
    found, state = answer_of(shot, 0.5, 0.5)
    assert found.thing == "floor"
    spot = next(share for share in found.shares if share.name == "spot")
    assert spot.blocked == 1.0 and spot.by == ("sheet",)
    said = " ".join(explained(found, shot, state.exposure))
    assert "Sheet keeps 100% of Light away" in said and "no light reaches" in said
    # Nearer to the viewer the floor is lit.
    lit, _ = answer_of(shot, 0.5, 0.75)
    assert next(share for share in lit.shares if share.name == "spot").blocked == 0.0
    assert "no shadow here" in " ".join(explained(lit, shot, 0.0))


def test_the_backdrop_says_that_it_is_one(shot: Shot) -> None:
    found, state = answer_of(shot, 0.01, 0.01)
    assert found.thing is None
    assert "backdrop" in explained(found, shot, state.exposure)[0]


def test_clipping_is_said_and_counted(shot: Shot) -> None:
    shot.camera.exposure = 6
    x, y = spot_on_a_letter(shot)
    found, state = answer_of(shot, x, y)
    assert "It clips" in " ".join(explained(found, shot, state.exposure))
    bright = np.full((4, 6, 3), 9, np.float32)
    bright[:2] = 0.18
    assert clipped_share(bright) == pytest.approx(0.5)
    shown = clipping(bright)
    assert (shown[2:, :, 0] > shown[2:, :, 1] + 50).all() and (np.ptp(shown[:2], axis=2) == 0).all()


def test_false_colour_is_neutral_at_middle_grey_and_hot_above() -> None:
    grey, hot, cold = (
        false_colour(np.full((1, 1, 3), v, np.float32))[0, 0].astype(int) for v in (0.18, 6.0, 0.004)
    )
    assert np.ptp(grey) < 10 and hot[0] > 200 and hot[2] < 80 and cold[2] > cold[0]


def test_channels_know_depth_and_parts(shot: Shot) -> None:
    stage = stage_of(shot)
    moment = stage.at_moment(0)
    window = Window(0, 0, *SIZE)
    depth, parts = (channel_picture(stage, moment, SIZE, window, name)[..., 0] for name in ("depth", "parts"))
    alpha = trace(stage, *SIZE, Quality(16, "fast")).rgba[..., 3]
    # A place of a pixel may miss where most of the pixel is covered; hardly ever elsewhere.
    assert ((depth > 0) == (alpha > 0.5)).mean() > 0.98
    assert ((parts > 0) == (depth > 0)).all() and len(np.unique(parts)) >= 3
    away = np.linalg.norm(moment.pose.position - moment.titles["title"].matrix[:3, 3])
    assert abs(np.median(depth[depth > 0]) - away) < 1


@given(point, point, point, point)
def test_highlights_obey_the_law_of_reflection(
    at: tuple[float, ...], normal: tuple[float, ...], eye: tuple[float, ...], light: tuple[float, ...]
) -> None:
    p, n, e, lamp = (np.array(v) for v in (at, normal, eye, light))
    if min(np.linalg.norm(n), np.linalg.norm(e - p), np.linalg.norm(lamp - p)) < 0.1:
        return
    n = n / np.linalg.norm(n)
    found = for_highlight(p, n, e, lamp)
    to_eye, to_light = (e - p) / np.linalg.norm(e - p), (found - p) / np.linalg.norm(found - p)
    assert to_eye @ n == pytest.approx(to_light @ n, abs=1e-6)
    np.testing.assert_allclose(np.cross(to_eye + to_light, n), 0, atol=1e-6)
    assert np.linalg.norm(found - p) == pytest.approx(np.linalg.norm(lamp - p))


@given(point, st.tuples(coordinate, coordinate), point)
def test_the_tip_of_the_shadow_falls_where_it_is_put(
    tip: tuple[float, ...], target: tuple[float, ...], light: tuple[float, ...]
) -> None:
    t, g = np.array([tip[0], tip[1] + 3.5, tip[2]]), np.array([target[0], 0.0, target[1]])
    found = for_shadow(t, g, np.array(light))
    again = shadow_tip(np.array([t]), 0.0, found, False, g)
    assert again is not None
    np.testing.assert_allclose(again[1], g, atol=1e-6)


def test_a_shadow_cannot_fall_above_what_casts_it() -> None:
    with pytest.raises(CannotPlace, match="not below"):
        for_shadow(np.zeros(3), np.array([0.0, 1.0, 0.0]), np.ones(3))


def test_a_highlight_put_on_a_letter_is_the_brightest_place_there() -> None:
    shot = floor_and_sheet()
    del shot.things["sheet"]
    shot.things["floor"].finish.roughness = 0.12  # type: ignore[union-attr]
    found, state = answer_of(shot, 0.4, 0.6)
    light = shot.things["spot"]
    place = for_highlight(
        np.array(found.position),
        np.array(found.normal),
        state.pose.position,
        np.array([light.position.x, light.position.y, light.position.z]),
    )  # type: ignore[union-attr]
    light.position, light.aim = (
        Vector(**dict(zip("xyz", place.tolist(), strict=True))),
        Vector(**dict(zip("xyz", found.position, strict=True))),
    )  # type: ignore[union-attr]
    light.size = 0.3  # type: ignore[union-attr]
    picture = trace(stage_of(shot), *SIZE, Quality(64, "high")).rgba[..., 1]
    row, column = np.unravel_index(int(np.argmax(picture)), picture.shape)
    assert abs(column / SIZE[0] - 0.4) < 0.05 and abs(row / SIZE[1] - 0.6) < 0.08
