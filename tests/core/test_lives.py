"""Grains that live a while, and strands drawn by hand."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from dreizack.core.document import Body, Mark, Piece, Shot, Strand, Swarm, Title
from dreizack.core.form.ornaments import places_of_grains
from dreizack.core.form.ornaments.lives import bounced
from dreizack.core.scene import BodyStore, bake, body_points

STEP = 1e-4


def simulated(height: float, speed: float, falls: float, bounce: float, seconds: float) -> float:
    """The same by small steps in time, impacts placed within their step."""
    for _ in range(round(seconds / STEP)):
        before, height = height, height + speed * STEP - falls / 2 * STEP**2
        speed -= falls * STEP
        if height < 0:
            share = before / max(before - height, 1e-12)
            speed = -speed * bounce
            height = max(speed * (1 - share) * STEP, 0.0)
            if speed < falls * STEP * 4:
                return 0.0
    return height


@settings(max_examples=25)
@given(st.floats(0, 3), st.floats(-2, 6), st.floats(2, 20), st.floats(0.2, 0.8), st.floats(0.05, 2.5))
def test_bounces_are_those_of_a_simulation(
    height: float, speed: float, falls: float, bounce: float, seconds: float
) -> None:
    speed = speed if height > 0.01 else abs(speed) + 0.5
    ours = bounced(np.array([height]), np.array([speed]), np.array([seconds]), falls, bounce)[0]
    fastest = np.sqrt(speed**2 + 2 * falls * height)
    assert ours == pytest.approx(simulated(height, speed, falls, bounce, seconds), abs=fastest * STEP * 60)


@given(
    st.floats(0, 60), st.floats(0.1, 9), st.floats(0, 20), st.floats(0, 20), st.booleans(), st.floats(0, 0.95)
)
def test_grains_stay_above_their_ground_and_are_numbers(
    seconds: float, life: float, thrown: float, falls: float, ground: bool, bounce: float
) -> None:
    swarm = Swarm(
        count=50, life=life, thrown=thrown, falls=falls, ground=ground, ground_height=-0.3, bounce=bounce
    )
    places, size = places_of_grains(swarm, seconds)
    assert np.isfinite(places).all()
    assert (size >= 0).all()
    assert not ground or places[:, 1].min() >= -0.3 - 1e-9


def test_a_grain_begins_anew_elsewhere_when_its_life_is_over() -> None:
    swarm = Swarm(count=400, life=2.0, swirl=0, thrown=1.0, ages="alike", variety=0)
    now, later = places_of_grains(swarm, 1.0)[0], places_of_grains(swarm, 3.0)[0]
    # As old as then, in another life.
    assert np.linalg.norm(later - now, axis=1).min() > 1e-3
    soon = places_of_grains(swarm, 1.0 + 1e-4)[0]
    assert np.median(np.linalg.norm(soon - now, axis=1)) < 2e-4


def test_sizes_over_life() -> None:
    fading = Swarm(count=2000, life=2.0, variety=0, size=0.01)
    _, size = places_of_grains(fading, 5.0)
    assert size.max() == pytest.approx(0.01)
    assert size.min() < 0.0005
    _, alike = places_of_grains(fading.model_copy(update={"ages": "alike"}), 5.0)
    np.testing.assert_allclose(alike, 0.01)


def test_swarms_without_a_life_are_what_they_were() -> None:
    places, _ = places_of_grains(Swarm(count=3, seed=4), 1.5)
    fallen, _ = places_of_grains(Swarm(count=3, seed=4, falls=9, thrown=3, ground=True), 1.5)
    np.testing.assert_array_equal(places, fallen)


def points(shot: Shot, name: str) -> np.ndarray:
    body, bodies = bake(shot, np.zeros(1)).titles[name], BodyStore()
    return body_points(body.forms[0], body.matrix[0], body.poses_at(0), bodies)[0]


def test_a_strand_runs_along_a_line_drawn_by_hand() -> None:
    strand = Strand(rule="drawn", drawn="M-1 0C-0.5 1 0.5 1 1 0", thickness=0.02, taper=0)
    around = points(Shot(things={"strand": strand}), "strand")
    t = np.linspace(0, 1, 2000)[:, None]
    way = (
        (1 - t) ** 3 * [-1, 0]
        + 3 * (1 - t) ** 2 * t * [-0.5, 1]
        + 3 * (1 - t) * t**2 * [0.5, 1]
        + t**3 * [1, 0]
    )
    off = np.linalg.norm(around[:, None, :2] - way[None], axis=2).min(axis=1)
    assert np.hypot(off, around[:, 2]).max() < 0.0115
    assert around[:, 0].min() < -0.98 and around[:, 0].max() > 0.98


def test_a_closed_line_has_no_ends_and_lines_beside_it_keep_their_distance() -> None:
    ring = Strand(rule="drawn", drawn="M-1 -1L1 -1L1 1L-1 1Z", thickness=0.02, count=2, spread=0.2, taper=1)
    around = points(Shot(things={"strand": ring}), "strand")
    off = np.abs(np.abs(around[:, :2]).max(axis=1))
    assert set(np.round(off[(np.abs(around[:, 0]) < 0.5)] * 10).tolist()) <= {9.0, 11.0}


def test_what_is_no_path_data_is_refused() -> None:
    with pytest.raises(ValidationError, match="path data"):
        Strand(rule="drawn", drawn="round and round")


def test_strands_run_along_marks_and_grains_lie_on_them() -> None:
    mark = Mark(pieces=[Piece(path="M0 0L1 0L1 1L0 1Z")])
    things = {
        "mark": mark,
        "strand": Strand(rule="outline", along="mark", thickness=0.01),
        "swarm": Swarm(around="mark", gather=1, count=300, size=0.002, swirl=0),
    }
    shot = Shot(things=things)
    corners = points(shot, "mark")
    low, high = corners.min(axis=0), corners.max(axis=0)
    for name in ("strand", "swarm"):
        around = points(shot, name)
        assert (around >= low - 0.02).all() and (around <= high + 0.02).all()
        assert np.ptp(around[:, 0]) > 0.9 * (high - low)[0]


def test_grains_follow_the_depth_of_what_they_lie_on() -> None:
    def shot(depth: float) -> Shot:
        title = Title(words="EBB", body=Body(depth=depth))
        return Shot(things={"title": title, "swarm": Swarm(around="title", gather=1, size=0.002, count=400)})

    assert np.ptp(points(shot(0.4), "swarm")[:, 2]) > 2 * np.ptp(points(shot(0.1), "swarm")[:, 2])
