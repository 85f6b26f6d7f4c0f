"""Colours of what takes up a part of a pixel."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from dreizack.core.render.sampling.unpremultiply import unpremultiply

SHARES = arrays(np.float32, (9, 12), elements=st.floats(0, 1, width=32).map(lambda x: 0.0 if x < 0.01 else x))


@given(share=SHARES, colour=st.lists(st.floats(0, 50, width=32), min_size=3, max_size=6))
def test_one_colour_stays_what_it_is_whatever_it_takes_up(share: np.ndarray, colour: list[float]) -> None:
    found = unpremultiply(share[..., None] * np.array(colour, np.float32), share)
    there = share > 0
    np.testing.assert_allclose(
        found[there], np.broadcast_to(np.array(colour), found.shape)[there], rtol=2e-4, atol=1e-5
    )


@given(share=SHARES)
def test_colours_lie_between_those_of_the_neighbourhood_and_full_pixels_keep_theirs(
    share: np.ndarray,
) -> None:
    colour = np.random.default_rng(3).random((*share.shape, 3)).astype(np.float32)
    found = unpremultiply(colour * share[..., None], share)
    full = share == 1
    np.testing.assert_allclose(found[full], colour[full], atol=1e-6)
    assert found.min() >= -1e-5 and found.max() <= 1 + 1e-4


def test_next_to_what_is_there_a_pixel_has_its_colour_and_far_from_it_none() -> None:
    share = np.zeros((30, 30), np.float32)
    share[10:20, 10:20] = 1
    found = unpremultiply(share[..., None] * np.float32([2, 1, 0.5]), share)
    np.testing.assert_allclose(found[9, 9], [2, 1, 0.5], rtol=1e-5)
    assert not found[:7].any() and not found[:, 24:].any()
    assert not unpremultiply(np.zeros((4, 4, 3), np.float32), np.zeros((4, 4), np.float32)).any()


def test_few_samples_tell_more_of_an_edge_once_its_coverage_is_known() -> None:
    """A disc whose brightness runs across it, and 8 samples a pixel of it: random numbers against the known
    picture."""
    rng = np.random.default_rng(8)
    rows, columns, inner = 48, 48, 16
    y, x = np.mgrid[0 : rows * inner, 0 : columns * inner] / inner
    within = (x - 24) ** 2 + (y - 24) ** 2 < 17**2
    bright = np.where(within, 1 + 0.02 * x, 0)
    true, share = (
        p.reshape(rows, inner, columns, inner).mean(axis=(1, 3)) for p in (bright, within.astype(float))
    )
    at_y = rng.integers(0, inner, (8, rows, columns)) + np.arange(rows)[None, :, None] * inner
    at_x = rng.integers(0, inner, (8, rows, columns)) + np.arange(columns)[None, None, :] * inner
    few, own = (p[at_y, at_x].mean(axis=0).astype(np.float32) for p in (bright, within.astype(float)))
    found = unpremultiply(few[..., None], own)[..., 0] * share
    edge = (share > 0.05) & (share < 0.95)
    assert edge.sum() > 80
    assert np.sqrt(np.mean((found - true)[edge] ** 2)) < 0.2 * np.sqrt(np.mean((few - true)[edge] ** 2))
