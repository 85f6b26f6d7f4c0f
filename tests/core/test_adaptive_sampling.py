"""Samples go where noise is."""

from __future__ import annotations

import numpy as np

from dreizack.core.render.sampling.adaptive import FREE, LEFT_AT_EDGES, MOST, allocate_samples

NONE = np.zeros((64, 64), np.bool_)


def noisy(deviation: np.ndarray, seed: int = 3, stretches: float = 1 + FREE) -> np.ndarray:
    """Means of four samples of pixels that look half bright, with noise."""
    rng = np.random.default_rng(seed)
    samples = 0.5 + rng.standard_normal((4, *deviation.shape)) * deviation
    there = np.ones_like(deviation)
    return np.stack(
        [there, there, there, there, samples.mean(axis=0), (samples**2).mean(axis=0), there * stretches],
        axis=-1,
    ).astype(np.float32)


def test_the_budget_is_kept_and_noise_gets_more() -> None:
    deviation = np.full((64, 64), 0.02)
    deviation[:, 32:] = 0.2
    wanted = allocate_samples(noisy(deviation), NONE, 4, 16)
    assert 8 < wanted.mean() <= 16
    assert wanted[:, 36:].mean() > 3 * wanted[:, :28].mean()
    # Powers of two times what was given.
    assert set(np.unique(np.log2(wanted / 4) % 1)) == {0.0}


def test_error_is_smaller_than_with_as_many_samples_everywhere() -> None:
    """Variance over samples, summed: what Neyman's allotment makes least."""
    deviation = np.full((64, 64), 0.01)
    deviation[20:40, 20:40] = 0.3
    wanted = allocate_samples(noisy(deviation), NONE, 4, 16)
    assert (deviation**2 / wanted).sum() < 0.5 * (deviation**2 / 16).sum()
    assert wanted.max() <= 16 * MOST


def test_nothing_is_spent_where_nothing_is() -> None:
    light = noisy(np.full((64, 64), 0.1))
    light[:, 32:, :4] = 0
    light[:, 32:, 5] = light[:, 32:, 4] ** 2
    light[:, 32:, 6] = 1
    wanted = allocate_samples(light, NONE, 4, 16)
    assert (wanted[:, 40:] == 4).all()
    # What is left of the time of empty pixels goes to the others.
    left = 12 * (1 - FREE)
    assert 16 + 0.5 * left < wanted[:, :28].mean() <= (16 + left) * 1.15


def test_long_paths_get_fewer_samples_for_the_same_time() -> None:
    light = noisy(np.full((64, 64), 0.1), stretches=2 + FREE)
    light[:, 32:, 6] = 8 + FREE
    wanted = allocate_samples(light, NONE, 4, 32).astype(float)
    short, long = wanted[:, :28].mean(), wanted[:, 36:].mean()
    assert 1.6 < short / long < 2.5
    assert 0.8 < (2 * short + 8 * long) / (10 * 32) <= 1.05


def test_noise_that_nobody_sees_is_left() -> None:
    wanted = allocate_samples(noisy(np.full((64, 64), 0.03)), NONE, 4, 64, enough=0.03)
    assert (wanted == 4).all()


def test_edges_get_more_as_a_denoiser_leaves_more_noise_there() -> None:
    """Variance that is left after denoising, summed, is least where as much more goes to edges as it leaves
    more there."""
    deviation = np.full((64, 64), 0.1)
    edges = NONE.copy()
    edges[:, 20:36] = True
    left = deviation * np.where(edges, LEFT_AT_EDGES, 1)
    alike, wanted = (allocate_samples(noisy(deviation), mask, 4, 16).astype(float) for mask in (NONE, edges))
    assert wanted.mean() <= 16
    assert wanted[:, 22:34].mean() > 2 * wanted[:, 40:].mean()
    assert (left**2 / wanted).sum() < 0.85 * (left**2 / alike).sum()
