"""Things that are put into the room of a plate by pointing: on its ground, boxes and walls."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from dreizack.core.affine import rotation
from dreizack.core.document import Format, Shot, Title, Vector, apply_edit
from dreizack.core.match import Contradicts
from dreizack.core.scene import (
    BodyStore,
    bake,
    body_points,
    sight,
    stood,
    stood_far,
    with_box,
    with_wall,
)

Floats = Any
FOOT = np.array([[-2.0, 0.0, -1.0], [1.5, 0.0, -2.5]])


@pytest.fixture(scope="module")
def bodies() -> BodyStore:
    return BodyStore()


def empty() -> Shot:
    shot = Shot(format=Format(width=960, height=540, frames=2), things={"title": Title(words="EBB")})
    shot.camera.position, shot.camera.aim = Vector(x=0.5, y=1.7, z=6), Vector(x=0, y=0.8, z=-1)
    return shot


def edited(shot: Shot, patch: list[dict[str, Any]]) -> Shot:
    return apply_edit(shot, patch).shot


def walled() -> Shot:
    """With a wall two metres high, picked as it is seen."""
    shot = empty()
    places = sight(shot, 0).seen(np.array([*FOOT, FOOT[0] + np.array([0, 2, 0])]))
    return edited(shot, with_wall(shot, 0, places))


def points_of(shot: Shot, bodies: BodyStore, name: str = "title") -> Floats:
    title = bake(shot, np.array([0.0])).titles[name]
    return body_points(title.forms[0], title.matrix[0], title.poses_at(0), bodies)[0]


def test_a_wall_is_where_it_was_picked(bodies: BodyStore) -> None:
    shot = walled()
    wall = shot.things["plate-wall-1"]
    assert wall.visibility.catches  # type: ignore[union-attr]
    points = points_of(shot, bodies, "plate-wall-1")
    along = (FOOT[1] - FOOT[0]) / np.linalg.norm(FOOT[1] - FOOT[0])
    shares = (points - FOOT[0]) @ along
    assert shares.min() == pytest.approx(0, abs=0.01)
    assert shares.max() == pytest.approx(np.linalg.norm(FOOT[1] - FOOT[0]), abs=0.01)
    assert points[:, 1].min() == pytest.approx(0, abs=2e-3)
    assert points[:, 1].max() == pytest.approx(2, abs=2e-3)
    off = (points - FOOT[0]) @ np.cross(along, [0, 1, 0])
    assert np.abs(off).max() < 0.02


def test_words_hang_on_a_wall_where_it_is_pointed_at(bodies: BodyStore) -> None:
    shot = walled()
    seen = sight(shot, 0)
    where = FOOT.mean(axis=0) + np.array([0, 1.2, 0])
    shot = edited(shot, stood(shot, "title", 0, seen.seen(where[None]), bodies))
    along = (FOOT[1] - FOOT[0]) / np.linalg.norm(FOOT[1] - FOOT[0])
    out = np.cross(along, [0, 1, 0])
    points = points_of(shot, bodies)
    off = (points - FOOT[0]) @ out
    # They touch the wall with their back, and none of them is in it.
    assert 0 < off.min() < 0.02
    # Their middle is over the spot, and they look away from the wall.
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    assert np.linalg.norm((middle - where) @ np.stack([along, [0, 1, 0]], axis=1)) < 0.03
    turn = shot.things["title"].place.rotation  # type: ignore[union-attr]
    assert rotation(np.array([turn.x, turn.y, turn.z])) @ [0, 0, 1] == pytest.approx(out, abs=1e-3)


def test_beside_the_wall_they_stand_on_the_ground(bodies: BodyStore) -> None:
    shot = walled()
    where = np.array([[0.4, 0.0, 2.0]])
    shot = edited(shot, stood(shot, "title", 0, sight(shot, 0).seen(where), bodies))
    place = shot.things["title"].place  # type: ignore[union-attr]
    assert (place.position.x, place.position.y, place.position.z) == pytest.approx(where[0], abs=1e-3)
    assert place.rotation.x == 0


def test_on_a_box_they_stand_on_its_top(bodies: BodyStore) -> None:
    shot = empty()
    foot = np.array([-1.0, 0, 0])
    corners = foot + np.array([[0, 0, 0], [2, 0, 0], [2, 0, -1.5], [0, 0.8, 0]])
    shot = edited(shot, with_box(shot, 0, sight(shot, 0).seen(corners)))
    where = np.array([[0.2, 0.8, -0.7]])
    shot = edited(shot, stood(shot, "title", 0, sight(shot, 0).seen(where), bodies))
    position = shot.things["title"].place.position  # type: ignore[union-attr]
    assert (position.x, position.y, position.z) == pytest.approx(where[0], abs=2e-3)


@pytest.mark.parametrize("swap", [False, True])
def test_along_a_line_they_read_from_where_the_camera_is(bodies: BodyStore, swap: bool) -> None:
    shot = empty()
    line = FOOT[::-1] if swap else FOOT
    shot = edited(shot, stood(shot, "title", 0, sight(shot, 0).seen(line), bodies))
    points = points_of(shot, bodies)
    along = (FOOT[1] - FOOT[0]) / np.linalg.norm(FOOT[1] - FOOT[0])
    turn = shot.things["title"].place.rotation  # type: ignore[union-attr]
    assert rotation(np.array([turn.x, turn.y, turn.z])) @ [1, 0, 0] == pytest.approx(along, abs=1e-3)
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    assert (middle - FOOT.mean(axis=0)) @ along == pytest.approx(0, abs=0.05)


def test_far_away_they_are_as_wide_as_is_said(bodies: BodyStore) -> None:
    shot = empty()
    seen = sight(shot, 0)
    where = np.array([3.0, 0.0, -294.0])
    shot = edited(shot, stood_far(shot, "title", 0, seen.seen(where[None])[0], 300, 0.4, bodies))
    points = points_of(shot, bodies)
    places = seen.seen(points)
    assert np.ptp(places[:, 0]) == pytest.approx(0.4, abs=0.006)
    assert np.linalg.norm((points.mean(axis=0) - seen.eye)[[0, 2]]) == pytest.approx(300, rel=0.01)
    assert points[:, 1].min() == pytest.approx(0, abs=0.02 * np.ptp(points[:, 1]))


def test_picks_that_contradict_say_so(bodies: BodyStore) -> None:
    shot = empty()
    sky = np.array([[0.5, 0.02]])
    with pytest.raises(Contradicts, match="horizon"):
        stood(shot, "title", 0, sky, bodies)
    twice = sight(shot, 0).seen(FOOT[[0, 0]])
    with pytest.raises(Contradicts, match="further apart"):
        stood(shot, "title", 0, twice, bodies)
    with pytest.raises(Contradicts, match="apart from each other"):
        with_wall(shot, 0, sight(shot, 0).seen(np.array([FOOT[0], FOOT[0], FOOT[0] + np.array([0, 1, 0])])))
    with pytest.raises(KeyError):
        stood(shot, "nothing", 0, twice[:1], bodies)
