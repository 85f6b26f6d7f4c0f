"""Several cameras in a shot, and cuts between them."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dreizack.core.document import (
    EditRefused,
    Shot,
    apply_edit,
    cut_to,
    edited_as,
    seen_through,
    shot_at,
    with_camera,
    without_camera,
    without_thing,
)
from dreizack.core.document.edits import Patch
from dreizack.core.motions import MOTIONS, applied
from dreizack.core.scene import bake, frame_names, hung_on, rigged


def edited(shot: Shot, *patches: Patch) -> Shot:
    for patch in patches:
        shot = apply_edit(shot, patch).shot
    return shot


def keyed(pointer: str, *keys: tuple[float, float]) -> Patch:
    path = "/channels/" + pointer.replace("/", "~1")
    value = {"keys": [{"frame": frame, "value": value} for frame, value in keys]}
    return [{"op": "add", "path": path, "value": value}]


def two() -> Shot:
    """A still first camera, and a second one that moves."""
    shot = Shot.model_validate({"things": {"title": {"kind": "title"}}})
    shot = edited(shot, with_camera(shot, "")[1])
    return edited(
        shot,
        [
            {"op": "replace", "path": "/cameras/camera-2/focal_length", "value": 85},
            {"op": "replace", "path": "/cameras/camera-2/position/z", "value": 9},
        ],
        keyed("/cameras/camera-2/position/x", (0, -2), (40, 2)),
        keyed("/camera/exposure", (0, 1), (40, 1)),
    )


def test_what_is_seen_is_what_the_camera_alone_would_see() -> None:
    shot = edited(two(), cut_to(two(), "camera-2", 20))
    frames = np.arange(50, dtype=np.float64)
    alone = seen_through(shot, "camera-2")
    alone.__dict__["changes"] = {}
    first = seen_through(shot, "")
    first.__dict__["changes"] = {}
    for begin, end, camera in ((0, 20, first), (20, 50, alone)):
        mixed, own = bake(shot, frames[begin:end]), bake(camera, frames[begin:end])
        for name in ("camera_position", "camera_aim", "camera_angle", "exposure", "focus", "lens_radius"):
            np.testing.assert_array_equal(getattr(mixed, name), getattr(own, name))
    # Keys of the first camera do nothing to the second one.
    assert bake(shot, frames[20:]).exposure[0] == two().cameras["camera-2"].exposure
    # Every camera is known all the time.
    cameras = bake(shot, frames[:20]).cameras
    np.testing.assert_array_equal(cameras["camera-2"].position, bake(alone, frames[:20]).camera_position)
    assert set(cameras) == {"", "camera-2"}


@given(st.lists(st.tuples(st.sampled_from(["", "camera-2"]), st.integers(0, 60)), max_size=9))
@settings(max_examples=12)
def test_cuts_say_who_is_looked_through_and_nothing_twice(cuts: list[tuple[str, int]]) -> None:
    shot, expected = two(), [""] * 61
    for name, frame in cuts:
        # Up to the next cut, or to the end.
        rest = [at for at in range(frame + 1, 61) if expected[at] != expected[at - 1]]
        for at in range(frame, rest[0] if rest else 61):
            expected[at] = name
        patch = cut_to(shot, name, frame)
        shot = edited(shot, patch) if patch else shot
        keys = shot.changes["/through"].keys if "/through" in shot.changes else []
        assert all(a.value != b.value for a, b in itertools.pairwise(keys))
    seen = [shot_at(shot, frame).camera.focal_length for frame in range(61)]
    assert seen == [85 if name else two().camera.focal_length for name in expected]


def test_names_of_frames_go_by_the_camera_that_is_looked_through() -> None:
    shot = edited(two(), cut_to(two(), "camera-2", 20))
    frames = np.arange(40, dtype=np.float64)
    before = frame_names(shot, frames)
    # The first camera stands still, the second one moves.
    assert len(set(before[:20])) == 1 and len(set(before[20:])) == 20
    after = frame_names(
        edited(shot, [{"op": "replace", "path": "/cameras/camera-2/roll", "value": 3}]), frames
    )
    assert before[:20] == after[:20] and not set(before[20:]) & set(after[20:])


def test_any_camera_is_edited_as_if_there_were_no_other() -> None:
    shot = two()
    orbit = edited_as(shot, "camera:camera-2", lambda seen, _: rigged(seen, "orbit", 0))
    turned = edited(shot, orbit)
    assert turned.cameras["camera-2"].rig == "orbit" and turned.camera == shot.camera
    assert "/cameras/camera-2/azimuth" in turned.channels
    assert "/cameras/camera-2/position/x" not in turned.channels
    for frame in (0.0, 40.0):
        place = bake(seen_through(turned, "camera-2"), np.array([frame])).camera_position
        then = bake(seen_through(shot, "camera-2"), np.array([frame])).camera_position
        np.testing.assert_allclose(place, then, atol=1e-4)
    motion = next(motion for motion in MOTIONS.values() if motion.kinds == ("camera",))
    moved = edited_as(shot, "camera:camera-2", lambda seen, name: applied(seen, motion, name, 0, 20))
    assert moved and all("camera-2" in operation["path"] for operation in moved)
    hung = edited_as(shot, "camera:camera-2", lambda seen, name: hung_on(seen, name, "title", 0))
    assert edited(shot, hung).cameras["camera-2"].hangs_on == "title"
    assert edited(shot, hung, without_thing(edited(shot, hung), "title")).cameras["camera-2"].hangs_on == ""


def test_a_camera_goes_with_its_keys_and_cuts() -> None:
    shot = edited(two(), cut_to(two(), "camera-2", 20))
    shot = edited(shot, without_camera(shot, "camera-2"))
    assert not shot.cameras and not shot.changes and shot.through == ""
    assert list(shot.channels) == ["/camera/exposure"]
    with pytest.raises(KeyError):
        without_camera(shot, "camera-2")
    with pytest.raises(KeyError):
        cut_to(shot, "camera-2", 0)


def test_nobody_looks_through_a_camera_that_is_not_there() -> None:
    with pytest.raises(EditRefused, match="no camera"):
        edited(two(), [{"op": "replace", "path": "/through", "value": "camera-3"}])
    cuts = {"keys": [{"frame": 0, "value": "elsewhere"}]}
    with pytest.raises(EditRefused, match="no camera"):
        edited(two(), [{"op": "add", "path": "/changes/~1through", "value": cuts}])
    with pytest.raises(EditRefused, match="cannot name"):
        edited(two(), [{"op": "add", "path": "/cameras/A b", "value": {}}])
