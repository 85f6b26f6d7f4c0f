"""Merging rings against the exact inset."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from manifold3d import CrossSection, FillRule, JoinType

from dreizack.core.form.collapse import advance
from dreizack.core.form.contours import SHARPEST_MITRE, polygons


def area(ring: np.ndarray) -> float:
    after = np.roll(ring, -1, axis=0)
    return float(np.sum(ring[:, 0] * after[:, 1] - ring[:, 1] * after[:, 0]) / 2)


def inset(rings: list[np.ndarray], distance: float) -> CrossSection:
    return CrossSection(rings, FillRule.Positive).offset(-distance, JoinType.Miter, SHARPEST_MITRE)


def convex(seed: int, count: int) -> np.ndarray:
    """Points of random angles on an ellipse: convex, with edges of very different lengths."""
    rng = np.random.default_rng(seed)
    angle = np.sort(rng.uniform(0, 2 * np.pi, count))
    return np.column_stack([np.cos(angle) * 1.0, np.sin(angle) * rng.uniform(0.5, 1.5)])


def sharpest(ring: np.ndarray) -> float:
    """The smallest angle inside a ring, in degrees; fronts of needles end before their ridge does."""
    before, after = np.roll(ring, 1, axis=0) - ring, np.roll(ring, -1, axis=0) - ring
    cosine = np.sum(before * after, axis=1) / np.linalg.norm(before, axis=1) / np.linalg.norm(after, axis=1)
    return float(np.degrees(np.arccos(np.clip(cosine, -1, 1))).min())


@given(st.integers(0, 10_000), st.integers(4, 40))
def test_rings_of_convex_shapes_are_the_exact_inset_however_many_edges_vanish(seed: int, count: int) -> None:
    shape = convex(seed, count)
    if area(shape) < 0.2 or sharpest(shape) < 25:
        return
    levels = np.linspace(0, 0.3, 9)
    rings = advance(polygons([shape]), levels)
    for k, level in enumerate(levels):
        exact = inset([shape], float(level))
        # Where edges vanish, those beside them may meet as a needle, too.
        if not rings.whole[k, 0] or exact.area() < 0.5 * area(shape) or sharpest(exact.to_polygons()[0]) < 25:
            break
        alive = rings.carrier[k] == np.arange(rings.position.shape[1])
        assert area(rings.position[k][alive]) == pytest.approx(exact.area(), abs=2e-4)


@given(st.integers(0, 10_000), st.integers(4, 40))
def test_merged_points_stay_together_and_in_order(seed: int, count: int) -> None:
    shape = convex(seed, count)
    if area(shape) < 0.2:
        return
    rings = advance(polygons([shape]), np.linspace(0, 0.2, 6))
    for k in range(1, 6):
        before, now = rings.carrier[k - 1], rings.carrier[k]
        # Whoever was one stays one.
        assert (now == now[before]).all()
        np.testing.assert_array_equal(rings.position[k], rings.position[k][now])


def test_points_go_their_share_of_the_way() -> None:
    square = np.array([[0.0, 0], [1, 0], [1, 1], [0, 1]])
    rings = advance(polygons([square]), np.array([0.0, 0.2]), np.full(4, 0.5))
    np.testing.assert_allclose(rings.position[1], [[0.1, 0.1], [0.9, 0.1], [0.9, 0.9], [0.1, 0.9]])


def test_letters_are_advanced_together_and_apart() -> None:
    small = np.array([[0.0, 0], [0.2, 0], [0.2, 0.2], [0, 0.2]])
    large = small * 10 + 5
    both = polygons([small, large], [0, 1])
    rings = advance(both, np.array([0.0, 0.15]))
    assert rings.whole.tolist() == [[True, True], [False, True]]
    alone = both.select(np.array([1]))
    np.testing.assert_allclose(
        advance(alone, np.array([0.15])).position[0], rings.position[1][both.letter == 1]
    )
