"""How flat areas stand in space, against cameras and planes that are known."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dreizack.core.affine import rotation
from dreizack.core.document import Shot, apply_edit
from dreizack.core.library import keep, shelve
from dreizack.core.match import Contradicts, Followed, followed_bytes, from_lower_left, plane_poses
from dreizack.core.scene import bake, with_words_on
from dreizack.core.scene.baking import on_patch
from dreizack.core.scene.baking.covering import square_to
from dreizack.core.scene.viewing import camera_axes

ASPECT, ANGLE = 16 / 9, 40.0


def homography(matrix: np.ndarray, width: float, height: float) -> np.ndarray:
    """From the unit square to what lies ahead at distance 1, of an area of a pose (4, 4) in the camera's
    space (right, up, backward)."""
    corners = np.array([[-width, -height], [width, -height], [width, height], [-width, height]]) / 2
    points = np.column_stack([corners, np.zeros(4), np.ones(4)]) @ matrix.T
    return square_to(points[:, :2] / -points[:, 2:3])


def pose(turn: np.ndarray, at: np.ndarray) -> np.ndarray:
    made = np.eye(4)
    made[:3, :3], made[:3, 3] = rotation(turn), at
    return made


@settings(max_examples=60)
@given(
    st.tuples(st.floats(-55, 55), st.floats(-55, 55), st.floats(-170, 170)),
    st.tuples(st.floats(-1, 1), st.floats(-1, 1), st.floats(-9, -3)),
    st.floats(0.4, 2.5),
)
def test_poses_are_those_of_the_plane(
    turn: tuple[float, float, float], at: tuple[float, float, float], height: float
) -> None:
    turns = np.array([turn, np.array(turn) * 0.7, [10, -20, 5]])
    known = np.array([pose(one, np.array(at)) for one in turns])
    made = plane_poses(np.array([homography(one, 1.6, height) for one in known]), 1.6)
    np.testing.assert_allclose(made, known, atol=1e-4)
    # As wide as it is taken to be: twice as wide is twice as far away.
    far = plane_poses(np.array([homography(one, 1.6, height) for one in known]), 3.2)
    np.testing.assert_allclose(far[:, :3, 3], 2 * known[:, :3, 3], atol=1e-3)
    np.testing.assert_allclose(far[:, :3, :3], made[:, :3, :3], atol=1e-9)


def test_corners_are_ordered_from_the_lower_left_whichever_way_they_were_drawn() -> None:
    known = np.array([[0.2, 0.8], [0.7, 0.75], [0.72, 0.3], [0.25, 0.28]])
    for shift in range(4):
        for way in (1, -1):
            np.testing.assert_array_equal(from_lower_left(np.roll(known, shift, axis=0)[::way]), known)


def shot_with(track: str) -> Shot:
    # Corners as they are at the first frame, in shares of the plate from the top left.
    points = [(float(x), float(y)) for x, y in seen(KNOWN[0])]
    return Shot.model_validate(
        {
            "format": {"width": 1600, "height": 900, "frames": len(KNOWN)},
            "things": {"title": {"kind": "title", "words": "EBB"}},
            "camera": {
                "position": {"x": 0, "y": 0, "z": 0},
                "aim": {"x": 0, "y": 0, "z": -5},
                "focal_length": 36 / ASPECT / (2 * np.tan(np.radians(ANGLE / 2))),
            },
            "backdrop": {"kind": "plate"},
            "plate": {"patches": [{"name": "Sign", "shape": {"frame": 0, "points": points}, "track": track}]},
        }
    )


KNOWN = [pose(np.array([5.0, 20 + 4 * f, 2 * f]), np.array([0.1 * f, 0.2, -6 + 0.3 * f])) for f in range(6)]
WIDE, TALL = 2.0, 1.2


def seen(matrix: np.ndarray) -> np.ndarray:
    """Corners of the sign in shares of the picture, from the lower left on."""
    corners = np.array([[-WIDE, -TALL], [WIDE, -TALL], [WIDE, TALL], [-WIDE, TALL]]) / 2
    points = np.column_stack([corners, np.zeros(4), np.ones(4)]) @ matrix.T
    ahead = points[:, :2] / -points[:, 2:3] / np.tan(np.radians(ANGLE / 2))
    return np.column_stack([0.5 + ahead[:, 0] / ASPECT / 2, 0.5 - ahead[:, 1] / 2])


def test_words_stand_on_a_sign_that_moves(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    shelve(tmp_path)
    # Frames of the plate are those of the shot.
    monkeypatch.setattr(on_patch, "plate_moments", lambda _, frames: np.asarray(frames))
    start = square_to(seen(KNOWN[0]))
    ways = np.array([square_to(seen(one)) @ np.linalg.inv(start) for one in KNOWN])
    track = keep(tmp_path, followed_bytes(Followed(0, ways, np.ones(len(KNOWN)))), "track", "sign")
    shot = shot_with(track)
    made = apply_edit(shot, with_words_on(shot, 0, "title")).shot
    (name,) = made.pivots
    assert made.titles["title"].place.hangs_on == name
    # The area is as wide as the words need; where the sign is known to be so wide, all else follows.
    made.pivots[name].width = WIDE
    baked = bake(made)
    axes = camera_axes(baked.camera_position, baked.camera_aim, baked.camera_roll)
    camera = np.tile(np.eye(4), (len(KNOWN), 1, 1))
    camera[:, :3, 0], camera[:, :3, 1], camera[:, :3, 2] = axes[:, 0], axes[:, 1], -axes[:, 2]
    np.testing.assert_allclose(baked.pivots[name], camera @ np.array(KNOWN), atol=2e-3)
    # A camera that aims at it would go by itself: the pivot stands where it is put, then.
    made.camera.aim_at = name
    np.testing.assert_allclose(bake(made).pivots[name][:, :3, :3], np.tile(np.eye(3), (6, 1, 1)))


def test_words_stand_on_nothing_that_is_not_there(tmp_path: Path) -> None:
    shelve(tmp_path)
    shot = shot_with("")
    with pytest.raises(Contradicts, match="not followed yet"):
        with_words_on(shot, 0, "title")
    for index, thing in ((1, "title"), (-1, "title"), (0, "nobody")):
        with pytest.raises(KeyError):
            with_words_on(shot, index, thing)
