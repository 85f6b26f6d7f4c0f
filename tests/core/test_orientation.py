"""Turns that go the shortest way, against quaternions."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dreizack.core.affine import rotation, rotations_of, vectors_of
from dreizack.core.document import Channel, Ease, Key, Shot, Title
from dreizack.core.document.place import Place
from dreizack.core.motion import Motion
from dreizack.core.motion.orientation import nearest_angles, shortest_way

degrees = st.floats(-400, 400)
turns = st.tuples(degrees, degrees, degrees)


def quaternion(x: float, y: float, z: float) -> np.ndarray:
    """Of angles about the fixed axes, x first: the product of the three quaternions."""

    def about(axis: int, angle: float) -> np.ndarray:
        made = np.zeros(4)
        made[0], made[1 + axis] = np.cos(np.radians(angle) / 2), np.sin(np.radians(angle) / 2)
        return made

    def product(p: np.ndarray, q: np.ndarray) -> np.ndarray:
        return np.r_[p[0] * q[0] - p[1:] @ q[1:], p[0] * q[1:] + q[0] * p[1:] + np.cross(p[1:], q[1:])]

    return product(about(2, z), product(about(1, y), about(0, x)))


def matrix(q: np.ndarray) -> np.ndarray:
    w, x, y, z = q
    return np.array(
        [
            [1 - 2 * (y * y + z * z), 2 * (x * y - w * z), 2 * (x * z + w * y)],
            [2 * (x * y + w * z), 1 - 2 * (x * x + z * z), 2 * (y * z - w * x)],
            [2 * (x * z - w * y), 2 * (y * z + w * x), 1 - 2 * (x * x + y * y)],
        ]
    )


def slerp(p: np.ndarray, q: np.ndarray, share: float) -> np.ndarray:
    q = q if p @ q >= 0 else -q
    angle = np.arccos(np.clip(p @ q, -1, 1))
    if angle < 1e-6:
        return (1 - share) * p + share * q
    return (np.sin((1 - share) * angle) * p + np.sin(share * angle) * q) / np.sin(angle)


def channels(
    frames: list[float], angles: list[tuple[float, ...]], kind: str = "linear"
) -> list[Channel | None]:
    ease = Ease(kind=kind)  # type: ignore[arg-type]
    return [
        Channel(keys=[Key(frame=f, value=a[axis], ease=ease) for f, a in zip(frames, angles, strict=True)])
        for axis in range(3)
    ]


@given(first=turns, last=turns, share=st.floats(0, 1))
@settings(max_examples=200)
def test_between_two_keys_it_turns_as_quaternions_do(first: tuple, last: tuple, share: float) -> None:
    p, q = quaternion(*first), quaternion(*last)
    if abs(p @ q) < 1e-3:
        # Half a turn apart: both ways are shortest.
        return
    found = shortest_way(channels([10, 30], [first, last]), np.zeros(3), np.array([10 + 20 * share]))
    np.testing.assert_allclose(rotation(found)[0], matrix(slerp(p, q, share)), atol=1e-7)


def test_the_shortest_way_is_not_the_count_of_degrees() -> None:
    at = np.array([0.0, 5.0, 10.0])
    found = shortest_way(channels([0, 10], [(0, 350, 0), (0, 10, 0)]), np.zeros(3), at)
    np.testing.assert_allclose(rotation(found)[1], np.eye(3), atol=1e-12)
    # Half a turn is travelled, too.
    half = shortest_way(channels([0, 10], [(0, 0, 0), (0, 180, 0)]), np.zeros(3), at)
    np.testing.assert_allclose(
        np.abs(rotation(half)[1]), np.abs(rotation(np.array([0.0, 90.0, 0.0]))), atol=1e-9
    )


@given(keys=st.lists(turns, min_size=3, max_size=6), seed=st.integers(0, 99))
@settings(max_examples=60)
def test_smooth_keys_are_met_and_passed_without_a_jerk(keys: list[tuple], seed: int) -> None:
    frames = np.cumsum(np.random.default_rng(seed).integers(3, 40, len(keys))).astype(float)
    made = channels(frames.tolist(), keys, "smooth")
    met = rotation(shortest_way(made, np.zeros(3), frames))
    np.testing.assert_allclose(met, rotation(np.array(keys)), atol=1e-6)
    e = 1e-3
    for frame in frames[1:-1]:
        near = rotation(shortest_way(made, np.zeros(3), np.array([frame - e, frame, frame + e])))
        before, after = vectors_of(np.swapaxes(near[:-1], 1, 2) @ near[1:]) / e
        np.testing.assert_allclose(before, after, atol=2e-3)


@given(first=turns, near=turns)
def test_angles_are_told_nearest_to_the_wanted_ones(first: tuple, near: tuple) -> None:
    turned = rotation(np.array([first]))
    told = nearest_angles(turned, np.array([near]))
    np.testing.assert_allclose(rotation(told), turned, atol=1e-7)
    assert np.all(np.abs(told - near) <= 270 + 1e-6)
    # Where they are right already, they stay, but for a middle angle that stands at a right angle.
    if abs(np.cos(np.radians(first[1]))) > 1e-3:
        np.testing.assert_allclose(nearest_angles(turned, np.array([first])), [first], atol=1e-4)


@given(axis=turns, angle=st.floats(0, np.pi))
def test_rotation_vectors_come_back_up_to_half_a_turn(axis: tuple, angle: float) -> None:
    length = np.linalg.norm(axis)
    if length < 1:
        return
    vector = np.array(axis) / length * angle
    turned = rotations_of(vector[None])
    found = vectors_of(turned)
    assert np.linalg.norm(found) == pytest.approx(angle, abs=1e-6)
    np.testing.assert_allclose(rotations_of(found), turned, atol=1e-7)


def test_a_thing_with_one_keyed_angle_moves_in_all_three() -> None:
    at = "/things/title/place/rotation"
    keyed = {f"{at}/{axis}": Channel(keys=[Key(frame=0, value=0), Key(frame=20, value=80)]) for axis in "xy"}
    title = Title(words="EBB", place=Place(turns="orientation"))
    shot = Shot(things={"title": title}, channels=keyed)
    assert f"{at}/z" in shot.moving
    angles = Motion(shot, np.array([0.0, 10.0, 20.0])).vector(at)
    expected = matrix(slerp(quaternion(0, 0, 0), quaternion(80, 80, 0), 0.5))
    np.testing.assert_allclose(rotation(angles)[1], expected, atol=1e-9)
    np.testing.assert_allclose(angles[[0, 2]], [[0, 0, 0], [80, 80, 0]], atol=1e-9)
    assert abs(angles[1, 2]) > 5
    by_angles = shot.model_copy(update={"things": {"title": Title(words="EBB")}})
    assert f"{at}/z" not in by_angles.moving
