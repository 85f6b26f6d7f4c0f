"""One list of steps: whoever composes a picture gets the same, whole or through a window."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.media.finishing import finishing
from dreizack.core.optics import (
    STEPS,
    Finishing,
    Passes,
    Step,
    finished,
    margin_of,
    needed_passes,
    scene_light,
)
from dreizack.core.render import Window
from dreizack.core.scene import bake, frame_state
from dreizack.demo import demo_shots


@given(st.floats(-4, 4), st.floats(0, 1), st.floats(0, 8), st.floats(0, 8))
def test_light_goes_over_what_is_behind_it_and_is_exposed(
    exposure: float, coverage: float, light: float, behind: float
) -> None:
    beauty = np.array([[[light * coverage] * 3 + [coverage]]], np.float32)
    found = scene_light(Passes(beauty), Finishing(exposure, "shoulder", np.full(3, behind)))
    assert found[0, 0, 0] == pytest.approx(
        (light * coverage + behind * (1 - coverage)) * 2**exposure, rel=1e-5, abs=1e-6
    )


def test_steps_stand_in_order_and_say_what_they_need(monkeypatch: pytest.MonkeyPatch) -> None:
    names = [step.name for step in STEPS]
    # What is behind, lens, exposure, film, grade, frame.
    assert names[0] == "backdrop" and names[-1] == "letterbox" and len(set(names)) == len(names)
    order = ["distortion", "bloom", "exposure", "halation", "grain", "grade"]
    assert [name for name in names if name in order] == order
    assert needed_passes() == () and margin_of(1080) == 0
    fog = Step("fog", lambda light, passes, _: light + passes.more["depth"] * 0.1, ("depth",), 0.01)
    steps = (*STEPS, fog, Step("glow", lambda light, *_: light * 2, ("depth", "part"), 0.02))
    assert needed_passes(steps) == ("depth", "part") and margin_of(1080, steps) == 33
    passes = Passes(np.zeros((2, 3, 4), np.float32), {"depth": np.full((2, 3, 1), 5.0, np.float32)})
    np.testing.assert_allclose(
        scene_light(passes, Finishing(0, "shoulder", np.zeros(3)), steps), 1.0, rtol=1e-6
    )


def test_a_window_with_its_margin_comes_out_as_the_whole_picture_does_there() -> None:
    rng = np.random.default_rng(3)
    whole = Passes(np.concatenate([rng.random((60, 90, 3)), np.ones((60, 90, 1))], axis=2).astype(np.float32))
    sigma = 2.0
    blur = Step(
        "blur",
        lambda light, *_: cv2.GaussianBlur(light, (13, 13), sigma, borderType=cv2.BORDER_REFLECT),
        margin=6.5 / 60,
    )
    settings, steps = Finishing(0.3, "shoulder", np.zeros(3)), (*STEPS, blur)
    margin = margin_of(60, steps)
    part = Passes(whole.beauty[20 - margin : 40 + margin, 30 - margin : 60 + margin])
    inner = scene_light(part, settings, steps)[margin:-margin, margin:-margin]
    np.testing.assert_allclose(inner, scene_light(whole, settings, steps)[20:40, 30:60], atol=1e-6)


@pytest.mark.parametrize("name", ["main-title", "part-one", "part-two"])
def test_a_regions_backdrop_is_that_of_the_whole_picture_there(name: str) -> None:
    state = replace(frame_state(demo_shots()[name], bake(demo_shots()[name], np.zeros(1)), 0), optics={})
    size, window = (96, 54), Window(20, 10, 40, 30)
    empty = np.zeros((54, 96, 4), np.float32)
    whole = finished(Passes(empty), finishing(state, size))
    part = finished(Passes(empty[window.slices]), finishing(state, size, window))
    np.testing.assert_array_equal(part, whole[window.slices])
