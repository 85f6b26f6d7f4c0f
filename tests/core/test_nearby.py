"""What is found among those nearby against what is found among all."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dreizack.core.form import crossing, limits
from dreizack.core.form.contours import Contours, polygons
from dreizack.core.form.fronts import Fronts
from dreizack.core.form.nearby import neighbours, places_along

seeds = st.integers(0, 2**32 - 1)


def rough(rng: np.random.Generator, count: int = 500) -> Contours:
    """A torn outline with holes, as of a typeface that was printed and scanned."""
    rings = []
    for middle, radius, turn, many in (((0, 0), 1.0, 1, count), ((0.2, 0.1), 0.3, -1, 60)):
        angle = turn * np.linspace(0, 2 * np.pi, many, endpoint=False)
        torn = radius * (1 + rng.normal(0, 0.02, many))
        rings.append(np.column_stack([np.cos(angle), np.sin(angle)]) * torn[:, None] + middle)
    return polygons(rings, [0, 0])


@given(seeds, st.floats(0.01, 3.0))
def test_all_within_the_radius_are_neighbours(seed: int, radius: float) -> None:
    rng = np.random.default_rng(seed)
    query, places = rng.uniform(-1, 2, (40, 2)), rng.uniform(0, 1, (60, 2))
    which, near = neighbours(query, places, radius)
    assert (np.diff(which) >= 0).all()
    found = np.zeros((40, 60), bool)
    found[which, near] = True
    away = np.linalg.norm(query[:, None] - places, axis=2)
    assert found[away <= radius].all()
    # No more than the cells around are looked at.
    assert (away[found] <= 2 * np.sqrt(2) * radius + 1e-9).all()


@given(seeds, st.floats(0.02, 1.0))
def test_places_along_sides_are_close_and_lie_on_them(seed: int, spacing: float) -> None:
    start, end = np.random.default_rng(seed).uniform(0, 1, (2, 9, 2))
    places, side = places_along(start, end, spacing)
    for k in range(9):
        own = places[side == k]
        np.testing.assert_allclose(own[[0, -1]], [start[k], end[k]], atol=1e-12)
        assert (np.linalg.norm(np.diff(own, axis=0), axis=1) <= spacing + 1e-12).all()


@settings(deadline=None, max_examples=20)
@given(seeds, st.floats(0.005, 0.4), st.booleans())
def test_the_first_front_nearby_is_the_first_of_all(seed: int, level: float, even: bool) -> None:
    rng = np.random.default_rng(seed)
    contours = rough(rng)
    count = len(contours.points)
    fronts = Fronts.of(contours, 0, np.ones(count) if even else rng.uniform(0.3, 1, count))
    query = rng.uniform(-1.1, 1.1, (300, 2))
    all_of_them, nearby = fronts.nearest(query), fronts.nearest_within(query, level)
    before = all_of_them < level * 0.999
    assert before.any()
    np.testing.assert_allclose(nearby[before], all_of_them[before], rtol=2e-3, atol=1e-6)
    assert (nearby >= all_of_them * (1 - 2e-3) - 1e-6).all()


@settings(deadline=None, max_examples=20)
@given(seeds)
def test_stops_are_eased_alike(seed: int) -> None:
    rng = np.random.default_rng(seed)
    contours = rough(rng)
    stop = np.where(rng.random(len(contours.points)) < 0.3, rng.uniform(0.01, 0.5, len(contours.points)), 0.5)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(limits, "MANY", 10**9)
        plain = limits.eased(contours, stop)
    np.testing.assert_allclose(limits.eased(contours, stop), plain, rtol=1e-5, atol=1e-6)
    away = np.linalg.norm(contours.points[:, None] - contours.points, axis=2)
    truth = (stop + limits.STEEPEST * away).min(axis=1)
    np.testing.assert_allclose(plain, truth, rtol=1e-5, atol=1e-6)


@settings(deadline=None, max_examples=20)
@given(seeds, st.floats(0.0, 0.06))
def test_the_same_sides_cross(seed: int, way: float) -> None:
    contours = rough(np.random.default_rng(seed))
    ring = contours.points + way * contours.mitre
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(crossing, "MANY", 10**9)
        plain = crossing.crossed(contours, ring)
    np.testing.assert_array_equal(crossing.crossed(contours, ring), plain)
    assert plain.any() == (way > 0) or way < 0.03
