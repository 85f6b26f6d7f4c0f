"""Cameras that go from one shot into the next."""

from __future__ import annotations

import numpy as np
import pytest

from dreizack.core.document import Camera, Channel, Key, Shot, Vector
from dreizack.core.media import Order
from dreizack.core.scene import bake
from dreizack.core.scene.viewing import camera_axes
from dreizack.core.sequence import Bundle, Layout, Sequence, SequencePiece, SequenceReel, Transition
from dreizack.core.sequence.shots import SeenShots, seen_shots
from tests.core.test_optics_media import Keeper

SIZE = (96, 54)
OVERLAP = 6


@pytest.fixture
def bundle(shot: Shot) -> Bundle:
    """Two shots of which the second one's camera stands elsewhere, turned and with a longer lens."""
    moves = Channel(keys=[Key(frame=0, value=-0.5), Key(frame=20, value=0.5)])
    shot.format.frames = 24
    shot.channels["/camera/position/x"] = moves
    other = shot.model_copy(deep=True)
    other.camera = Camera(
        position=Vector(x=4, y=2.5, z=1), aim=Vector(x=0, y=0.3, z=0), focal_length=85, roll=12
    )
    other.channels = {}
    line = [
        SequencePiece(shot="a", frames=12),
        SequencePiece(shot="b", skip=3, frames=12, transition=Transition(kind="camera", frames=OVERLAP)),
    ]
    return Bundle(Sequence(width=320, height=180, line=line), {"a": shot, "b": other})


def cameras(bundle: Bundle, shots: SeenShots, frame: int) -> list[tuple[np.ndarray, np.ndarray, float]]:
    """Place, axes and angle of the cameras of all that is on the line at a frame."""
    moment = Layout(bundle.sequence).at(frame)
    found = []
    for showing in moment.line:
        baked = bake(shots.at(showing, moment), np.array([showing.frame]))
        position = baked.camera_position
        axes = camera_axes(position, baked.camera_aim, baked.camera_roll)[0]
        found.append((position[0], axes, float(baked.camera_angle[0])))
    return found


def test_both_are_seen_by_one_camera_that_goes_from_the_one_to_the_other(bundle: Bundle) -> None:
    shots = seen_shots(bundle)
    begins = 12 - OVERLAP
    for frame in range(begins, begins + OVERLAP):
        (place, axes, angle), (same, alike, equal) = cameras(bundle, shots, frame)
        np.testing.assert_allclose(place, same, atol=1e-4)
        np.testing.assert_allclose(axes, alike, atol=1e-4)
        assert angle == pytest.approx(equal, abs=1e-3)
    path = np.array([cameras(bundle, shots, f)[0][0] for f in range(begins - 2, begins + OVERLAP + 2)])
    steps = np.linalg.norm(np.diff(path, axis=0), axis=1)
    # It sets off and arrives gently: the widest step is in the middle, none is a jump.
    assert steps.argmax() in (len(steps) // 2 - 1, len(steps) // 2, len(steps) // 2 + 1)
    assert steps[0] < 0.2 * steps.max() and steps[-1] < 0.2 * steps.max()
    # Its ends are the cameras as they are without a transition.
    a, b = (shots.plain(name) for name in "ab")
    assert np.linalg.norm(path[1] - bake(a, np.array([5.0])).camera_position[0]) < 1e-6
    assert np.linalg.norm(path[-1] - bake(b, np.array([10.0])).camera_position[0]) < 1e-6


def test_elsewhere_the_shots_are_what_they_were(bundle: Bundle) -> None:
    shots, layout = seen_shots(bundle), Layout(bundle.sequence)
    for frame in (0, 5, 12, 17):
        moment = layout.at(frame)
        (showing,) = moment.line
        assert shots.at(showing, moment) is shots.plain(showing.piece.shot)


def test_footage_and_what_stands_still_keep_their_camera(bundle: Bundle) -> None:
    bundle.sequence.line[1].speed = 0
    shots, layout = seen_shots(bundle), Layout(bundle.sequence)
    moment = layout.at(8)
    assert shots.at(moment.line[1], moment) is shots.plain("b")
    baked = bake(shots.at(moment.line[0], moment), np.array([11.0]))
    there, begins = np.array([4, 2.5, 1]), bake(shots.plain("a"), np.array([6.0])).camera_position[0]
    assert np.linalg.norm(baked.camera_position[0] - there) < 0.3 * np.linalg.norm(begins - there)
    bundle.shots["a"].camera.rig = "matched"
    shots = seen_shots(bundle)
    assert shots.at(moment.line[0], moment) is shots.plain("a")


def test_a_shot_that_is_seen_by_another_camera_travels_from_that_one(bundle: Bundle) -> None:
    shot = bundle.shots["a"]
    shot.cameras["side"] = Camera(position=Vector(x=-3, y=1, z=3), focal_length=40)
    shot.through = "side"
    shots = seen_shots(bundle)
    (place, _, _), (same, _, _) = cameras(bundle, shots, 6)
    np.testing.assert_allclose(place, same, atol=1e-4)
    assert np.linalg.norm(place - [-3, 1, 3]) < 0.3


@pytest.mark.parametrize("speed", [-1.0, 0.5, 2.0])
def test_at_other_speeds_too(bundle: Bundle, speed: float) -> None:
    bundle.sequence.line[1].speed, bundle.sequence.line[1].skip = speed, 12
    shots = seen_shots(bundle)
    for frame in range(6, 12):
        (place, axes, _), (same, alike, _) = cameras(bundle, shots, frame)
        np.testing.assert_allclose(place, same, atol=1e-4)
        np.testing.assert_allclose(axes, alike, atol=1e-4)


def test_frames_come_one_by_one_and_are_kept(bundle: Bundle) -> None:
    keeper, total = Keeper(), bundle.sequence.total
    order = Order(0, total - 1, *SIZE, "draft")
    found = list(SequenceReel(bundle, order, keeper).pictures(lambda: False))
    assert [picture.number for picture in found] == list(range(total))
    again = list(SequenceReel(bundle, order, keeper).pictures(lambda: False))
    assert all(picture.kept for picture in again)
    np.testing.assert_array_equal(again[8].light, found[8].light)
    # Frames outside the transition are those of the shots themselves.
    alone = bundle.sequence.model_copy(update={"line": [bundle.sequence.line[0]]})
    only = list(
        SequenceReel(Bundle(alone, bundle.shots), Order(0, 5, *SIZE, "draft"), keeper).pictures(lambda: False)
    )
    assert all(picture.kept for picture in only)
