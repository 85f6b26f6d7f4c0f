"""A shot as a 3D scene: valid by the standard's own validator, and everything where it is."""

from __future__ import annotations

import json
import struct
import subprocess
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import Channel, Key, Shot, Span
from dreizack.core.exchange.plate_points import NAME, plate_points
from dreizack.core.exchange.scene import scene_file
from dreizack.core.exchange.scene.motion import course_of
from dreizack.core.library import shelve
from dreizack.core.scene import BodyStore, bake, body_points
from dreizack.core.scene.viewing import camera_axes
from dreizack.demo import bring_demo_files, demo_shots
from tests.conftest import ROOT

CHECK = """
const validator = require("gltf-validator"), fs = require("fs");
(async () => {
  const found = [];
  for (const file of process.argv.slice(1)) {
    const { issues } = await validator.validateBytes(new Uint8Array(fs.readFileSync(file)));
    const { numErrors: errors, numWarnings: warnings, messages } = issues;
    found.push({ file, errors, warnings, messages: messages.slice(0, 3) });
  }
  console.log(JSON.stringify(found));
})();
"""


def read(data: bytes) -> tuple[dict[str, Any], Any]:
    """The JSON of a GLB, and what answers the values of an accessor."""
    magic, version, length = struct.unpack_from("<III", data)
    assert (magic, version, length) == (0x46546C67, 2, len(data))
    size, _ = struct.unpack_from("<II", data, 12)
    tree = json.loads(data[20 : 20 + size])
    binary = data[20 + size + 8 :]

    def values(number: int) -> np.ndarray:
        accessor = tree["accessors"][number]
        view = tree["bufferViews"][accessor["bufferView"]]
        kind = np.uint32 if accessor["componentType"] == 5125 else np.float32
        width = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4}[accessor["type"]]
        found = np.frombuffer(binary, kind, accessor["count"] * width, view["byteOffset"])
        return found.reshape(accessor["count"], width)

    return tree, values


def test_the_validator_finds_nothing_in_any_shot_of_the_demo(tmp_path: Path) -> None:
    bring_demo_files(tmp_path)
    shelve(tmp_path)
    files = []
    for name, shot in demo_shots().items():
        files.append(tmp_path / f"{name}.glb")
        files[-1].write_bytes(scene_file(shot))
    told = subprocess.run(
        ["node", "-e", CHECK, *map(str, files)], cwd=ROOT / "web", capture_output=True, text=True, check=True
    )
    found = json.loads(told.stdout)
    assert len(found) == len(files)
    assert [one for one in found if one["errors"] or one["warnings"]] == []


def world(tree: dict[str, Any], values: Any, frame: int) -> dict[str, np.ndarray]:
    """Matrices of all nodes at a frame, by name, as another program makes them."""
    nodes = [dict(node) for node in tree["nodes"]]
    for animation in tree.get("animations", []):
        for channel in animation["channels"]:
            sampler = animation["samplers"][channel["sampler"]]
            target = channel["target"]
            nodes[target["node"]][target["path"]] = values(sampler["output"])[frame].tolist()
    found = {}

    def go(number: int, above: np.ndarray) -> None:
        node = nodes[number]
        x, y, z, w = node.get("rotation", [0, 0, 0, 1])
        matrix = np.eye(4)
        matrix[:3, :3] = [
            [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
            [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
            [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
        ]
        matrix[:3, :3] *= node.get("scale", [1, 1, 1])
        matrix[:3, 3] = node.get("translation", [0, 0, 0])
        found[node["name"]] = whole = above @ matrix
        for child in node.get("children", []):
            go(child, whole)

    for root in tree["scenes"][0]["nodes"]:
        go(root, np.eye(4))
    return found


def test_letters_camera_and_lights_are_where_they_are(shot: Shot) -> None:
    shot.channels["/things/title/place/rotation/y"] = Channel(
        keys=[Key(frame=0, value=-200), Key(frame=11, value=500)]
    )
    shot.channels["/camera/position/x"] = Channel(keys=[Key(frame=0, value=-1), Key(frame=11, value=1)])
    tree, values = read(scene_file(shot))
    baked, bodies = bake(shot), BodyStore()
    for frame in (0, 4, 11):
        there = world(tree, values, frame)
        body = baked.titles["title"]
        points, _ = body_points(body.forms[0], body.matrix[frame], body.poses_at(frame), bodies)
        low, high = np.full(3, np.inf), np.full(3, -np.inf)
        for node in tree["nodes"]:
            if "mesh" in node:
                for primitive in tree["meshes"][node["mesh"]]["primitives"]:
                    local = values(primitive["attributes"]["POSITION"])
                    placed = local @ there[node["name"]][:3, :3].T + there[node["name"]][:3, 3]
                    low, high = np.minimum(low, placed.min(axis=0)), np.maximum(high, placed.max(axis=0))
        # Letters that are alike share a name here; the first and the last are told apart by their places.
        np.testing.assert_allclose(low[1], points[:, 1].min(), atol=1e-4)
        np.testing.assert_allclose(high[1], points[:, 1].max(), atol=1e-4)
        camera = there["Camera"]
        axes = camera_axes(baked.camera_position, baked.camera_aim, baked.camera_roll)[frame]
        np.testing.assert_allclose(camera[:3, 3], baked.camera_position[frame], atol=1e-5)
        np.testing.assert_allclose(camera[:3, :3], np.stack([axes[0], axes[1], -axes[2]], axis=1), atol=1e-5)
        key = baked.lights["key"]
        np.testing.assert_allclose(there["key"][:3, 3], key.position[frame], atol=1e-5)
        aim = key.aim[frame] - key.position[frame]
        np.testing.assert_allclose(-there["key"][:3, 2], aim / np.linalg.norm(aim), atol=1e-4)
    assert tree["cameras"][0]["perspective"]["yfov"] == pytest.approx(np.radians(baked.camera_angle[0]))


def test_what_is_not_there_is_gone_and_what_cannot_be_said_is_listed(shot: Shot) -> None:
    shot.titles["title"].span = Span(whole=False, start=3, end=8)
    shot.channels["/things/title/body/depth"] = Channel(
        keys=[Key(frame=0, value=0.1), Key(frame=9, value=0.3)]
    )
    tree, values = read(scene_file(shot))
    sizes = [abs(np.linalg.det(world(tree, values, frame)["Title"][:3, :3])) for frame in range(12)]
    assert [size > 0.1 for size in sizes] == [3 <= frame < 8 for frame in range(12)]
    assert any("its body changes" in one for one in tree["asset"]["extras"]["left_out"])


@given(st.floats(-180, 180), st.floats(-80, 80), st.floats(0.2, 3), st.booleans())
def test_courses_are_the_matrices_they_come_from(
    yaw: float, pitch: float, size: float, mirrored: bool
) -> None:
    a, b = np.radians(np.linspace(0, yaw, 5)), np.radians(pitch)
    turn = np.zeros((5, 3, 3))
    turn[:, 0, 0], turn[:, 0, 2], turn[:, 2, 0], turn[:, 2, 2] = np.cos(a), np.sin(a), -np.sin(a), np.cos(a)
    turn[:, 1, 1] = 1
    lean = np.array([[1, 0, 0], [0, np.cos(b), -np.sin(b)], [0, np.sin(b), np.cos(b)]])
    scale = np.diag([size, 1.0, -1.0 if mirrored else 1.0])
    matrices = np.concatenate([turn @ lean @ scale, np.ones((5, 3, 1))], axis=2)
    course = course_of(matrices)
    assert not course.sheared and (np.einsum("fi,fi->f", course.rotation[1:], course.rotation[:-1]) > 0).all()
    x, y, z, w = course.rotation.T
    first = np.stack([1 - 2 * (y * y + z * z), 2 * (x * y + z * w), 2 * (x * z - y * w)], axis=1)
    np.testing.assert_allclose(first * course.scale[:, :1], matrices[:, :, 0], atol=1e-9)
    sheared = matrices.copy()
    sheared[:, 0, 1] += 0.4
    assert course_of(sheared).sheared


def test_points_of_a_plate_lie_where_the_room_of_the_shot_has_them(tmp_path: Path) -> None:
    bring_demo_files(tmp_path)
    shelve(tmp_path)
    shot = demo_shots()["on-the-quay"]
    shot.format.frames = 2
    tree, values = read(scene_file(shot))
    node = next(node for node in tree["nodes"] if node["name"] == NAME)
    (primitive,) = tree["meshes"][node["mesh"]]["primitives"]
    assert primitive["mode"] == 0
    places = plate_points(shot)
    assert places is not None and len(places) > 500
    np.testing.assert_allclose(values(primitive["attributes"]["POSITION"]), places, atol=1e-4)
    # Many of those that are followed lie on the stones of the quay.
    assert (np.abs(places[:, 1]) < 0.05).mean() > 0.2
    # A camera that only turns says nothing of how far away things are.
    assert plate_points(demo_shots()["over-the-quay"]) is None
