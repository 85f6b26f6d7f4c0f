"""Strands and swarms: closed bodies, true to their rules, the same at a moment however it is come by."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dreizack.core.document import Camera, Channel, Format, Key, Setting, Shot, Strand, Swarm, Title, Vector
from dreizack.core.form import examine
from dreizack.core.form.ornaments import grain_body, places_of_grains, shown_lines, tube_body
from dreizack.core.form.ornaments.noise import eddying
from dreizack.core.light import key_fill_rim
from dreizack.core.render import QUALITIES, Stage, trace
from dreizack.core.scene import BodyStore, bake, body_points, exposed, frame_names

RULES = st.sampled_from(["ring", "spiral", "line", "walk"])


@settings(max_examples=60)
@given(
    RULES,
    st.integers(1, 5),
    st.floats(-0.2, 1.1),
    st.floats(0.02, 1.2),
    st.integers(0, 9),
    st.floats(-1, 1),
    st.floats(0, 9),
)
def test_strands_are_closed_whatever_is_shown(
    rule: str, count: int, begin: float, length: float, dashes: int, travel: float, seconds: float
) -> None:
    strand = Strand(
        rule=rule,  # type: ignore[arg-type]
        count=count,
        begin=begin,
        end=begin + length,
        dashes=dashes,
        travel=travel,
        thickness=0.01,
        pulse=0.4,
        flow=0.5,
    )
    shown = shown_lines(strand, seconds)
    body = tube_body(shown)
    assert np.isfinite(body.position).all() and np.isfinite(body.normal).all()
    if body.empty:
        assert not len(shown.places)
        return
    found = examine(body)
    assert found.open_edges == 0 and found.volume > 0
    used = np.unique(body.triangles)
    np.testing.assert_allclose(np.linalg.norm(body.normal[used], axis=1), 1, atol=1e-5)


def test_rings_are_rings_and_grow_from_their_beginning() -> None:
    strand = Strand(radius=0.8, count=3, spread=0.1, taper=0)
    shown = shown_lines(strand, 0)
    assert shown.round.all()
    away = np.linalg.norm(shown.places[..., :2], axis=-1)
    np.testing.assert_allclose(away, np.broadcast_to([[0.8], [0.9], [1.0]], away.shape), atol=1e-9)
    strand.end = 0.25
    places = shown_lines(strand, 0).places[0]
    np.testing.assert_allclose(places[[0, -1], :2], [[0.8, 0], [0, 0.8]], atol=1e-9)
    strand.travel = 0.5
    np.testing.assert_allclose(shown_lines(strand, 1.0).places[0][0], [-0.8, 0, 0], atol=1e-9)
    strand.begin = strand.end = 0.4
    assert tube_body(shown_lines(strand, 0)).empty


def test_what_travels_past_the_end_of_a_line_comes_in_again() -> None:
    strand = Strand(rule="line", length=2, begin=0, end=0.4, travel=0.2, taper=0)
    total = [
        np.linalg.norm(np.diff(shown_lines(strand, t).places, axis=1), axis=2).sum() for t in (0, 2, 4, 4.5)
    ]
    np.testing.assert_allclose(total, 0.8, rtol=1e-6)
    assert [len(shown_lines(strand, t).places) for t in (0, 4)] == [1, 2]


def test_dashes_leave_their_gaps_and_wander_stays_within_reason() -> None:
    strand = Strand(rule="line", length=1, dashes=10, gap=0.3, taper=0)
    lengths = np.linalg.norm(np.diff(shown_lines(strand, 0).places, axis=1), axis=2).sum(axis=1)
    np.testing.assert_allclose(lengths, np.full(10, 0.07), rtol=1e-6)
    straight, strays = Strand(radius=1), Strand(radius=1, wander=0.2, flow=1)
    off = shown_lines(strays, 2.0).places - shown_lines(straight, 2.0).places
    assert 0.05 < np.linalg.norm(off, axis=-1).mean() < 0.4 and np.abs(off).max() < 1
    # A ring that strays still meets itself.
    step = np.linalg.norm(off - np.roll(off, 1, axis=1), axis=-1)
    assert step[:, 0].max() <= step.max() + 1e-9 < 0.2


def test_the_flow_neither_gathers_nor_thins(rng: np.random.Generator) -> None:
    places, h = rng.uniform(-2, 2, (50, 3)), 1e-4
    divergence = sum(
        (eddying(places + h * axis, 1.3, 2, 0.4, 5) - eddying(places - h * axis, 1.3, 2, 0.4, 5))[:, k]
        / (2 * h)
        for k, axis in enumerate(np.eye(3))
    )
    assert np.abs(divergence).max() < 1e-5


@given(st.permutations([0.0, 0.4, 1.3, 7.7]))
def test_a_moment_of_a_swarm_is_the_same_in_any_order(order: list[float]) -> None:
    swarm = Swarm(count=50, rise=0.3, twinkle=0.5)
    found = {seconds: places_of_grains(swarm, seconds) for seconds in order}
    for seconds, (places, size) in found.items():
        again = places_of_grains(swarm, seconds)
        assert np.array_equal(places, again[0]) and np.array_equal(size, again[1])


@pytest.mark.parametrize("cloud", ["box", "ball", "shell", "ring"])
def test_clouds_have_their_shape(cloud: str) -> None:
    swarm = Swarm(count=4000, cloud=cloud, width=2, height=2, depth=2, swirl=0)  # type: ignore[arg-type]
    places, _ = places_of_grains(swarm, 3.0)
    assert np.abs(places).max() <= 1.07
    away = np.linalg.norm(places, axis=1)
    flat = np.linalg.norm(places[:, [0, 2]], axis=1)
    assert {
        "box": bool((np.abs(places.mean(axis=0)) < 0.05).all()),
        "ball": bool(away.max() <= 1 and 0.7 < away.mean() < 0.8),
        "shell": bool(np.allclose(away, 1)),
        "ring": bool(flat.min() > 0.9),
    }[cloud]


@pytest.mark.parametrize("grain", ["spark", "drop", "flake"])
def test_grains_are_closed_bodies(grain: str) -> None:
    swarm = Swarm(count=30, grain=grain)  # type: ignore[arg-type]
    body = grain_body(swarm, *places_of_grains(swarm, 0.5))
    found = examine(body)
    assert found.open_edges == 0 and found.volume > 0 and found.degenerate == 0


def ornamented(**swarm: object) -> Shot:
    return Shot(
        format=Format(width=320, height=180, frames=20),
        things={
            "title": Title(words="EBB", setting=Setting(typeface="archivo-black")),
            "swarm": Swarm(**{"count": 300, "around": "title", **swarm}),  # type: ignore[arg-type]
            **key_fill_rim(),
        },
        camera=Camera(position=Vector(x=0.5, y=0.4, z=3.2), aim=Vector(x=0, y=0.25, z=0)),
    )


def points_of(shot: Shot, name: str, frame: float = 0) -> np.ndarray:
    body = bake(shot, np.array([frame])).titles[name]
    return body_points(body.forms[0], body.matrix[0], body.poses_at(0), BodyStore())[0]


def test_gathered_grains_lie_on_the_words_and_loose_ones_do_not() -> None:
    title = points_of(ornamented(), "title")
    low, high = title.min(axis=0), title.max(axis=0)

    def inside(gather: float) -> float:
        points = points_of(ornamented(gather=gather, size=0.0001, width=20, height=20, depth=20), "swarm")
        return float(((points > low - 1e-3) & (points < high + 1e-3)).all(axis=1).mean())

    assert inside(1.0) == 1.0 and inside(0.0) < 0.05 and 0.2 < inside(0.75) < 0.95


def test_words_gather_from_the_side_they_are_told_to() -> None:
    points = points_of(
        ornamented(gather=0.5, order="from the left", stagger=0.9, size=0.0001, width=30, swirl=0), "swarm"
    )
    title = points_of(ornamented(), "title")
    low, high = title.min(axis=0), title.max(axis=0)
    there = points[((points > low - 1e-3) & (points < high + 1e-3)).all(axis=1)]
    assert there[:, 0].mean() < (low[0] + high[0]) / 2 - 0.15 * (high[0] - low[0])


def test_a_strand_runs_along_the_outlines_of_words() -> None:
    shot = ornamented()
    shot.things["strand"] = Strand(rule="outline", along="title", thickness=0.0004)
    strand, title = points_of(shot, "strand"), points_of(shot, "title")
    np.testing.assert_allclose(strand[:, :2].min(axis=0), title[:, :2].min(axis=0), atol=0.02)
    np.testing.assert_allclose(strand[:, :2].max(axis=0), title[:, :2].max(axis=0), atol=0.02)
    shot.things["strand"].along = "nobody"  # type: ignore[union-attr]
    assert len(points_of(shot, "strand")) == 0


def test_only_what_runs_has_forms_and_names_of_its_own_by_frame() -> None:
    frames = np.arange(4.0)
    runs, rests = ornamented(flow=0.5), ornamented(flow=0)
    assert len(bake(runs, frames).titles["swarm"].forms) == 4
    assert len(bake(rests, frames).titles["swarm"].forms) == 1
    assert len(set(frame_names(runs, frames))) == 4 and len(set(frame_names(rests, frames))) == 1
    rests.channels["/things/swarm/gather"] = Channel(keys=[Key(frame=0, value=0), Key(frame=3, value=1)])
    assert len(bake(rests, frames).titles["swarm"].forms) == 4


def test_what_moves_on_stage_is_traced_as_on_a_new_one() -> None:
    shot = ornamented(flow=0.8, size=0.04)
    shot.things["ring"] = Strand(radius=0.5, travel=0.4, end=0.5, thickness=0.05)
    moving = Stage(BodyStore())
    moving.show(exposed(shot, 0.0))
    before = moving.scene
    moving.show(exposed(shot, 7.0))
    assert moving.scene is before, "only points go elsewhere"
    fresh = Stage(BodyStore())
    fresh.show(exposed(shot, 7.0))
    one, other = (trace(stage, 96, 54, QUALITIES["draft"]).rgba for stage in (moving, fresh))
    np.testing.assert_allclose(one[..., 3], other[..., 3], atol=0.02)
    assert np.abs(one - other).mean() < 0.02 * other[..., :3].mean()


def test_a_thing_that_goes_is_not_gathered_on_any_more() -> None:
    shot = ornamented(gather=1.0)
    del shot.things["title"]
    assert len(points_of(shot, "swarm")) > 0
