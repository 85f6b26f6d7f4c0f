"""Footage that a camera encoded comes out as the light that was."""

from __future__ import annotations

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
    from_acescct,
    to_acescct,
    view_curve,
)
from dreizack.core.document import Plate
from dreizack.core.document.vocabulary import describe

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
