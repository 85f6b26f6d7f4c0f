"""Strands that are wound round a body: close to it, never in it."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dreizack.core.document import Format, Mesh, Shot, Strand, Title, Vector
from dreizack.core.form.ornaments import wound
from dreizack.core.scene import BodyStore, bake, body_points

GAP = 0.05


def cylinder(radius: float, length: float) -> np.ndarray:
    x, angle = np.meshgrid(np.linspace(0, length, 300), np.linspace(0, 2 * np.pi, 400, endpoint=False))
    return np.stack([x, 1 + radius * np.cos(angle), -2 + radius * np.sin(angle)], axis=-1).reshape(-1, 3)


@given(st.floats(0.5, 12), st.integers(1, 5), st.floats(0.1, 2), st.floats(0.5, 6))
@settings(max_examples=20, deadline=None)
def test_round_a_cylinder_it_is_a_helix(turns: float, count: int, radius: float, length: float) -> None:
    lines = wound(cylinder(radius, length), turns, count, GAP)
    assert len(lines) == count
    for number, line in enumerate(lines):
        across = line[:, 1:] - [1, -2]
        np.testing.assert_allclose(np.linalg.norm(across, axis=1), radius + GAP, rtol=2e-3)
        angle = np.unwrap(np.arctan2(across[:, 1], across[:, 0]))
        assert angle[-1] - angle[0] == pytest.approx(2 * np.pi * turns, rel=1e-3)
        begins = np.mod(angle[0] / (2 * np.pi), 1)
        assert min(abs(begins - number / count), 1 - abs(begins - number / count)) < 1e-3
        assert line[0, 0] == pytest.approx(-GAP) and line[-1, 0] == pytest.approx(length + GAP)


@given(st.integers(0, 10**6))
@settings(max_examples=20, deadline=None)
def test_it_never_comes_nearer_than_its_gap(seed: int) -> None:
    """Of any cloud, in each slice: beyond all points that way, by the gap."""
    rng = np.random.default_rng(seed)
    points = rng.normal(size=(4000, 3)) * rng.uniform(0.1, 1.5, 3) + rng.uniform(-2, 2, 3)
    (line,) = wound(points, 7.3, 1, GAP)
    angle = 2 * np.pi * np.arange(360) / 360
    ways = np.stack([np.cos(angle), np.sin(angle)])
    width = np.ptp(points[:, 0]) / 96
    for k in range(20, len(line) - 20, 13):
        near = np.abs(points[:, 0] - line[k, 0]) < width / 2
        if near.any():
            # Beyond one of the walls that could be put round what is near.
            beyond = line[k, 1:] @ ways - (points[near, 1:] @ ways).max(axis=0)
            assert beyond.max() > 0.7 * GAP


def shot() -> Shot:
    strand = Strand(rule="wound", along="title", turns=5, spread=0.04, thickness=0.01)
    return Shot(format=Format(frames=2), things={"title": Title(words="EBB"), "strand": strand})


def points_of(made: Shot, name: str) -> np.ndarray:
    title = bake(made, np.array([0.0])).titles[name]
    return body_points(title.forms[0], title.matrix[0], title.poses_at(0), BodyStore())[0]


def test_round_words_it_follows_their_place_and_depth() -> None:
    made = shot()
    title = made.things["title"]
    title.place.position = Vector(x=1.5, y=0.3, z=-1)  # type: ignore[union-attr]
    words, line = points_of(made, "title"), points_of(made, "strand")
    low, high = words.min(axis=0), words.max(axis=0)
    assert (line.min(axis=0) < low).all() and (line.max(axis=0) > high).all()
    # All round: before and behind, above and below.
    assert line[:, 2].max() - high[2] == pytest.approx(0.04, abs=0.03)
    assert (line.min(axis=0) > low - 0.2).all() and (line.max(axis=0) < high + 0.2).all()
    deeper = made.model_copy(deep=True)
    deeper.things["title"].body.depth = 0.6  # type: ignore[union-attr]
    assert np.ptp(points_of(deeper, "strand")[:, 2]) > np.ptp(line[:, 2]) + 0.3


def test_round_nothing_there_is_nothing() -> None:
    made = shot()
    made.things["strand"].along = ""  # type: ignore[union-attr]
    assert not len(points_of(made, "strand"))
    missing = shot()
    missing.things["title"] = Mesh(file="nothing.mesh")
    assert not len(points_of(missing, "strand"))
