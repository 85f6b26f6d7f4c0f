"""Cameras of other programs, as keys of ours: from USD layers, glTF files, and tables as we write them."""

from __future__ import annotations

import csv
import io
import json
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..affine import rotation
from ..document import Channel, Ease, Key, Shot, escaped
from ..sandbox import FileRefused, sandboxed
from .camera_table import CAMERA

Floats = NDArray[np.float64]
Patch = list[dict[str, Any]]

MAX_BYTES, MAX_ROWS = 200_000_000, 20_000
# Differences that nobody sees: metres, degrees, millimetres.
STILL = 1e-6
# Steepest view at which our camera still knows what is up.
STEEP = 0.9998


@dataclass(frozen=True)
class CameraCourse:
    """A camera frame by frame: ``rate`` in frames a second (0: not told), ``position`` (frames, 3) in metres,
    ``forward`` and ``up`` (frames, 3), vertical ``angle`` of view in degrees (frames,)."""

    rate: float
    position: Floats
    forward: Floats
    up: Floats
    angle: Floats


def camera_of_layer(data: bytes) -> CameraCourse:
    """The first camera of a USD layer, read in a sandbox; FileRefused with a sentence."""
    return _read("dreizack.core.readers.layer_camera:read_camera", data, "layer")


def camera_of_gltf(data: bytes) -> CameraCourse:
    """The first camera of a glTF file, read in a sandbox; FileRefused with a sentence."""
    return _read("dreizack.core.readers.gltf_camera:read_camera", data, "glTF file")


def _read(reader: str, data: bytes, what: str) -> CameraCourse:
    found = json.loads(sandboxed(reader, data, what=what, seconds=60))
    matrix = np.array(found["matrix"], np.float64)
    place, ahead, up = matrix[:, :3, 3], -matrix[:, :3, 2], matrix[:, :3, 1]
    return _sound(CameraCourse(float(found["rate"]), place, ahead, up, np.array(found["angle"])))


def camera_of_table(data: bytes) -> CameraCourse:
    """The camera of a table (CSV) as :func:`.camera_table.camera_table` writes them; FileRefused with a
    sentence."""
    try:
        rows = list(csv.reader(io.StringIO(data.decode("utf-8-sig"))))[: MAX_ROWS + 2]
    except (UnicodeDecodeError, csv.Error):
        raise FileRefused("this is no table: it is not text in UTF-8 with commas") from None
    names = [name.strip().lower() for name in rows[0]] if rows else []
    lacking = [name for name in CAMERA[1:] if name not in names]
    if lacking:
        raise FileRefused(f"this table has no column {lacking[0]!r}; its first row is {','.join(CAMERA)}")
    if len(rows) > MAX_ROWS + 1:
        raise FileRefused(f"this table has more than {MAX_ROWS} rows; cut it to the part that is needed")
    columns = [names.index(name) for name in CAMERA[1:]]
    numbers = []
    for line, row in enumerate(rows[1:], 2):
        if not any(row):
            continue
        try:
            numbers.append([float(row[column]) for column in columns])
        except (ValueError, IndexError):
            raise FileRefused(f"row {line} of this table is not all numbers") from None
    if not numbers:
        raise FileRefused("this table has no rows")
    x, y, z, pitch, yaw, roll, angle = np.array(numbers).T
    turn = rotation(np.column_stack([pitch, yaw, roll]))
    place = np.column_stack([x, y, z])
    return _sound(CameraCourse(0.0, place, -turn[:, :, 2], turn[:, :, 1], angle))


def _sound(course: CameraCourse) -> CameraCourse:
    values = np.column_stack([course.position, course.forward, course.up, course.angle])
    if not np.isfinite(values).all() or np.abs(course.position).max() > 1e4:
        raise FileRefused("this camera stands at places that are no sensible numbers of metres")
    if course.angle.min() < 0.5 or course.angle.max() > 170:
        raise FileRefused("this camera's angle of view is none that a lens has (0.5 to 170 degrees)")
    return course


def with_camera(shot: Shot, course: CameraCourse) -> tuple[Patch, int]:
    """The patch that has the shot's camera go that course, from its first frame on, a key a frame where a
    value moves; and how many frames of it there is room for. Its aim is as far away as it was."""
    rate = shot.format.rate.per_second
    frames = np.arange(min(shot.format.frames, _length(course, rate)), dtype=np.float64)
    at = frames * (course.rate / rate if course.rate else 1.0)

    def over(values: Floats) -> Floats:
        there = np.arange(len(values))
        return np.stack([np.interp(at, there, column) for column in values.T], axis=1)

    camera = shot.camera
    here = np.array([[getattr(one, axis) for axis in "xyz"] for one in (camera.position, camera.aim)])
    away = max(float(np.linalg.norm(here[1] - here[0])), 0.1)
    gone = CameraCourse(
        rate,
        over(course.position),
        _unit(over(course.forward)),
        _unit(over(course.up)),
        over(course.angle[:, None])[:, 0],
    )
    return keyed_camera(shot, frames, gone, np.full(len(frames), away)), len(frames)


def keyed_camera(shot: Shot, frames: Floats, course: CameraCourse, away: Floats) -> Patch:
    """The patch that has the shot's camera go a course, which says where it is at frames (n,), a key a
    frame where a value moves; its aim is so far (n,) ``away``."""
    position, forward = course.position, course.forward
    height = shot.camera.sensor_width / shot.format.aspect
    focal = height / 2 / np.tan(np.radians(course.angle) / 2)
    values = {
        **{f"position/{axis}": position[:, k] for k, axis in enumerate("xyz")},
        **{f"aim/{axis}": (position + forward * away[:, None])[:, k] for k, axis in enumerate("xyz")},
        "roll": _rolled(forward, course.up),
        "focal_length": focal,
    }
    patch: Patch = [
        {"op": "replace", "path": "/camera/rig", "value": "free"},
        {"op": "replace", "path": "/camera/aim_at", "value": ""},
    ]
    for group in ("channels", "couplings", "drifts"):
        patch += [
            {"op": "remove", "path": f"/{group}/{escaped(f'/camera/{name}')}"}
            for name in values
            if f"/camera/{name}" in getattr(shot, group)
        ]
    for name, over_time in values.items():
        patch.append({"op": "replace", "path": f"/camera/{name}", "value": round(float(over_time[0]), 6)})
        if np.ptp(over_time) > STILL:
            keys = [
                Key(frame=float(frame), value=round(float(value), 6), ease=Ease(kind="linear"))
                for frame, value in zip(frames, over_time, strict=True)
            ]
            made = Channel(keys=keys).model_dump(mode="json")
            patch.append({"op": "add", "path": f"/channels/{escaped(f'/camera/{name}')}", "value": made})
    return patch


def _length(course: CameraCourse, rate: float) -> int:
    """Frames of ours that a course lasts."""
    last = len(course.angle) - 1
    return int(last * (rate / course.rate if course.rate else 1.0) + 1e-6) + 1


def _rolled(forward: Floats, up: Floats) -> Floats:
    """How far (frames,) cameras lean, in degrees without jumps, as ours count it; what looks straight up or
    down does not."""
    steep = np.abs(forward[:, 1:2]) > STEEP
    right = np.cross(forward, np.where(steep, [0.0, 0.0, -1.0], [0.0, 1.0, 0.0]))
    right = _unit(right)
    above = np.cross(right, forward)
    turn = np.arctan2(np.sum(up * right, axis=1), np.sum(up * above, axis=1))
    found: Floats = np.degrees(np.unwrap(turn))
    return found


def _unit(vectors: Floats) -> Floats:
    made: Floats = vectors / np.maximum(np.linalg.norm(vectors, axis=1, keepdims=True), 1e-12)
    return made
