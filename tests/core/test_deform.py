"""Deformations against what geometry says."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import Body, Deformation, Setting, Shell, Title
from dreizack.core.form import examine
from dreizack.core.form.deform import deformed
from dreizack.core.form.refine import refined
from dreizack.core.scene import BodyStore, Form

KINDS = ("bend", "twist", "taper", "bulge")


def column(count: int = 2000) -> tuple[np.ndarray, np.ndarray]:
    """Points and normals of a round column of radius 0.1 along x, from 0 to 2."""
    rng = np.random.default_rng(1)
    turn = rng.uniform(0, 2 * np.pi, count)
    x = rng.uniform(0, 2, count)
    x[:2] = 0, 2
    turn[:4] = 0, np.pi / 2, np.pi, 3 * np.pi / 2
    normal = np.column_stack([np.zeros(count), np.cos(turn), np.sin(turn)])
    return np.column_stack([x, 0.1 * normal[:, 1], 0.1 * normal[:, 2]]), normal


def test_a_bent_column_is_a_piece_of_a_torus() -> None:
    position, normal = column()
    moved, facing = deformed(
        position, normal, np.zeros(len(position), np.int64), Deformation(kind="bend", amount=90)
    )
    # The middle line keeps its length of 2: an arc of a quarter turn has the radius 4 / pi; it bends away, to
    # -z.
    radius = 2 / (np.pi / 2)
    centre = np.array([1.0, 0.0, -radius])
    away = np.hypot(moved[:, 0] - centre[0], moved[:, 2] - centre[2])
    np.testing.assert_allclose(np.hypot(away - radius, moved[:, 1]), 0.1, atol=1e-9)
    # Normals are those of the torus.
    ring = (
        np.column_stack([moved[:, 0] - centre[0], np.zeros(len(moved)), moved[:, 2] - centre[2]])
        * (radius / away)[:, None]
    )
    truth = moved - centre - ring
    truth /= np.linalg.norm(truth, axis=1, keepdims=True)
    np.testing.assert_allclose(facing, truth, atol=1e-4)


def test_a_twist_turns_the_end_by_its_angle_and_a_taper_scales_it() -> None:
    position, normal = column()
    group = np.zeros(len(position), np.int64)
    twisted, _ = deformed(position, normal, group, Deformation(kind="twist", amount=90))
    end = np.flatnonzero(position[:, 0] == 2)[0]
    np.testing.assert_allclose(twisted[end, 1:], [-position[end, 2], position[end, 1]], atol=1e-9)
    tapered, facing = deformed(position, normal, group, Deformation(kind="taper", amount=-50))
    np.testing.assert_allclose(np.hypot(*tapered[:, 1:].T), 0.1 * (1 - 0.5 * position[:, 0] / 2), atol=1e-9)
    # The slope of a cone that loses 0.05 over 2.
    np.testing.assert_allclose(facing[:, 0], 0.05 / np.hypot(2, 0.05), atol=1e-3)


@given(
    st.sampled_from(KINDS),
    st.sampled_from("xyz"),
    st.floats(-300, 300),
    st.floats(0, 0.4),
    st.floats(0.6, 1),
    st.floats(-180, 180),
)
def test_outside_its_range_nothing_but_a_rigid_move_happens(
    kind: str, axis: str, amount: float, start: float, end: float, towards: float
) -> None:
    rng = np.random.default_rng(3)
    position = rng.uniform(-1, 1, (200, 3))
    how = Deformation(kind=kind, axis=axis, amount=amount, start=start, end=end, direction=towards)
    moved, facing = deformed(position, np.tile([0.0, 0, 1], (200, 1)), np.zeros(200, np.int64), how)
    assert np.isfinite(moved).all()
    np.testing.assert_allclose(np.linalg.norm(facing, axis=1), 1, atol=1e-6)
    u = "xyz".index(axis)
    low = position[:, u].min() + start * np.ptp(position[:, u])
    before = np.flatnonzero(position[:, u] < low)
    if kind in ("bend", "twist") and len(before) > 1:
        a, b = position[before], moved[before]
        np.testing.assert_allclose(
            np.linalg.norm(b - b[0], axis=1), np.linalg.norm(a - a[0], axis=1), atol=1e-6
        )


@pytest.mark.parametrize("over", ["letter", "word", "line", "title"])
@pytest.mark.parametrize("kind", KINDS)
def test_deformed_letters_stay_closed(kind: str, over: str) -> None:
    title = Title(
        words="EBB TO\nSLACK",
        setting=Setting(typeface="zilla-slab"),
        shells=[Shell()],
        deformations=[
            Deformation(kind=kind, over=over, amount=60),
            Deformation(kind="twist", axis="y", over="word", amount=20),
        ],
    )
    bodies = BodyStore()
    letters = bodies.letters(Form(title))
    assert len(letters) == 2 * 10
    for letter in letters:
        body = bodies.get(letter.body)
        assert body is not None and examine(body).open_edges == 0, (kind, over)
        assert examine(body).volume > 0


def test_refined_bodies_are_the_same_surface_with_shorter_edges() -> None:
    bodies = BodyStore()
    letter = bodies.letters(Form(Title(words="B", body=Body(depth=0.2))))[0]
    body = bodies.get(letter.body)
    assert body is not None
    fine = refined(body, np.array([0.0, 1, 0]), 0.02)
    a, b = fine.position[fine.triangles[:, [0, 1, 2]]], fine.position[fine.triangles[:, [1, 2, 0]]]
    assert np.abs(a - b)[..., 1].max() <= 0.0201
    assert examine(fine).open_edges == 0
    assert examine(fine).volume == pytest.approx(examine(body).volume, rel=1e-5)
    assert [len(fine.part(name)) >= len(body.part(name)) for name in ("face", "bevel", "wall", "back")] == [
        True
    ] * 4
