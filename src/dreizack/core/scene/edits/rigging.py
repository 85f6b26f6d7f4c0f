"""The camera put on another rig, where it stands."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...document import Shot, escaped, resolve
from ...motion import Motion
from ..baking import bake
from ..baking.camera import KEPT_LENS, camera_course
from ..baking.places import hung, points_under

Floats = NDArray[np.float64]
Patch = list[dict[str, Any]]

ORBIT = ("azimuth", "elevation", "distance")
FREE = ("position/x", "position/y", "position/z")


def rigged(shot: Shot, rig: str, frame: float) -> Patch:
    """The patch that lets the camera stand free or at angles around its aim, so that it stays where it is: at
    ``frame`` and at each of its keys. Angles go on turning: they never jump from one side of a circle to the
    other."""
    camera = shot.camera
    if camera.rig == rig:
        return []
    if rig == "matched":
        return [{"op": "replace", "path": "/camera/rig", "value": rig}]
    old, new = (FREE, ORBIT) if rig == "orbit" else (ORBIT, FREE)
    keyed = {
        key.frame: key.ease.model_dump(mode="json")
        for name in old
        if (channel := shot.channels.get(f"/camera/{name}"))
        for key in channel.keys
    }
    frames = np.array(sorted({*keyed, float(frame)}))
    motion = Motion(shot, frames)
    numbers = _orbit(motion) if rig == "orbit" else _free(motion)
    now = int(np.searchsorted(frames, frame))
    patch: Patch = [{"op": "replace", "path": "/camera/rig", "value": rig}]
    patch += [
        {"op": "remove", "path": f"/channels/{escaped(f'/camera/{name}')}"}
        for name in (*old, *new)
        if f"/camera/{name}" in shot.channels
    ]
    if camera.rig == "matched":
        # The picture stays what it is, as far as one can set it by hand.
        there = bake(shot, np.array([float(frame)]))
        numbers = _orbit(motion) if rig == "orbit" else camera_course(motion)[0]
        aim, half = there.camera_aim[0], np.tan(np.radians(there.camera_angle[0] / 2))
        length = camera.sensor_width / shot.format.aspect / (2 * half)
        patch += [
            {"op": "replace", "path": f"/camera/{name}", "value": round(float(value), 6)}
            for name, value in (
                *zip(("aim/x", "aim/y", "aim/z"), aim, strict=True),
                ("roll", there.camera_roll[0]),
                ("focal_length", np.clip(length, 4, 1200)),
            )
        ]
    for name, values in zip(new, numbers.T, strict=True):
        value = round(float(values[now]), 6)
        if float(resolve(shot, f"/camera/{name}")) != value:
            patch.append({"op": "replace", "path": f"/camera/{name}", "value": value})
        if not keyed:
            continue
        keys = [
            {"frame": f, "value": round(float(v), 6), "ease": keyed[f]}
            for f, v in zip(frames.tolist(), values.tolist(), strict=True)
            if f in keyed
        ]
        patch.append(
            {"op": "add", "path": f"/channels/{escaped(f'/camera/{name}')}", "value": {"keys": keys}}
        )
    return patch


def _orbit(motion: Motion) -> Floats:
    """Azimuth, elevation and distance (frames, 3) of a camera that stands free."""
    position, aim, _ = camera_course(motion)
    on = hung(motion, motion.shot.camera.hangs_on)
    away = np.linalg.inv(on[:, :3, :3]) @ (position - aim)[:, :, None]
    x, y, z = away[:, :, 0].T
    distance = np.linalg.norm(position - aim, axis=1)
    azimuth = np.degrees(np.unwrap(np.arctan2(x, z)))
    elevation = np.degrees(np.arctan2(y, np.hypot(x, z)))
    if motion.shot.camera.keeps == "size":
        distance = distance * KEPT_LENS / motion.value("/camera/focal_length")
    return np.stack([azimuth, np.clip(elevation, -89.9, 89.9), np.maximum(distance, 0.02)], axis=1)


def _free(motion: Motion) -> Floats:
    """Positions (frames, 3), counted from what the camera hangs on."""
    on = hung(motion, motion.shot.camera.hangs_on)
    return points_under(np.asarray(np.linalg.inv(on), np.float64), camera_course(motion)[0])
