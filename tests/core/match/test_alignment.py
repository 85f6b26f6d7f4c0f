"""Ground, origin, scale, direction and sun from picks."""

from __future__ import annotations

import numpy as np
import pytest

from dreizack.core.affine import rotation
from dreizack.core.match import (
    AS_SOLVED,
    Alignment,
    Contradicts,
    camera_from_rectangle,
    shadow_share,
    sun_from_shadows,
    with_direction,
    with_distance,
    with_ground,
    with_origin,
)

from .plates import looking

RANDOM = np.random.default_rng(8)


def a_room() -> Alignment:
    """Some placing of a solve's room."""
    return Alignment(RANDOM.normal(0, 3, 3), RANDOM.uniform(-60, 60, 3), float(RANDOM.uniform(0.2, 5)))


@pytest.mark.parametrize("number", range(12))
def test_points_go_there_and_back(number: int) -> None:
    room, points = a_room(), RANDOM.normal(0, 4, (20, 3))
    np.testing.assert_allclose(room.unplaced(room.placed(points)), points, atol=1e-9)


@pytest.mark.parametrize("number", range(12))
def test_ground_origin_scale_and_direction_of_a_known_room_are_found(number: int) -> None:
    truth = a_room()
    ground = np.column_stack(
        [RANDOM.uniform(-4, 4, 30), RANDOM.normal(0, 1e-4, 30), RANDOM.uniform(-6, 2, 30)]
    )
    # Two of them are none of the ground.
    ground[:2, 1] = 0.8
    inside = truth.unplaced(ground)
    found = with_ground(AS_SOLVED, inside, truth.unplaced(np.array([[0, 1.6, 5.0]]))[0])
    a, b = truth.unplaced(np.array([[0.0, 0, 0], [2.5, 0, 0]]))
    found = with_direction(with_distance(with_origin(found, a), a, b, 2.5), a, b, "x")
    placed = found.placed(truth.unplaced(np.array([[0, 0, 0], [2.5, 0, 0], [1, 0, -1], [0, 1.7, 0]])))
    assert abs(placed[0]).max() < 1e-9
    assert abs(abs(placed[1, 0]) - 2.5) < 1e-6
    assert abs(placed[1, [1, 2]]).max() < 3e-3
    assert placed[3, 1] == pytest.approx(1.7, abs=3e-3)


def test_picks_that_make_no_ground_are_refused() -> None:
    line = np.outer(np.arange(5.0), [1.0, 2.0, 0.5])
    with pytest.raises(Contradicts, match="one line"):
        with_ground(AS_SOLVED, line, np.ones(3))
    with pytest.raises(Contradicts, match="three points"):
        with_ground(AS_SOLVED, line[:2], np.ones(3))
    with pytest.raises(Contradicts, match="two different"):
        with_distance(AS_SOLVED, np.ones(3), np.ones(3), 2.0)
    with pytest.raises(Contradicts, match="upright"):
        with_direction(AS_SOLVED, np.zeros(3), np.array([0.0, 1.0, 0.0]), "x")


def picked(sun: np.ndarray, eye: np.ndarray, count: int, noise: float) -> tuple[np.ndarray, ...]:
    """Directions of feet, tips and tips of shadows, each off by about so much (a pixel in a picture 960 wide
    with a lens of 1000 pixels is 0.001)."""
    foot = np.column_stack([RANDOM.uniform(-2, 2, count), np.zeros(count), RANDOM.uniform(-1, 1, count)])
    top = foot + np.column_stack([np.zeros(count), RANDOM.uniform(0.7, 1.8, count), np.zeros(count)])
    shadow = top - sun * (top[:, 1] / sun[1])[:, None]
    ways = []
    for points in (foot, top, shadow):
        way = points - eye
        ways.append(way / np.linalg.norm(way, axis=1, keepdims=True) + RANDOM.normal(0, noise, way.shape))
    return tuple(ways)


def test_the_sun_is_found_from_shadows() -> None:
    eye, off, off_six = np.array([0.3, 1.7, 6.0]), [], []
    for _ in range(120):
        sun = np.array([RANDOM.uniform(-1, 1), RANDOM.uniform(0.4, 1.2), RANDOM.uniform(-0.6, 1)])
        sun /= np.linalg.norm(sun)
        for count, told in ((1, off), (6, off_six)):
            found, _ = sun_from_shadows(eye, *picked(sun, eye, count, 0.001))
            told.append(np.degrees(np.arccos(np.clip(found @ sun, -1, 1))))
    assert np.median(off) < 1.5
    assert np.median(off_six) < 0.6
    exact, spread = sun_from_shadows(eye, *picked(sun, eye, 4, 0.0))
    np.testing.assert_allclose(exact, sun, atol=1e-9)
    assert spread < 1e-4


def test_picks_of_a_sun_that_contradict_are_refused() -> None:
    eye = np.array([0.0, 1.6, 6.0])
    down, up = np.array([[0.0, -0.3, -1.0]]), np.array([[0.0, 0.2, -1.0]])
    with pytest.raises(Contradicts, match="horizon"):
        sun_from_shadows(eye, up, up, down)
    with pytest.raises(Contradicts, match="below its foot"):
        sun_from_shadows(eye, down, down * [1, 2.0, 1], down)


def test_what_is_left_in_shadow_is_measured() -> None:
    texture = RANDOM.uniform(0.1, 0.5, (400, 1))
    tint = np.array([0.3, 0.35, 0.5])
    left = shadow_share(texture * [1.0, 0.9, 0.8], texture[::-1] * tint * [1.0, 0.9, 0.8])
    np.testing.assert_allclose(left, tint, rtol=1e-6)
    with pytest.raises(Contradicts, match="other way round"):
        shadow_share(texture * tint, texture * np.ones(3))


def test_the_turn_of_an_alignment_is_that_of_the_document() -> None:
    turn = np.array([10.0, 20.0, 30.0])
    np.testing.assert_allclose(Alignment(np.zeros(3), turn, 1.0).rotation, rotation(turn))


@pytest.mark.parametrize("number", range(8))
def test_a_camera_is_found_from_a_rectangle(number: int) -> None:
    centre = np.array([RANDOM.uniform(-2, 2), RANDOM.uniform(1.2, 4), RANDOM.uniform(3, 7)])
    aim = np.array([[RANDOM.uniform(0.5, 1.5), 0.0, RANDOM.uniform(-2, -0.5)]])
    camera = looking(centre[None], aim, float(RANDOM.uniform(700, 1500)))
    points = np.array([[0, 0, 0], [2.4, 0, 0], [2.4, 0, -1.6], [0, 0, -1.6]])
    rotation_, place, focal = camera_from_rectangle(camera.seen(points, 0), camera.size, 2.4, 1.6)
    assert focal == pytest.approx(camera.focal, rel=2e-3)
    np.testing.assert_allclose(place, centre, atol=0.02)
    np.testing.assert_allclose(rotation_, camera.rotations[0], atol=3e-3)


def test_corners_that_tell_no_camera_are_refused() -> None:
    square = np.array([[300.0, 400], [600, 400], [600, 200], [300, 200]])
    with pytest.raises(Contradicts, match="tell the focal length"):
        camera_from_rectangle(square, (960, 540), 2.0, 2.0)
    camera = looking(np.array([[0.5, 2.0, 5.0]]), np.array([[1.0, 0, -1.0]]), 1000.0)
    seen = camera.seen(np.array([[0, 0, 0], [2, 0, 0], [2, 0, -2], [0, 0, -2.0]]), 0)
    with pytest.raises(Contradicts, match="below the ground"):
        camera_from_rectangle(seen[[1, 0, 3, 2]], camera.size, 2.0, 2.0)
    with pytest.raises(Contradicts, match="no rectangle"):
        camera_from_rectangle(np.repeat(seen[:1], 4, axis=0), camera.size, 2.0, 2.0)
