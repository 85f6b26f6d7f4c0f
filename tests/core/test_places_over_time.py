"""Spans, pivots and rigs: things come and go, hang on each other, and stay where they are."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from dreizack.core.document import (
    Camera,
    Channel,
    Drift,
    EditRefused,
    Format,
    Key,
    LetterSet,
    Light,
    Pivot,
    Place,
    Shot,
    Span,
    Title,
    Vector,
    apply_edit,
    without_item,
    without_thing,
)
from dreizack.core.document.ground import Turn
from dreizack.core.scene import bake, exposed, frame_names, frame_state, hung_on, respanned, rigged

coordinate = st.floats(-5, 5).map(lambda v: round(v, 3))
angle = st.floats(-80, 80).map(lambda v: round(v, 2))
points = st.tuples(coordinate, coordinate, coordinate).map(lambda p: Vector(x=p[0], y=p[1], z=p[2]))
turns = st.tuples(angle, angle, angle).map(lambda p: Turn(x=p[0], y=p[1], z=p[2]))
places = st.tuples(points, turns, st.floats(0.2, 4)).map(
    lambda p: Place(position=p[0], rotation=p[1], scale=p[2])
)


def keyed(*pairs: tuple[float, float]) -> Channel:
    return Channel(keys=[Key(frame=f, value=v) for f, v in pairs])


def shot_of(**things: object) -> Shot:
    return Shot.model_validate({"format": Format(frames=60), "things": things})


@given(places, places, places)
def test_hung_up_and_let_go_a_thing_stays_where_it_is(own: Place, first: Place, second: Place) -> None:
    shot = shot_of(
        title=Title(place=own), a=Pivot(place=first), b=Pivot(place=second), lamp=Light(position=own.position)
    )
    shot.things["b"].place.hangs_on = "a"  # type: ignore[union-attr]
    before = bake(shot)
    for on in ("a", "b", ""):
        for name in ("title", "lamp", "camera"):
            patch = hung_on(shot, name, on, 0)
            shot = apply_edit(shot, patch).shot if patch else shot
        after = bake(shot)
        np.testing.assert_allclose(after.titles["title"].matrix, before.titles["title"].matrix, atol=2e-3)
        np.testing.assert_allclose(after.lights["lamp"].position, before.lights["lamp"].position, atol=1e-3)
        np.testing.assert_allclose(after.camera_position, before.camera_position, atol=1e-3)


def test_what_hangs_on_a_pivot_moves_with_it() -> None:
    shot = shot_of(title=Title(place=Place(hangs_on="p", position=Vector(x=1, y=0, z=0))), p=Pivot())
    shot.channels = {"/things/p/place/rotation/y": keyed((0, 0), (40, 90))}
    place = bake(shot).titles["title"].matrix[:, :3, 3]
    np.testing.assert_allclose(place[40], [0, 0, -1], atol=1e-9)
    np.testing.assert_allclose(np.linalg.norm(place, axis=1), 1, atol=1e-9)


def test_keys_of_what_is_hung_up_go_along() -> None:
    shot = shot_of(title=Title(), p=Pivot(place=Place(position=Vector(x=0, y=2, z=0), scale=2.0)))
    shot.channels = {"/things/title/place/position/y": keyed((0, 0), (30, 1))}
    before = bake(shot).titles["title"].matrix
    shot = apply_edit(shot, hung_on(shot, "title", "p", 12)).shot
    after = bake(shot).titles["title"].matrix
    np.testing.assert_allclose(after[[0, 30]], before[[0, 30]], atol=1e-5)


def test_circles_of_hanging_are_named_and_what_leads_nowhere_stands_in_the_room() -> None:
    with pytest.raises(ValidationError, match="in a circle: a hangs on b hangs on a"):
        shot_of(a=Pivot(place=Place(hangs_on="b")), b=Pivot(place=Place(hangs_on="a")))
    shot = shot_of(title=Title(place=Place(hangs_on="nobody")))
    np.testing.assert_array_equal(bake(shot).titles["title"].matrix[0], np.eye(4))


@given(points, points, st.floats(10, 200), st.sampled_from(["distance", "size"]))
def test_a_camera_put_on_another_rig_stays_where_it_stands(
    position: Vector, aim: Vector, lens: float, keeps: str
) -> None:
    away = np.subtract([position.x, position.y, position.z], [aim.x, aim.y, aim.z])
    # Straight above there is no elevation to be told.
    if np.linalg.norm(away) < 0.2 or abs(away[1]) > 0.995 * np.linalg.norm(away):
        return
    shot = Shot(camera=Camera(position=position, aim=aim, focal_length=lens, keeps=keeps))  # type: ignore[arg-type]
    shot.channels = {
        "/camera/position/x": keyed((0, position.x), (60, position.x + 1)),
        "/camera/position/z": keyed((60, position.z)),
    }
    before = bake(shot, np.array([0.0, 60.0])).camera_position
    orbit = apply_edit(shot, rigged(shot, "orbit", 0)).shot
    assert orbit.camera.rig == "orbit"
    np.testing.assert_allclose(bake(orbit, np.array([0.0, 60.0])).camera_position, before, atol=1e-3)
    free = apply_edit(orbit, rigged(orbit, "free", 0)).shot
    np.testing.assert_allclose(bake(free, np.array([0.0, 60.0])).camera_position, before, atol=2e-3)


def test_an_orbit_stays_an_orbit() -> None:
    shot = Shot(camera=Camera(rig="orbit", azimuth=-90, elevation=10, distance=4))
    shot.channels = {"/camera/azimuth": keyed((0, -90), (60, 450))}
    baked = bake(shot, np.arange(61.0))
    distance = np.linalg.norm(baked.camera_position - baked.camera_aim, axis=1)
    np.testing.assert_allclose(distance, 4, atol=1e-9)
    np.testing.assert_allclose(
        baked.camera_position[:, 1] - baked.camera_aim[:, 1], 4 * np.sin(np.radians(10))
    )


def test_longer_lenses_that_keep_the_size_move_away() -> None:
    shot = Shot(camera=Camera(rig="orbit", keeps="size", distance=5))
    shot.channels = {"/camera/focal_length": keyed((0, 25), (60, 200))}
    baked = bake(shot, np.arange(61.0))
    distance = np.linalg.norm(baked.camera_position - baked.camera_aim, axis=1)
    size = 1 / (distance * np.tan(np.radians(baked.camera_angle / 2)))
    np.testing.assert_allclose(size, size[0], rtol=1e-9)
    assert distance[-1] == pytest.approx(20) and distance[0] == pytest.approx(2.5)


def test_the_camera_looks_at_what_it_follows_and_ahead_of_it() -> None:
    shot = shot_of(p=Pivot())
    shot.camera = Camera(aim_at="p", aim=Vector(x=0, y=1, z=0), lead=5)
    shot.channels = {
        "/things/p/place/position/x": Channel.model_validate(
            {"keys": [{"frame": 0, "value": 0, "ease": {"kind": "linear"}}, {"frame": 60, "value": 60}]}
        )
    }
    np.testing.assert_allclose(bake(shot).camera_aim[10], [15, 1, 0], atol=1e-9)


def test_outside_its_span_a_thing_is_not_there() -> None:
    shot = shot_of(
        title=Title(span=Span(whole=False, start=10, end=20)),
        lamp=Light(span=Span(whole=False, start=0, end=15)),
    )
    baked = bake(shot)
    there = [
        set(frame_state(shot, baked, f).titles) | set(frame_state(shot, baked, f).lights)
        for f in (9, 10, 14, 15, 19, 20)
    ]
    assert there == [{"lamp"}, {"title", "lamp"}, {"title", "lamp"}, {"title"}, {"title"}, set()]
    names = frame_names(shot, np.arange(60.0))
    assert [len(set(names[a:b])) for a, b in ((0, 10), (10, 15), (15, 20), (20, 60))] == [1] * 4
    assert len({names[0], names[10], names[15], names[20]}) == 4


def test_an_open_shutter_does_not_show_a_thing_before_or_after_its_time() -> None:
    shot = shot_of(title=Title(span=Span(whole=False, start=10, end=20)))
    shot.camera.shutter_angle = 360
    shot.drifts = {"/things/title/place/position/x": Drift(amplitude=1, frequency=5)}
    for frame, there in ((9, False), (10, True), (19, True), (20, False)):
        state = exposed(shot, frame)
        assert {bool(moment.titles) for moment in state.during or (state,)} == {there}


@given(st.integers(0, 40), st.integers(1, 30), st.booleans())
def test_keys_go_along_with_the_end_they_belong_to(start: int, long: int, ripple: bool) -> None:
    shot = shot_of(
        title=Title(span=Span(whole=False, start=10, end=40, arrival=6, departure=8)),
        later=Title(span=Span(whole=False, start=40, end=50)),
    )
    shot.channels = {
        "/things/title/place/position/y": keyed((10, 1), (16, 0), (25, 0.5), (32, 0), (40, 2)),
        "/things/later/place/position/y": keyed((44, 1)),
    }
    end = start + 16 + long
    edit = apply_edit(shot, respanned(shot, "title", start, end, ripple))
    found = [key.frame for key in edit.shot.channels["/things/title/place/position/y"].keys]
    whole = (start - 10, end - 40)
    held = 25 + (whole[0] if whole[0] == whole[1] else 0)
    # The hold's key gives way where the beginning or the end is moved onto it or over it.
    expected = {start, start + 6, end - 8, end, held}
    assert set(found) == {float(frame) for frame in expected}
    moved = end - 40 if ripple else 0
    assert edit.shot.channels["/things/later/place/position/y"].keys[0].frame == 44 + moved
    assert edit.shot.things["later"].span.start == 40 + moved  # type: ignore[union-attr]
    assert apply_edit(edit.shot, edit.inverse).shot == shot


def test_spans_that_cannot_be_are_refused_in_words() -> None:
    shot = shot_of(title=Title(), p=Pivot())
    with pytest.raises(EditRefused, match="from frame 9 up to frame 9"):
        respanned(shot, "title", 9, 9)
    with pytest.raises(KeyError):
        respanned(shot, "p", 0, 9)
    with pytest.raises(ValidationError, match="gone at frame 3"):
        Span(whole=False, start=5, end=3)


def test_what_is_removed_leaves_nothing_that_leads_to_it() -> None:
    shot = shot_of(
        title=Title(place=Place(hangs_on="p"), sets=[LetterSet(), LetterSet(), LetterSet()]),
        p=Pivot(),
        lamp=Light(hangs_on="p"),
    )
    shot.camera = Camera(hangs_on="p")
    at = "/things/title/sets"
    document = shot.model_dump(mode="json") | {
        "channels": {
            f"{at}/2/move/x": {"keys": [{"frame": 3, "value": 1}]},
            "/things/p/place/position/x": {"keys": [{"frame": 0, "value": 1}]},
        },
        "drifts": {f"{at}/1/move/y": {"amplitude": 1}, f"{at}/2/move/y": {"amplitude": 2}},
        "couplings": {"/things/lamp/intensity": {"source": "/things/p/place/position/x"}},
    }
    shot = Shot.model_validate(document)
    without = apply_edit(shot, without_thing(shot, "p")).shot
    assert "p" not in without.things and not without.couplings and without.camera.hangs_on == ""
    assert without.things["title"].place.hangs_on == without.things["lamp"].hangs_on == ""  # type: ignore[union-attr]
    fewer = apply_edit(shot, without_item(shot, at, 1)).shot
    assert len(fewer.titles["title"].sets) == 2
    assert list(fewer.drifts) == [f"{at}/1/move/y"] and fewer.drifts[f"{at}/1/move/y"].amplitude == 2
    assert fewer.channels[f"{at}/1/move/x"].keys[0].frame == 3
