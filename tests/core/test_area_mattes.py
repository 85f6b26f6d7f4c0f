"""Effects that are kept to a thing, or to what is near or far."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import Format, Sheet, Shot, Vector
from dreizack.core.media.finishing import finishing
from dreizack.core.optics import Passes, depth_share, scene_light
from dreizack.core.render import Stage, Window, area_mattes, data_passes
from dreizack.core.scene import BodyStore, bake, frame_state
from tests.conftest import plain_title


def two_words() -> Shot:
    """Words near by and a card far behind them."""
    near, far = plain_title("H"), Sheet(width=6.0, height=4.0)
    far.place.position = Vector(x=0, y=0, z=-6)
    return Shot(format=Format(width=96, height=54, frames=1), things={"near": near, "far": far})


def mattes(shot: Shot, window: Window | None = None) -> dict[str, np.ndarray]:
    return area_mattes(frame_state(shot, bake(shot, np.array([0.0])), 0), (96, 54), window)


def test_an_effect_is_kept_to_a_thing_or_away_from_it() -> None:
    shot = two_words()
    shot.optics.grade.area.thing = "near"
    assert mattes(shot).keys() == {"grade"}
    on = mattes(shot)["grade"]
    stage = Stage(BodyStore())
    told = data_passes(stage, frame_state(shot, bake(shot, np.array([0.0])), 0), None, (96, 54))
    wanted = [number for number, name in enumerate(told.names, 1) if name.startswith("near")]
    expected = (told.shares * np.isin(told.ids, wanted)).sum(axis=2)
    np.testing.assert_allclose(on[..., 0], expected, atol=1e-6)
    assert 0.02 < on.mean() < 0.9
    shot.optics.grade.area.but_for = True
    np.testing.assert_allclose(mattes(shot)["grade"], 1 - on, atol=1e-6)
    part = mattes(shot, Window(20, 10, 40, 30))["grade"]
    np.testing.assert_allclose(part, 1 - on[10:40, 20:60], atol=1e-6)
    # A thing that is gone limits nothing.
    del shot.things["near"]
    assert mattes(shot) == {}


def test_an_effect_is_kept_to_what_is_near_or_far() -> None:
    shot = two_words()
    plain = mattes(shot)
    assert plain == {}
    shot.optics.blur.area.thing = "near"
    on = mattes(shot)["blur"]
    shot.optics.blur.area.thing = ""
    # Halfway between the words and the card; what is behind everything is further still.
    away = float(np.linalg.norm([getattr(shot.camera.position, axis) for axis in "xyz"]))
    shot.optics.blur.area.depth, shot.optics.blur.area.near = 1.0, away + 3
    np.testing.assert_allclose(mattes(shot)["blur"], on, atol=1e-6)
    shot.optics.blur.area.depth = -0.5
    np.testing.assert_allclose(mattes(shot)["blur"], 1 - 0.5 * on, atol=1e-6)


@given(st.floats(-1, 1), st.floats(0.1, 20), st.floats(0.01, 10), st.floats(0, 40))
def test_shares_by_distance_fall_or_rise_between_their_ends(
    depth: float, near: float, soft: float, away: float
) -> None:
    of = {"blur/area/depth": depth, "blur/area/near": near, "blur/area/depth_softness": soft}
    share = float(depth_share(of, "blur", np.array([away], np.float32))[0])
    assert 1 - abs(depth) - 1e-6 <= share <= 1 + 1e-6
    if away < near - soft:
        assert share == pytest.approx(1 if depth >= 0 else 1 + depth, abs=1e-5)
    if away > near + soft:
        assert share == pytest.approx(1 - depth if depth >= 0 else 1, abs=1e-5)


def test_a_finished_picture_is_graded_on_a_thing_alone() -> None:
    shot = two_words()
    shot.optics.grade.saturation, shot.optics.grade.contrast = 1.0, 2.0
    shot.optics.grade.area.thing = "near"
    state = frame_state(shot, bake(shot, np.array([0.0])), 0)
    light = np.full((54, 96, 4), 0.4, np.float32)
    light[..., 3] = 1
    settings = finishing(state, (96, 54))
    shown = scene_light(Passes(light), settings)
    on = settings.mattes["grade"][..., 0]
    assert np.abs(shown - 0.4)[on == 0].max() < 1e-3
    assert np.abs(shown - 0.4)[on == 1].min() > 0.05
