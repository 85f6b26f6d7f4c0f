"""Lights found from what spots are to look like: against lights that are known to make them so."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.colour import LUMINANCE
from dreizack.core.document import Shot
from dreizack.core.light import key_fill_rim, painted_lights, repainted, wanted_light


@given(st.integers(0, 10_000))
def test_known_factors_are_found_again(seed: int) -> None:
    random = np.random.default_rng(seed)
    shares = random.uniform(0, 0.5, (6, 3, 3)) + np.eye(3).repeat(2, axis=0)[:, :, None] * 0.5
    factors = 2.0 ** random.uniform(-1.5, 1.5, 3)
    wanted = np.einsum("slc,l->sc", shares, factors)
    made = repainted(shares, np.zeros((6, 3)), wanted, 3.0, tints=False)
    assert np.allclose(made.factors, factors[:, None], rtol=0.04)
    assert np.allclose(made.light, wanted, rtol=0.03)


def test_one_spot_brighter_another_as_it_was() -> None:
    # The key falls on both, the rim on the second alone.
    shares = np.array([[[0.4] * 3, [0.0] * 3], [[0.3] * 3, [0.3] * 3]])
    light = shares.sum(axis=1)
    wanted = wanted_light(light, np.array([0.5, 0.0]), np.zeros(2))
    made = repainted(shares, np.zeros((2, 3)), wanted, 3.0, tints=False)
    assert np.allclose(made.light, wanted, rtol=0.02)
    assert made.stops[0] == pytest.approx(0.5, abs=0.03) and made.stops[1] < -0.5


def test_limits_hold_and_lights_that_do_nothing_stay() -> None:
    shares = np.array([[[0.4] * 3, [0.0] * 3]])
    made = repainted(shares, np.zeros((1, 3)), np.full((1, 3), 40.0), 1.0, tints=False)
    assert made.factors.max() <= 2 and np.allclose(made.factors[1], 1, atol=1e-3)
    dark = repainted(shares, np.zeros((1, 3)), np.zeros((1, 3)), 2.0, tints=False)
    assert dark.factors.min() >= 0.25 - 1e-9


@given(st.floats(-1, 1), st.floats(-3, 3))
def test_warmer_is_as_bright_and_redder(warmth: float, stops: float) -> None:
    light = np.array([[0.3, 0.2, 0.1]])
    made = wanted_light(light, np.array([stops]), np.array([warmth]))
    assert float((made @ LUMINANCE)[0]) == pytest.approx(float((light @ LUMINANCE)[0]) * 2**stops, rel=1e-6)
    assert made[0, 0] / made[0, 2] == pytest.approx(3 * 2.0**warmth, rel=1e-6)


def test_factors_become_values_of_the_document() -> None:
    shot = Shot(things={**key_fill_rim()})
    shot.things["key"].colour_by = "kelvin"  # type: ignore[union-attr]
    factors = np.array([[2.0, 2.0, 2.0], [1.0, 1.0, 1.0], [1.5, 1.0, 0.7]])
    made = {one.light: one for one in painted_lights(shot, 0, ["key", "fill", "rim"], factors)}
    assert set(made) == {"key", "rim"}
    key = shot.lights["key"]
    assert made["key"].values == {"/things/key/intensity": pytest.approx(key.intensity + 1)}
    assert not made["key"].tinted and not made["key"].choices
    assert made["rim"].tinted and made["rim"].values["/things/rim/tint/b"] < 0.6
    surroundings = painted_lights(shot, 0, ["surroundings"], np.full((1, 3), 0.5))
    assert surroundings[0].values["/surroundings/strength"] == pytest.approx(-1.0)
