"""A camera from edges that run two ways, against cameras that are known."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from dreizack.core.match import Contradicts, camera_from_edges, report, solve_of_edges

from .plates import Filming, looking

SIZE = (960, 540)


def camera(turn: float, height: float, focal: float) -> Filming:
    centre = np.array([[4 * np.sin(turn), height, 4 * np.cos(turn)]])
    return looking(centre, np.array([[0.0, 0.6, 0.0]]), focal)


def edges(of: Filming, way: NDArray[np.float64], noise: float = 0.0, seed: int = 0) -> NDArray[np.float64]:
    """Four edges along a way of the room, as they are seen."""
    random = np.random.default_rng(seed)
    starts = random.uniform(-1, 1, (4, 3)) * [1.2, 0.6, 1.2] + [0, 0.7, 0]
    ends = starts + way * random.uniform(0.8, 1.4, (4, 1))
    seen = np.stack([of.seen(starts, 0), of.seen(ends, 0)], axis=1)
    return seen + random.normal(0, noise, seen.shape)


WAYS = {"x": np.array([1.0, 0, 0]), "y": np.array([0.0, 1, 0]), "z": np.array([0.0, 0, -1])}


@given(st.floats(0.35, 1.2), st.floats(1.0, 2.6), st.floats(600, 1500))
@settings(max_examples=60, deadline=None)
def test_a_known_camera_is_found_from_level_edges(turn: float, height: float, focal: float) -> None:
    of = camera(turn, height, focal)
    rotation, found = camera_from_edges(edges(of, WAYS["x"]), edges(of, WAYS["z"], seed=1), SIZE, False)
    assert found == pytest.approx(focal, rel=1e-3)
    # The room may be turned by quarter turns about its upright.
    up = of.rotations[0] @ [0, 1, 0]
    np.testing.assert_allclose(rotation[:, 1], up, atol=1e-4)
    turns = of.rotations[0].T @ rotation
    np.testing.assert_allclose(np.abs(turns[np.ix_([0, 2], [0, 2])]).max(axis=0), 1, atol=1e-4)
    assert np.linalg.det(rotation) == pytest.approx(1)


@given(st.floats(0.3, 1.2), st.floats(2.2, 3.4))
@settings(max_examples=40, deadline=None)
def test_upright_edges_tell_it_too_and_a_known_lens_helps(turn: float, height: float) -> None:
    of = camera(turn, height, 900.0)
    along, upright = edges(of, WAYS["x"]), edges(of, WAYS["y"], seed=1)
    rotation, focal = camera_from_edges(along, upright, SIZE, True)
    assert focal == pytest.approx(900, rel=5e-3)
    np.testing.assert_allclose(rotation[:, 1], of.rotations[0] @ [0, 1, 0], atol=2e-3)
    known, same = camera_from_edges(along, upright, SIZE, True, 900.0)
    assert same == 900
    np.testing.assert_allclose(known[:, 1], of.rotations[0] @ [0, 1, 0], atol=1e-4)


@given(st.integers(0, 50))
@settings(max_examples=20, deadline=None)
def test_picks_that_are_a_little_off_do_little_harm(seed: int) -> None:
    of = camera(0.7, 1.7, 900.0)
    along, other = edges(of, WAYS["x"], 0.7, seed), edges(of, WAYS["z"], 0.7, seed + 100)
    lengths = [np.linalg.norm(np.diff(lines, axis=1), axis=2).min() for lines in (along, other)]
    assume(min(lengths) > 60)
    solve = solve_of_edges(along, other, SIZE, False, None, 3)
    assert solve.bundle.focal == pytest.approx(900, rel=0.15)
    assert report(solve).verdict in ("good", "usable")
    assert solve.bundle.residuals(solve.tracks) == pytest.approx(0, abs=1e-6)


def test_what_tells_no_camera_says_so() -> None:
    of = looking(np.array([[0.0, 1.0, 4.0]]), np.array([[0.0, 1.0, 0.0]]), 900.0)
    with pytest.raises(Contradicts, match="tell the focal length"):
        camera_from_edges(edges(of, WAYS["x"]), edges(of, WAYS["z"], seed=1), SIZE, False)
    turned = camera(0.7, 1.7, 900.0)
    with pytest.raises(Contradicts):
        # The same edges twice are not at right angles.
        camera_from_edges(edges(turned, WAYS["x"]), edges(turned, WAYS["x"], seed=1), SIZE, False, 900.0)
