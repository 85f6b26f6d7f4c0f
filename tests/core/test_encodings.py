"""Footage that a camera encoded comes out as the light that was."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from dreizack.core.colour import (
    AS_SEEN,
    decoded_light,
    encodings,
    footage_light,
    footage_values,
    from_acescct,
    to_acescct,
    view_curve,
)
from dreizack.core.document import Plate, Shot
from dreizack.core.document.vocabulary import describe
from dreizack.core.render.staging import plate_touches
from dreizack.core.scene import Behind, PatchState, bake, frame_state

# Linear ACES AP1 from Rec.709 (D65 to D60 by Bradford), as the Academy's TB-2014-004 gives it.
TO_AP1 = np.array(
    [[0.613097, 0.339523, 0.047379], [0.070194, 0.916354, 0.013452], [0.020616, 0.109570, 0.869815]]
)


@given(st.lists(st.floats(0.002, 8), min_size=3, max_size=3))
def test_a_logarithm_comes_back_as_light(colour: list[float]) -> None:
    light = np.array([colour], np.float32)
    encoded = to_acescct((light @ TO_AP1.T).astype(np.float32))
    np.testing.assert_allclose(decoded_light(encoded, "ACEScct"), light, rtol=2e-3, atol=2e-3)


@pytest.mark.parametrize("name", encodings())
def test_every_encoding_is_there_and_keeps_greys_grey_and_in_order(name: str) -> None:
    steps = np.repeat(np.linspace(0.2, 0.5, 25, dtype=np.float32)[:, None], 3, axis=1)
    light = decoded_light(steps, name)
    assert np.isfinite(light).all()
    assert (np.diff(light, axis=0) >= 0).all() and (light[-1] > light[0]).all()
    np.testing.assert_allclose(np.ptp(light, axis=1) / light.mean(axis=1), 0, atol=2e-3)


def test_shapes_stay_and_nothing_is_written_over() -> None:
    values = np.full((4, 5, 3), 0.5, np.float32)
    assert decoded_light(values, "ACEScct").shape == (4, 5, 3)
    assert (values == 0.5).all()
    np.testing.assert_allclose(
        decoded_light(values, "ACEScct")[0, 0], from_acescct(np.full(3, 0.5, np.float32)), rtol=1e-3
    )


def test_what_is_as_seen_comes_out_as_it_was_and_what_is_encoded_does_not_depend_on_the_view() -> None:
    values = np.linspace(0, 0.98, 30, dtype=np.float32).reshape(10, 3)
    light = footage_light(values, AS_SEEN, "shoulder", 1.5)
    np.testing.assert_allclose(view_curve(light * np.float32(2**1.5)), values, atol=1e-4)
    one, other = (footage_light(values, "ACEScct", view, e) for view, e in (("shoulder", 0), ("film", 2)))
    np.testing.assert_array_equal(one, other)


def test_an_encoding_nobody_knows_is_refused_and_known_ones_are_offered() -> None:
    with pytest.raises(ValidationError, match="there is no encoding"):
        Plate(encoding="something else")
    offered = next(value for value in describe()["plate"] if value["pointer"] == "/encoding")
    assert offered["kind"] == "choice"
    assert offered["choices"][0] == AS_SEEN and "ACEScct" in offered["choices"]


@pytest.mark.parametrize("name", [AS_SEEN, "ACEScct", encodings()[-1]])
def test_light_comes_back_as_what_the_camera_wrote(name: str) -> None:
    values = np.linspace(0.1, 0.7, 30, dtype=np.float32).reshape(10, 3)
    light = footage_light(values, name, "shoulder", 0.7)
    np.testing.assert_allclose(footage_values(light, name, "shoulder", 0.7), values, atol=2e-4)


@pytest.mark.parametrize("lit", [True, False])
def test_flat_areas_of_encoded_footage_show_light(lit: bool, monkeypatch: pytest.MonkeyPatch) -> None:
    """A still of the plate laid over itself changes nothing, a picture shows its own light."""
    random = np.random.default_rng(3)
    codes = np.clip(random.normal(0.45, 0.05, (54, 96, 3)), 0, 1).astype(np.float32)
    light = decoded_light(codes, "ACEScct")
    grey = np.full((54, 96, 3), 0.18, np.float32)
    monkeypatch.setattr(plate_touches, "plate_frame", lambda *_: codes)
    monkeypatch.setattr(plate_touches, "picture_light", lambda _: grey)
    outline = np.array([[0.2, 0.2], [0.8, 0.2], [0.8, 0.8], [0.2, 0.8]])
    patch = PatchState(outline, np.eye(3), 1.0, 0.0, 0, "", lit)
    shot = Shot()
    plain = frame_state(shot, bake(shot, np.array([0.0])), 0)
    behind = Behind("plate", (0.0, 0.0, 0.0), "a.clip", 0.0, encoding="ACEScct")
    state = replace(plain, behind=behind, patches=(patch,))
    np.testing.assert_allclose(plate_touches.patched(light, state), light, rtol=2e-2)
    if not lit:
        shown = plate_touches.patched(light, replace(state, patches=(replace(patch, picture="a.png"),)))
        np.testing.assert_allclose(shown[20:34, 30:66], 0.18, rtol=1e-4)
        np.testing.assert_array_equal(shown[:8], light[:8])
