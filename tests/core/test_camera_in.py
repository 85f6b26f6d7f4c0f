"""Cameras of other programs become keys of ours, and see what they saw."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pxr import Gf, Usd, UsdGeom

from dreizack.core.document import (
    Camera,
    Channel,
    Coupling,
    Drift,
    Format,
    Key,
    Rate,
    Shot,
    Vector,
    apply_edit,
)
from dreizack.core.exchange.camera_in import camera_of_layer, camera_of_table, with_camera
from dreizack.core.exchange.camera_table import camera_table
from dreizack.core.exchange.scene.usd import usd_file
from dreizack.core.sandbox import FileRefused
from dreizack.core.scene import Baked, bake
from dreizack.core.scene.viewing import camera_axes

place = st.floats(-20, 20)


def moving(rng: np.random.Generator, roll: bool) -> Shot:
    def channel(low: float, high: float) -> Channel:
        return Channel(keys=[Key(frame=f, value=float(rng.uniform(low, high))) for f in (0, 5, 11)])

    at = {f"/camera/position/{axis}": channel(-3, 3) for axis in "xyz"}
    at |= {"/camera/aim/x": channel(4, 6), "/camera/aim/z": channel(-9, -7)}
    at["/camera/focal_length"] = channel(24, 80)
    if roll:
        at["/camera/roll"] = channel(-170, 170)
    return Shot(format=Format(frames=12), channels=at)


def seen(baked: Baked) -> np.ndarray:
    axes = camera_axes(baked.camera_position, baked.camera_aim, baked.camera_roll)
    return np.column_stack([baked.camera_position, axes.reshape(len(axes), 9), baked.camera_angle])


@settings(max_examples=12, deadline=None)
@given(st.integers(0, 10**6), st.booleans())
def test_a_table_of_ours_comes_back(seed: int, roll: bool) -> None:
    shot = moving(np.random.default_rng(seed), roll)
    patch, frames = with_camera(Shot(format=shot.format), camera_of_table(camera_table(shot).encode()))
    again = apply_edit(Shot(format=shot.format), patch).shot
    assert frames == 12
    np.testing.assert_allclose(seen(bake(again)), seen(bake(shot)), atol=2e-4)


def test_a_layer_of_ours_comes_back() -> None:
    shot = moving(np.random.default_rng(3), True)
    for kind in ("usdc", "usda"):
        patch, _ = with_camera(Shot(format=shot.format), camera_of_layer(usd_file(shot, kind)))
        again = apply_edit(Shot(format=shot.format), patch).shot
        np.testing.assert_allclose(seen(bake(again)), seen(bake(shot)), atol=2e-4)


def layer(up: str, metres: float, rate: float = 25, frames: int = 12) -> bytes:
    """A camera that rises, from somebody else: centimetres, z up."""
    stage = Usd.Stage.CreateInMemory()
    UsdGeom.SetStageUpAxis(stage, up)
    UsdGeom.SetStageMetersPerUnit(stage, metres)
    stage.SetTimeCodesPerSecond(rate)
    stage.SetStartTimeCode(101)
    stage.SetEndTimeCode(100 + frames)
    camera = UsdGeom.Camera.Define(stage, "/rig/cam")
    camera.CreateFocalLengthAttr(36.0)
    camera.CreateHorizontalApertureAttr(36.0)
    camera.CreateVerticalApertureAttr(20.25)
    op = camera.AddTransformOp()
    for number in range(frames):
        high = 1.0 + 0.1 * number
        matrix = Gf.Matrix4d(1)
        if up == "Z":
            # Looks along +y there: turned by 90 degrees about x.
            matrix = Gf.Matrix4d(Gf.Rotation(Gf.Vec3d(1, 0, 0), 90), Gf.Vec3d(0, -4 / metres, high / metres))
        else:
            matrix.SetTranslate(Gf.Vec3d(0, high / metres, 4 / metres))
        op.Set(matrix, 101 + number)
    return stage.GetRootLayer().ExportToString().encode()


@pytest.mark.parametrize(("up", "metres"), [("Y", 1.0), ("Y", 0.01), ("Z", 1.0), ("Z", 0.0254)])
def test_units_and_what_is_up_are_taken_into_account(up: str, metres: float) -> None:
    patch, frames = with_camera(Shot(format=Format(frames=12)), camera_of_layer(layer(up, metres)))
    baked = bake(apply_edit(Shot(format=Format(frames=12)), patch).shot)
    assert frames == 12
    truth = np.column_stack([np.zeros(12), 1 + 0.1 * np.arange(12), np.full(12, 4.0)])
    np.testing.assert_allclose(baked.camera_position, truth, atol=1e-4)
    ahead = baked.camera_aim - baked.camera_position
    np.testing.assert_allclose(ahead / np.linalg.norm(ahead, axis=1)[:, None], [[0, 0, -1]] * 12, atol=1e-6)
    np.testing.assert_allclose(baked.camera_roll, 0, atol=1e-6)
    np.testing.assert_allclose(baked.camera_angle, np.degrees(2 * np.arctan(20.25 / 72)), rtol=1e-5)


def test_another_rate_keeps_its_time_and_what_is_too_long_is_cut() -> None:
    shot = Shot(format=Format(frames=40, rate=Rate(num=50)))
    patch, frames = with_camera(shot, camera_of_layer(layer("Y", 1.0, rate=25)))
    baked = bake(apply_edit(shot, patch).shot)
    # Eleven steps of a 25th of a second are 22 of a 50th.
    assert frames == 23
    assert baked.camera_position[22, 1] == pytest.approx(2.1) == baked.camera_position[39, 1]
    assert baked.camera_position[11, 1] == pytest.approx(1.55)
    short = Shot(format=Format(frames=5))
    assert with_camera(short, camera_of_layer(layer("Y", 1.0)))[1] == 5


def test_what_moved_the_camera_before_is_gone_and_what_stays_has_no_keys() -> None:
    shot = Shot(
        format=Format(frames=12),
        camera=Camera(rig="orbit", aim=Vector(x=0, y=0, z=0)),
        channels={"/camera/roll": Channel(keys=[Key(frame=0, value=5)])},
        couplings={"/camera/position/x": Coupling(source="/camera/exposure")},
        drifts={"/camera/position/y": Drift()},
    )
    edit = apply_edit(shot, with_camera(shot, camera_of_layer(layer("Y", 1.0)))[0])
    assert edit.shot.camera.rig == "free"
    assert not edit.shot.couplings and not edit.shot.drifts
    assert set(edit.shot.channels) == {"/camera/position/y", "/camera/aim/y"}
    assert apply_edit(edit.shot, edit.inverse).shot == shot


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"\xff\xfe\x00", "no table"),
        (b"", "no column"),
        (b"frame,x,y\n0,1,2\n", "no column 'z'"),
        (b"frame,x,y,z,pitch,yaw,roll,vertical angle\n", "no rows"),
        (b"frame,x,y,z,pitch,yaw,roll,vertical angle\n0,1,2,here,0,0,0,40\n", "row 2"),
        (b"frame,x,y,z,pitch,yaw,roll,vertical angle\n0,nan,2,3,0,0,0,40\n", "sensible"),
        (b"frame,x,y,z,pitch,yaw,roll,vertical angle\n0,1,2,3,0,0,0,400\n", "angle of view"),
        (b"frame,x,y,z,pitch,yaw,roll,vertical angle\n" + b"0,1,2,3,0,0,0,40\n" * 20_002, "more than"),
    ],
)
def test_bad_tables_get_a_sentence(data: bytes, says: str) -> None:
    with pytest.raises(FileRefused, match=says):
        camera_of_table(data)


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"not a layer", "no USD layer"),
        (b"#usda 1.0\n(\n", "damaged"),
        (b"PXR-USDC" + b"\0" * 80, "damaged"),
        (b"#usda 1.0\n", "no camera"),
        (b"#usda 1.0\n( subLayers = [@/etc/hostname@] )\n", "other files"),
        (b'#usda 1.0\ndef Xform "a" ( references = @../secret.usda@ ) {}\n', "other files"),
        (b'#usda 1.0\n( endTimeCode = 1e9 )\ndef Camera "c" {}\n', "more than 20000 frames"),
    ],
)
def test_bad_layers_get_a_sentence(data: bytes, says: str) -> None:
    with pytest.raises(FileRefused, match=says):
        camera_of_layer(data)
