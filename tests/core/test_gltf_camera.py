"""Cameras of glTF files become keys of ours, and see what they saw."""

from __future__ import annotations

import base64
import json
import struct
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dreizack.core.affine import rotation
from dreizack.core.document import Shot, apply_edit
from dreizack.core.exchange.camera_in import camera_of_gltf, with_camera
from dreizack.core.exchange.scene.gltf import scene_file
from dreizack.core.readers.gltf_camera import read_camera
from dreizack.core.sandbox import FileRefused, Unreadable
from dreizack.core.scene import bake

from .test_camera_in import moving, seen


def test_a_camera_of_ours_comes_back() -> None:
    shot = moving(np.random.default_rng(3), True)
    # A lens that zooms is not in a glTF file.
    del shot.channels["/camera/focal_length"]
    patch, frames = with_camera(Shot(format=shot.format), camera_of_gltf(scene_file(shot)))
    again = apply_edit(Shot(format=shot.format), patch).shot
    assert frames == 12
    np.testing.assert_allclose(seen(bake(again)), seen(bake(shot)), atol=2e-4)


def quaternion(angles: list[float]) -> list[float]:
    x, y, z = np.radians(angles) / 2
    (a, b, c), (d, e, f) = np.cos([x, y, z]), np.sin([x, y, z])
    # Turned about x, then y, then z.
    return [d * b * c - a * e * f, a * e * c + d * b * f, a * b * f - d * e * c, a * b * c + d * e * f]


def gltf(how: str = "LINEAR", **change: Any) -> dict[str, Any]:
    """A camera on an arm that turns: keys at 0, 1 and 2 seconds."""
    times = np.array([0, 1, 2], np.float32)
    turns = np.array([quaternion([0, y, 0]) for y in (0, 60, 60)], np.float32)
    if how == "CUBICSPLINE":
        turns = np.stack([np.zeros_like(turns), turns, np.zeros_like(turns)], axis=1)
    blob = times.tobytes() + turns.tobytes()
    tree: dict[str, Any] = {
        "asset": {"version": "2.0"},
        "cameras": [{"type": "perspective", "perspective": {"yfov": 0.6, "znear": 0.1}}],
        "nodes": [
            {"name": "room", "children": [2], "translation": [1, 0, 0]},
            {"camera": 0, "translation": [0, 1.5, 4]},
            {"name": "arm", "children": [1]},
        ],
        "buffers": [{"byteLength": len(blob), "uri": "data:x;base64," + base64.b64encode(blob).decode()}],
        "bufferViews": [{"buffer": 0, "byteLength": len(blob)}],
        "accessors": [
            {"bufferView": 0, "componentType": 5126, "count": 3, "type": "SCALAR"},
            {
                "bufferView": 0,
                "byteOffset": 12,
                "componentType": 5126,
                "count": turns.size // 4,
                "type": "VEC4",
            },
        ],
        "animations": [
            {
                "channels": [{"sampler": 0, "target": {"node": 2, "path": "rotation"}}],
                "samplers": [{"input": 0, "output": 1, "interpolation": how}],
            }
        ],
    }
    return {**tree, **change}


@pytest.mark.parametrize(
    ("how", "angle"),
    [("LINEAR", lambda s: 60 * min(s, 1)), ("STEP", lambda s: 60 * (s >= 1))],
)
def test_what_it_hangs_on_carries_it_as_the_file_says(how: str, angle: Any) -> None:
    found = camera_of_gltf(json.dumps(gltf(how)).encode())
    # Keys a second apart are taken for the slowest rate of film, not for a frame a second.
    assert found.rate == 12 and len(found.angle) == 25
    for frame in range(25):
        turn = rotation(np.array([0, angle(frame / 12), 0]))
        np.testing.assert_allclose(found.position[frame], [1, 0, 0] + turn @ [0, 1.5, 4], atol=1e-5)
        np.testing.assert_allclose(found.forward[frame], turn @ [0, 0, -1], atol=1e-5)
    np.testing.assert_allclose(found.angle, np.degrees(0.6))


def test_a_spline_passes_its_keys_and_rests_at_flat_ones() -> None:
    found = camera_of_gltf(json.dumps(gltf("CUBICSPLINE")).encode())
    turned = np.degrees(np.arctan2(-found.forward[:, 0], -found.forward[:, 2]))
    np.testing.assert_allclose(turned[[0, 12, 24]], [0, 60, 60], atol=1e-3)
    assert turned[1] < 2 and turned[6] == pytest.approx(30, abs=0.5)


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"nodes": [{"name": "empty"}]}, "no camera"),
        ({"cameras": [{"type": "orthographic", "orthographic": {}}]}, "without perspective"),
        ({"nodes": [{"camera": 0, "children": [1]}, {"children": [0]}]}, "in a circle"),
        ({"buffers": [{"byteLength": 60, "uri": "else.bin"}]}, "in another one"),
        ({"buffers": [{"byteLength": 2, "uri": "data:,AAAA"}]}, "damaged"),
        ({"accessors": []}, "damaged"),
        ({"cameras": []}, "damaged"),
    ],
)
def test_odd_files_are_refused_in_words(change: dict[str, Any], says: str) -> None:
    with pytest.raises(FileRefused, match=says):
        camera_of_gltf(json.dumps(gltf(**change)).encode())


@pytest.mark.parametrize("data", [b"", b"glTF", b"glTF" + bytes(30), b"[]", b"{}", b"\xff\xfe"])
def test_what_is_no_such_file_is_said_to_be_none(data: bytes) -> None:
    with pytest.raises(Unreadable, match="no glTF"):
        read_camera(data)


def binary() -> bytes:
    text = json.dumps(gltf()).encode()
    text += b" " * (-len(text) % 4)
    return struct.pack("<4sIII4s", b"glTF", 2, 20 + len(text), len(text), b"JSON") + text


@settings(max_examples=60, deadline=None)
@given(st.data())
def test_mutated_files_are_read_or_refused(data: st.DataObject) -> None:
    whole = bytearray(binary())
    for _ in range(data.draw(st.integers(1, 6))):
        whole[data.draw(st.integers(0, len(whole) - 1))] = data.draw(st.integers(0, 255))
    try:
        found = read_camera(bytes(whole))
    except Unreadable:
        return
    assert json.loads(found)["rate"] > 0
