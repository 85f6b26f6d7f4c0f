"""The first camera of a glTF file over time, in the sandbox (Khronos glTF 2.0, ISO/IEC 12113)."""

from __future__ import annotations

import base64
import json
import struct
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..affine import rotations_of, vectors_of
from ..sandbox import Unreadable

Floats = NDArray[np.float64]

# Frames that are read at most; rates that are taken from the distance of keys.
MOST, SLOWEST, FASTEST, USUAL = 20_000, 12.0, 240.0, 25.0
# Nodes above a camera, at most.
DEEP = 200
SIZES = {"SCALAR": 1, "VEC3": 3, "VEC4": 4}
TYPES: dict[int, type[np.generic]] = {
    5120: np.int8,
    5121: np.uint8,
    5122: np.int16,
    5123: np.uint16,
    5125: np.uint32,
    5126: np.float32,
}
PATHS = ("translation", "rotation", "scale")


def read_camera(data: bytes) -> bytes:
    """Its frames as JSON: ``rate``, and by frame ``matrix`` (frames, 4, 4) in metres with y up and vertical
    ``angle`` of view in degrees (frames,)."""
    try:
        gltf = _file(data)
    except (ValueError, struct.error, RecursionError) as why:
        raise Unreadable("this is no glTF file (.glb or .gltf)") from why
    try:
        return _camera(gltf)
    except Unreadable:
        raise
    except (LookupError, TypeError, ValueError, AttributeError, ArithmeticError, RecursionError) as why:
        raise Unreadable("this glTF file is damaged; save it anew") from why


@dataclass(frozen=True)
class _File:
    """What a file says, and the numbers that lie within it."""

    tree: dict[str, Any]
    within: bytes

    def all(self, name: str) -> list[dict[str, Any]]:
        found: list[dict[str, Any]] = self.tree.get(name, [])
        return found


def _file(data: bytes) -> _File:
    """A file of text, or its chunks (4.4, GLB)."""
    if not data.startswith(b"glTF"):
        return _checked(json.loads(data.decode()), b"")
    length, kind = struct.unpack_from("<I4s", data, 12)
    if kind != b"JSON" or 20 + length > len(data):
        raise ValueError
    within = b""
    if 28 + length <= len(data):
        size, kind = struct.unpack_from("<I4s", data, 20 + length)
        within = data[28 + length : 28 + length + size] if kind == b"BIN\0" else b""
    return _checked(json.loads(data[20 : 20 + length].decode()), within)


def _checked(tree: Any, within: bytes) -> _File:
    if not isinstance(tree, dict) or "asset" not in tree:
        raise ValueError
    return _File(tree, within)


def _camera(gltf: _File) -> bytes:
    nodes = gltf.all("nodes")
    seen = next((number for number, node in enumerate(nodes) if "camera" in node), None)
    if seen is None:
        raise Unreadable("there is no camera in this file")
    lens = gltf.all("cameras")[nodes[seen]["camera"]].get("perspective")
    if lens is None:
        raise Unreadable("the camera of this file sees without perspective, as ours do not")
    above = {child: number for number, node in enumerate(nodes) for child in node.get("children", [])}
    chain = [seen]
    while chain[-1] in above:
        chain.append(above[chain[-1]])
        if len(chain) > DEEP:
            raise Unreadable("the nodes of this file hang on one another in a circle")
    moves = _moves(gltf, set(chain))
    keys = np.unique(np.concatenate([np.zeros(1), *(times for times, _, _ in moves.values())]))
    rate = _rate(keys)
    count = round(float(keys[-1]) * rate) + 1
    if not 1 <= count <= MOST:
        raise Unreadable(f"this camera has more than {MOST} frames; cut it to the part that is needed")
    times = np.arange(count) / rate
    world = np.tile(np.eye(4), (count, 1, 1))
    for number in chain:
        world = _local(nodes[number], number, moves, times) @ world
    angle = [float(np.degrees(lens["yfov"]))] * count
    return json.dumps({"rate": rate, "matrix": world.tolist(), "angle": angle}).encode()


def _rate(keys: Floats) -> float:
    """Frames a second that keys stand on, where they stand evenly."""
    if len(keys) < 2:
        return USUAL
    rate = 1 / float(np.median(np.diff(keys)))
    return float(np.clip(round(rate * 1000) / 1000, SLOWEST, FASTEST))


_Moves = dict[tuple[int, str], tuple[Floats, Floats, str]]


def _moves(gltf: _File, nodes: set[int]) -> _Moves:
    """Times, values and interpolation of what moves nodes, by node and path; of the first animation."""
    found: _Moves = {}
    for animation in gltf.all("animations")[:1]:
        for channel in animation["channels"]:
            node, path = channel["target"].get("node"), channel["target"]["path"]
            if node not in nodes or path not in PATHS:
                continue
            sampler = animation["samplers"][channel["sampler"]]
            how = sampler.get("interpolation", "LINEAR")
            times, values = _read(gltf, sampler["input"])[:, 0], _read(gltf, sampler["output"])
            values = values.reshape(len(times), 3 if how == "CUBICSPLINE" else 1, -1)
            sound = np.isfinite(values).all() and np.isfinite(times).all() and (np.diff(times) > 0).all()
            if not sound or times[0] < 0 or values.shape[2] != (4 if path == "rotation" else 3):
                raise ValueError
            found[node, path] = times, values, how
    return found


def _read(gltf: _File, number: int) -> Floats:
    """The values (n, size) of an accessor."""
    accessor = gltf.all("accessors")[number]
    view = gltf.all("bufferViews")[accessor["bufferView"]]
    uri = gltf.all("buffers")[view["buffer"]].get("uri")
    if uri and not uri.startswith("data:"):
        raise Unreadable("this file keeps its numbers in another one; save it as one (.glb)")
    blob = base64.b64decode(uri.partition(",")[2], validate=True) if uri else gltf.within
    kind, size = np.dtype(TYPES[accessor["componentType"]]), SIZES[accessor["type"]]
    begin = int(view.get("byteOffset", 0)) + int(accessor.get("byteOffset", 0))
    stride, count = int(view.get("byteStride", kind.itemsize * size)), int(accessor["count"])
    need = begin + stride * (count - 1) + kind.itemsize * size
    if count < 1 or stride < kind.itemsize * size or begin < 0 or need > len(blob):
        raise ValueError
    raw: NDArray[Any] = np.ndarray((count, size), kind, blob, begin, (stride, kind.itemsize))
    values: Floats = raw.astype(np.float64)
    # Whole numbers stand for shares (3.11, normalized).
    return values if kind.kind == "f" else np.maximum(values / np.iinfo(kind).max, -1)


def _local(node: dict[str, Any], number: int, moves: _Moves, times: Floats) -> Floats:
    """Matrices (n, 4, 4) of a node at times in seconds."""
    made = np.tile(np.eye(4), (len(times), 1, 1))
    if "matrix" in node:
        made[:] = np.array(node["matrix"], np.float64).reshape(4, 4).T
        return made
    still = {"translation": [0, 0, 0], "rotation": [0, 0, 0, 1], "scale": [1, 1, 1]}
    place, turn, size = (
        _at(*moves[number, path], times, path == "rotation")
        if (number, path) in moves
        else np.tile(np.array(node.get(path, still[path]), np.float64), (len(times), 1))
        for path in PATHS
    )
    made[:, :3, :3] = _matrices(turn) * size[:, None, :]
    made[:, :3, 3] = place
    return made


def _at(keys: Floats, values: Floats, how: str, times: Floats, turns: bool) -> Floats:
    """Values at times (n, size) (appendix C: step, linear, spherical linear, cubic spline)."""
    before = np.clip(np.searchsorted(keys, times, side="right") - 1, 0, max(len(keys) - 2, 0))
    after = np.minimum(before + 1, len(keys) - 1)
    length = np.maximum(keys[after] - keys[before], 1e-12)
    share = np.clip((times - keys[before]) / length, 0, 1)[:, None]
    middle = values.shape[1] // 2
    a, b = values[before, middle], values[after, middle]
    if how == "STEP":
        stepped: Floats = np.where(share >= 1, b, a)
        return stepped
    if how == "CUBICSPLINE":
        leaves, arrives = values[before, 2] * length[:, None], values[after, 0] * length[:, None]
        s, t = share, share * share
        curved: Floats = (
            (2 * s * t - 3 * t + 1) * a
            + (s * t - 2 * t + s) * leaves
            + (3 * t - 2 * s * t) * b
            + (s * t - t) * arrives
        )
        return curved
    if not turns:
        return np.asarray(a + (b - a) * share, np.float64)
    return _quaternions(
        rotations_of(share * vectors_of(_matrices(b) @ np.swapaxes(_matrices(a), 1, 2))) @ _matrices(a)
    )


def _matrices(quaternions: Floats) -> Floats:
    """Rotations (n, 3, 3) of quaternions x, y, z, w (n, 4)."""
    x, y, z, w = (quaternions / np.maximum(np.linalg.norm(quaternions, axis=1, keepdims=True), 1e-12)).T
    rows = [
        [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
        [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
        [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
    ]
    return np.moveaxis(np.array(rows, np.float64), 2, 0)


def _quaternions(rotations: Floats) -> Floats:
    """Quaternions x, y, z, w (n, 4) of rotations (n, 3, 3)."""
    vectors = vectors_of(rotations)
    angle = np.linalg.norm(vectors, axis=1, keepdims=True)
    axis = vectors / np.maximum(angle, 1e-12)
    return np.concatenate([axis * np.sin(angle / 2), np.cos(angle / 2)], axis=1)
