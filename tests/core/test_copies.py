"""Copies: a thing repeated in place, turn, size, time and presence."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import (
    Channel,
    Copies,
    Format,
    Key,
    Place,
    Shot,
    Span,
    Title,
    Turn,
    Vector,
    original_of,
    with_copies,
)
from dreizack.core.document.copying import _angles, _turned
from dreizack.core.scene import bake, exposed, frame_names

FRAMES = np.arange(10.0)


def repeated(**how: object) -> Shot:
    title = Title(words="O", place=Place(position=Vector(x=0.4, y=0.2, z=-0.1), rotation=Turn(y=20)))
    title.copies = Copies(**how)  # type: ignore[arg-type]
    return Shot(format=Format(frames=40), things={"title": title})


def matrices(shot: Shot, frame: float = 0) -> list[np.ndarray]:
    baked = bake(shot, np.array([frame])).titles
    return [baked[name].matrix[0] for name in baked]


def test_steps_go_on_in_place_turn_and_size_about_the_thing_itself() -> None:
    first, one, two = matrices(repeated(count=2, x=1.0, y=0.5, yaw=30, scale=0.5))
    np.testing.assert_allclose(one[:3, 3], first[:3, 3] + [1, 0.5, 0], atol=1e-9)
    np.testing.assert_allclose(two[:3, 3], first[:3, 3] + [2, 1, 0], atol=1e-9)
    c, s = np.cos(np.radians(60)), np.sin(np.radians(60))
    turn = np.array([[c, 0, s], [0, 1, 0], [-s, 0, c]])
    np.testing.assert_allclose(two[:3, :3], 0.25 * turn @ first[:3, :3], atol=1e-9)


@pytest.mark.parametrize("around", ["upright", "facing us"])
def test_copies_around_a_circle_stand_on_it_evenly(around: str) -> None:
    found = matrices(repeated(count=5, along="circle", radius=2.0, around=around))
    places = np.array([matrix[:3, 3] for matrix in found])
    middle = places[0] - ([0, 0, 2] if around == "upright" else [0, 2, 0])
    away = places - middle
    np.testing.assert_allclose(np.linalg.norm(away, axis=1), 2, atol=1e-9)
    next_ = np.roll(away, -1, axis=0)
    np.testing.assert_allclose((away * next_).sum(axis=1) / 4, np.cos(np.radians(60)), atol=1e-9)


def test_echoes_do_later_what_the_first_does_and_fade() -> None:
    shot = repeated(count=2, delay=3, fade=0.5)
    shot.channels["/things/title/place/position/x"] = Channel(
        keys=[Key(frame=0, value=0), Key(frame=20, value=2)]
    )
    baked = bake(shot, np.arange(30.0)).titles
    first, one, two = (baked[name] for name in ("title", "title--1", "title--2"))
    np.testing.assert_allclose(one.matrix[3:], first.matrix[:-3], atol=1e-9)
    np.testing.assert_allclose(two.matrix[6:], first.matrix[:-6], atol=1e-9)
    opacity = [float(body.terms[0, 0, -2]) for body in (first, one, two)]
    np.testing.assert_allclose(opacity, [1, 0.5, 0.25])
    assert two.forms[0].key == first.forms[0].key, "all of them are one form"


def test_spans_go_along_in_time() -> None:
    shot = repeated(count=1, delay=5)
    shot.titles["title"].span = Span(whole=False, start=2, end=10)
    baked = bake(shot, np.arange(20.0)).titles
    assert np.flatnonzero(baked["title"].there).tolist() == list(range(2, 10))
    assert np.flatnonzero(baked["title--1"].there).tolist() == list(range(7, 15))


def test_scatter_goes_by_its_seed_and_names_of_pictures_by_what_is_seen() -> None:
    one, same, other = (repeated(count=3, x=1, scatter=0.3, tumble=20, seed=seed) for seed in (1, 1, 2))
    assert np.array_equal(matrices(one), matrices(same)) and not np.allclose(matrices(one), matrices(other))
    names = [frame_names(shot, np.zeros(1))[0] for shot in (one, same, other, repeated())]
    assert names[0] == names[1] and len(set(names)) == 3
    moving = repeated(count=1, delay=4)
    moving.channels["/things/title/place/position/x"] = Channel(
        keys=[Key(frame=0, value=0), Key(frame=2, value=1)]
    )
    # The first rests from frame 2 on, its echo moves until frame 6.
    found = frame_names(moving, FRAMES)
    assert len(set(found[2:7])) > 2 and len(set(found[6:])) == 1


def test_what_is_repeated_is_told_apart_and_left_alone_in_the_document() -> None:
    shot = repeated(count=2, x=1)
    before = shot.model_dump()
    made = with_copies(shot)
    assert [name for name in made.bodied] == ["title", "title--1", "title--2"]
    assert {original_of(name) for name in made.bodied} == {"title"} and shot.model_dump() == before
    assert with_copies(made) is made, "copies are made once"
    plain = repeated()
    assert with_copies(plain) is plain
    assert set(exposed(shot, 0.0).titles) == set(made.bodied)


@given(st.floats(-179, 179), st.floats(-89, 89), st.floats(-179, 179))
def test_angles_make_the_rotation_they_came_from(a: float, b: float, c: float) -> None:
    np.testing.assert_allclose(_turned(_angles(_turned([a, b, c]))), _turned([a, b, c]), atol=1e-9)
