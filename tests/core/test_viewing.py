"""Sheets that fill the frame cover it from every pose: against rays, one by one."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from dreizack.core.document import Camera, Channel, Format, Key, Place, Sheet, Shot, Turn, Vector
from dreizack.core.scene import bake, frame_state
from dreizack.core.scene.viewing import camera_axes

near = st.floats(-3, 3)


def corners_met(shot: Shot, frame: float = 0.0) -> list[tuple[float, float] | None]:
    """Where rays through the picture's corners meet the sheet, in shares of its half width and height; None
    where they miss its plane."""
    state = frame_state(shot, bake(shot, np.array([frame])), 0)
    right, up, forward = state.pose.axes
    half = np.tan(np.radians(state.pose.angle / 2))
    matrix, sheet = state.titles["sheet"].matrix, shot.things["sheet"]
    assert isinstance(sheet, Sheet)
    found: list[tuple[float, float] | None] = []
    for x in (-1, 1):
        for y in (-1, 1):
            way = forward + half * (x * shot.format.aspect * right + y * up)
            a, b, t = np.linalg.solve(
                np.column_stack([matrix[:3, 0], matrix[:3, 1], -way]), state.pose.position - matrix[:3, 3]
            )
            found.append((2 * a / sheet.width, 2 * b / sheet.height) if t > 0 else None)
    return found


@given(
    near,
    near,
    st.floats(1.5, 9),
    near,
    near,
    st.floats(-40, 40),
    st.floats(-35, 35),
    st.floats(-35, 35),
    st.floats(12, 120),
    st.sampled_from([16 / 9, 9 / 16, 1.0]),
)
def test_it_covers_the_picture_from_anywhere(
    x: float,
    y: float,
    z: float,
    aim_x: float,
    aim_y: float,
    roll: float,
    pitch: float,
    yaw: float,
    focal: float,
    aspect: float,
) -> None:
    width = 320 if aspect >= 1 else 180
    sheet = Sheet(fit="fill the frame", width=1.0, height=0.7, place=Place(rotation=Turn(x=pitch, y=yaw)))
    camera = Camera(
        position=Vector(x=x, y=y, z=z), aim=Vector(x=aim_x, y=aim_y), roll=roll, focal_length=focal
    )
    shot = Shot(
        format=Format(width=width, height=round(width / aspect / 2) * 2, frames=1),
        camera=camera,
        things={"sheet": sheet},
    )
    met = corners_met(shot)
    assume(all(m is not None and max(map(abs, m)) < 1e6 for m in met))
    facing = bake(shot, np.zeros(1)).titles["sheet"].matrix[0]
    scale = np.linalg.norm(facing[:3, 0])
    # Where the plane runs on to the horizon it reaches thirty times as far as it is away, and no further.
    assume(scale < 25 * max(np.linalg.norm([x, y, z]), 0.1))
    for m in met:
        assert m is not None and max(abs(m[0]), abs(m[1])) <= 1.0


def test_it_is_no_larger_than_it_must_be_and_follows_the_shot() -> None:
    sheet = Sheet(fit="fill the frame", width=2.0, height=1.0)
    shot = Shot(
        format=Format(width=320, height=160, frames=20),
        things={"sheet": sheet},
        camera=Camera(position=Vector(z=4), aim=Vector()),
    )
    shot.channels["/camera/position/x"] = Channel(keys=[Key(frame=0, value=0.0), Key(frame=19, value=3.0)])
    shot.channels["/camera/roll"] = Channel(keys=[Key(frame=0, value=0.0), Key(frame=19, value=25.0)])
    assert max(abs(v) for m in corners_met(shot) if m for v in m) == pytest.approx(1 / 1.02, rel=1e-6)
    for frame in (5.0, 11.5, 19.0):
        assert all(m is not None and max(map(abs, m)) <= 1 for m in corners_met(shot, frame))


@given(near, near, near, near, near, near, st.floats(-180, 180))
def test_axes_of_cameras_are_square_and_look_at_the_aim(
    x: float, y: float, z: float, a: float, b: float, c: float, roll: float
) -> None:
    position, aim = np.array([[x, y, z]]), np.array([[a, b, c]])
    assume(np.linalg.norm(aim - position) > 1e-3)
    (axes,) = camera_axes(position, aim, np.array([roll]))
    np.testing.assert_allclose(axes @ axes.T, np.eye(3), atol=1e-9)
    np.testing.assert_allclose(np.cross(axes[0], axes[1]), -axes[2], atol=1e-9)
    np.testing.assert_allclose(axes[2], ((aim - position) / np.linalg.norm(aim - position))[0], atol=1e-9)
