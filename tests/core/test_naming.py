"""Frames are named by what can change them."""

from __future__ import annotations

import numpy as np

from dreizack.core.document import Channel, Key
from dreizack.core.scene import frame_names
from dreizack.demo import demo_shots

FRAMES = np.arange(100.0)


def test_names_change_with_what_a_frame_shows_and_with_nothing_else() -> None:
    shot = demo_shots()["part-one"]
    names = frame_names(shot, FRAMES)
    assert frame_names(shot, FRAMES[30:40]) == names[30:40]
    assert len(set(names)) > 60
    shot.name = "Renamed"
    assert frame_names(shot, FRAMES) == names
    later = shot.model_copy(deep=True)
    # A key that comes to an end later leaves what was before alone.
    keys = later.channels["/things/key/intensity"].keys
    keys.append(Key(frame=80, value=keys[-1].value))
    keys.append(Key(frame=99, value=2.0))
    changed = frame_names(later, FRAMES)
    assert changed[:80] == names[:80] and all(a != b for a, b in zip(changed[82:], names[82:], strict=True))
    brighter = shot.model_copy(deep=True)
    brighter.camera.exposure = 1
    assert not set(frame_names(brighter, FRAMES)) & set(names)


def test_an_open_shutter_sees_what_moves_beside_the_frame() -> None:
    shot = demo_shots()["part-one"]
    # What runs by itself looks otherwise at every frame.
    del shot.things["sun"]
    shot.channels = {"/camera/roll": Channel(keys=[Key(frame=10, value=0.0), Key(frame=20, value=30.0)])}
    for angle, equal in ((0.0, True), (360.0, False)):
        shot.camera.shutter_angle = angle
        before, at = frame_names(shot, np.array([9.0, 10.0]))
        assert (before == at) is equal
