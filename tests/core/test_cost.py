"""What an order will take is told from what frames took."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.media.cost import Cost, fitted_cost

TOOK = st.tuples(st.floats(256, 3.3e7), st.sampled_from([4.0, 16.0, 64.0]), st.floats(1e-3, 3600))


def taken(true: Cost, sizes: list[tuple[int, int]], noise: float = 0.1) -> list[tuple[float, float, float]]:
    rng = np.random.default_rng(3)
    return [(p, s, true.seconds(p, s) * rng.uniform(1 - noise, 1 + noise)) for p, s in sizes]


def test_nothing_is_told_by_nothing() -> None:
    assert fitted_cost([]) is None and fitted_cost([(1e6, 4, 0.0)]) is None


@given(st.floats(0.02, 5), st.floats(0.1, 10), st.floats(0.02, 2))
def test_frames_of_two_sizes_tell_those_of_a_third(frame: float, million: float, sample: float) -> None:
    true = Cost(frame, million, sample)
    sizes = [(480 * 270, 4), (960 * 540, 4), (480 * 270, 16), (1280 * 720, 16)] * 30
    found = fitted_cost(taken(true, sizes, 0.05))
    assert found is not None
    for pixels, samples in ((640 * 360, 4), (854 * 480, 16), (1920 * 1080, 16)):
        assert found.seconds(pixels, samples) == pytest.approx(true.seconds(pixels, samples), rel=0.25)


def test_small_frames_do_not_promise_that_large_ones_cost_their_pixels() -> None:
    """A frame of 480 × 270 took 1.85 s, most of it for being a frame: one of seven times the pixels does not
    take thirteen seconds at the same quality, nor less than twice as long."""
    found = fitted_cost([(480 * 270, 4, 1.85)] * 40)
    assert found is not None and found.seconds(480 * 270, 4) == pytest.approx(1.85, rel=0.01)
    assert 3.7 < found.seconds(1280 * 720, 4) < 10


@given(st.lists(TOOK, min_size=1, max_size=40))
def test_whatever_was_measured_a_cost_is_finite_and_grows(took: list[tuple[float, float, float]]) -> None:
    found = fitted_cost(took)
    assert found is not None
    costs = [found.seconds(pixels, samples) for pixels in (1e4, 1e6, 8e6) for samples in (4, 16, 64)]
    assert np.isfinite(costs).all() and min(costs) >= 0
    assert sorted(costs[:3]) == costs[:3] and costs[0] <= costs[3] <= costs[6]
