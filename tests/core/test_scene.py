"""Document and time to arrays; framing; names by content."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import Axis, Channel, Deformation, Key, Shot
from dreizack.core.light import panorama, source_matrix, source_radiance
from dreizack.core.scene import BodyStore, bake, body_points, frame_state, frame_titles
from dreizack.core.scene.baking import place_matrix
from dreizack.demo import demo_shots

angle = st.floats(-180, 180)


def state(shot: Shot, frame: float = 0.0) -> object:
    return frame_state(shot, bake(shot, np.array([frame])), 0)


@given(angle, angle, angle, st.floats(0.1, 5))
def test_places_turn_about_x_then_y_then_z_and_scale(x: float, y: float, z: float, scale: float) -> None:
    def about(axis: int, degrees: float) -> np.ndarray:
        c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
        a, b = (axis + 1) % 3, (axis + 2) % 3
        turn = np.eye(3)
        turn[a, a], turn[a, b], turn[b, a], turn[b, b] = c, -s, s, c
        return turn

    found = place_matrix(np.array([[1.0, 2, 3]]), np.array([[x, y, z]]), np.array([scale]))[0]
    np.testing.assert_allclose(found[:3, :3], scale * about(2, z) @ about(1, y) @ about(0, x), atol=1e-9)
    np.testing.assert_allclose(found[:3, 3], [1, 2, 3])


@given(st.lists(st.floats(-5, 5), min_size=6, max_size=6))
def test_panels_face_their_aim_with_unit_axes(c: list[float]) -> None:
    position, aim = np.array([c[:3]]), np.array([c[3:]])
    matrix = source_matrix("panel", position, aim, np.array([[2.0, 4.0]]))[0]
    axes = matrix[:3, :3] / [1, 2, 1]
    np.testing.assert_allclose(axes.T @ axes, np.eye(3), atol=1e-6)
    assert np.linalg.det(axes) == pytest.approx(1)
    far = np.linalg.norm(aim - position)
    if far > 1e-3:
        np.testing.assert_allclose(axes[:, 2], ((aim - position) / far)[0], atol=1e-6)


def test_a_larger_panel_is_softer_not_brighter() -> None:
    one = np.ones(1)
    tint = np.ones((1, 3))
    square = np.ones((1, 2))
    small, large = (source_radiance("panel", 0 * one, tint, size * square) * size**2 for size in (0.5, 3.0))
    np.testing.assert_allclose(small, large)
    np.testing.assert_allclose(
        source_radiance("panel", one, tint, square), 2 * source_radiance("panel", 0 * one, tint, square)
    )


def test_the_name_of_a_traced_picture_changes_with_all_that_tracing_sees_and_nothing_else() -> None:
    base = demo_shots()["main-title"]
    base.channels = {}
    key = state(base).traced_key
    seen = [
        ("/camera/position/x", 0.51),
        ("/camera/focal_length", 41),
        ("/things/title/words", "SLACK"),
        ("/things/title/body/depth", 0.21),
        ("/things/title/finish/roughness", 0.25),
        ("/things/key/intensity", 0.7),
        ("/surroundings/studio", "dark"),
        ("/things/title/place/scale", 1.1),
    ]
    unseen = [
        ("/camera/exposure", 1.0),
        ("/backdrop/colour/r", 0.5),
        ("/name", "Other"),
        ("/things/title/name", "Other"),
        ("/format/frames", 80),
    ]
    for pointer, value in seen + unseen:
        changed = base.model_copy(deep=True)
        owner, last = pointer.rsplit("/", 1)
        from dreizack.core.document import resolve

        target = resolve(changed, owner) if owner else changed
        setattr(target, last, value)
        assert (state(changed).traced_key != key) is ((pointer, value) in seen), pointer


def test_keyed_bodies_are_made_once_for_each_distinct_form(shot: Shot) -> None:
    shot.channels["/things/title/body/depth"] = Channel(
        keys=[Key(frame=3, value=0.1), Key(frame=6, value=0.4)]
    )
    baked = bake(shot).titles["title"]
    assert len(baked.forms) == 4
    depths = [baked.forms[i].thing.body.depth for i in baked.form]
    assert depths[:4] == [0.1] * 4 and depths[6:] == [0.4] * 6


def test_an_axis_can_be_keyed(shot: Shot) -> None:
    shot.things["title"].setting.typeface = "recursive"
    shot.things["title"].setting.axes = {"wght": Axis(value=300)}
    shot.channels["/things/title/setting/axes/wght/value"] = Channel(
        keys=[Key(frame=0, value=300), Key(frame=4, value=900)]
    )
    Shot.model_validate(shot.model_dump())
    baked = bake(shot).titles["title"]
    assert len(baked.forms) == 5
    bodies = BodyStore()
    light, heavy = (bodies.letters(baked.forms[int(baked.form[i])])[0].body for i in (0, 4))
    assert light != heavy


def test_bodies_are_shared_between_letters_and_forms(shot: Shot) -> None:
    bodies = BodyStore()
    letters = bodies.letters(bake(shot).titles["title"].forms[0])
    assert len(letters) == 3
    assert letters[1].body == letters[2].body != letters[0].body
    assert bodies.get(letters[1].body) is bodies.get(letters[2].body)


def test_store_forgets_the_oldest_bodies_and_builds_them_again_when_asked(shot: Shot) -> None:
    bodies = BodyStore(limit=3)
    first = bodies.letters(bake(shot).titles["title"].forms[0])
    made = bodies.get(first[0].body)
    for words in ("TIDE", "FLOW"):
        shot.things["title"].words = words
        bodies.letters(bake(shot).titles["title"].forms[0])
    mark = bodies.mark()
    again = bodies.get(first[0].body)
    assert first[0].body in bodies.since(mark)
    assert made is not None and again is not None and again is not made
    np.testing.assert_array_equal(again.position, made.position)
    assert bodies.get("nobody") is None


def test_letters_are_named_before_they_are_built(shot: Shot) -> None:
    bodies = BodyStore()
    shot.things["title"].deformations = [Deformation(kind="bend", amount=40)]
    form = bake(shot).titles["title"].forms[0]
    named = bodies.named(form)
    assert bodies.since(0) == []
    assert [letter.body for letter in named] == [letter.body for letter in bodies.letters(form)]
    assert bodies.get(named[0].body) is not None


@given(st.sampled_from(["main-title", "part-one", "lower-third"]), st.integers(0, 79), st.floats(0.3, 0.95))
def test_framed_titles_fill_the_share_asked_for(name: str, frame: int, fill: float) -> None:
    shot = demo_shots()[name]
    bodies = BodyStore()
    framed = frame_titles(shot, bodies, frame, fill)
    assert framed is not None
    shot.camera.position, shot.camera.aim = framed
    shot.channels = {p: c for p, c in shot.channels.items() if not p.startswith("/camera")}
    seen = project(shot, bodies, frame)
    assert np.abs(seen).max() == pytest.approx(fill, abs=0.02)


def project(shot: Shot, bodies: BodyStore, frame: int) -> np.ndarray:
    """Corners of all letters in the picture, -1..1 each way."""
    baked = bake(shot, np.array([float(frame)]))
    position, aim = baked.camera_position[0], baked.camera_aim[0]
    back = (position - aim) / np.linalg.norm(position - aim)
    side = np.cross([0, 1, 0], back)
    side /= np.linalg.norm(side)
    points = []
    for title in (baked.titles[name] for name in shot.titles):
        points.append(body_points(title.forms[0], title.matrix[0], title.poses_at(0), bodies)[0])
    away = np.concatenate(points) - position
    depth = -(away @ back) * np.tan(np.radians(baked.camera_angle[0]) / 2)
    return np.column_stack([away @ side / depth / shot.format.aspect, away @ np.cross(back, side) / depth])


def test_nothing_to_frame_without_letters(shot: Shot) -> None:
    shot.things["title"].words = "   "
    assert frame_titles(shot, BodyStore(), 0) is None


def test_surroundings_are_finite_light() -> None:
    for name in ("dusk", "gallery", "overcast", "dark"):
        picture = panorama(name)
        assert picture.shape == (256, 512, 3)
        assert np.isfinite(picture).all() and (picture >= 0).all() and picture.max() > 0.5
