"""Things hung on others, or let go, without a jump."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...affine import split
from ...document import Light, Shot, escaped, hanging, resolve
from ...motion import Motion
from ..baking.places import hung, placed, points_under

Floats = NDArray[np.float64]
Patch = list[dict[str, Any]]


def hung_on(shot: Shot, name: str, on: str, frame: float) -> Patch:
    """The patch that hangs a thing (or "camera") on another one, or lets it go (""), so that it stays where
    it is: at ``frame``, and at each of its keys.

    KeyError where there is no such thing.
    """
    at = "/camera" if name == "camera" else f"/things/{escaped(name)}"
    thing = shot.camera if name == "camera" else shot.things[name]
    if hanging(thing) == on:
        return []
    if name == "camera" or isinstance(thing, Light):
        patch = _points(shot, at, hanging(thing), on, frame)
        return [*patch, {"op": "replace", "path": f"{at}/hangs_on", "value": on}]
    frames = _key_frames(shot, f"/things/{name}/place", frame)
    motion = Motion(shot, frames)
    local = np.linalg.inv(hung(motion, on)) @ placed(motion, name)
    position, turn, scale = split(local)
    numbers = {
        **{f"position/{axis}": position[:, k] for k, axis in enumerate("xyz")},
        **{f"rotation/{axis}": turn[:, k] for k, axis in enumerate("xyz")},
        "scale": scale,
    }
    patch = _written(shot, f"{at}/place", f"/things/{name}/place", numbers, frames, frame)
    return [*patch, {"op": "replace", "path": f"{at}/place/hangs_on", "value": on}]


def _points(shot: Shot, at: str, before: str, on: str, frame: float) -> Patch:
    """Position and aim of a light or the camera, counted from something else."""
    patch: Patch = []
    for point in ("position", "aim"):
        pointer = f"{at}/{point}".replace("~1", "/").replace("~0", "~")
        frames = _key_frames(shot, pointer, frame)
        motion = Motion(shot, frames)
        world = points_under(hung(motion, before), motion.vector(pointer))
        local = points_under(np.asarray(np.linalg.inv(hung(motion, on)), np.float64), world)
        numbers = {axis: local[:, k] for k, axis in enumerate("xyz")}
        patch += _written(shot, f"{at}/{point}", pointer, numbers, frames, frame)
    return patch


def _key_frames(shot: Shot, below: str, frame: float) -> Floats:
    keys = {key.frame for pointer, c in shot.channels.items() if pointer.startswith(below) for key in c.keys}
    return np.array(sorted({*keys, float(frame)}))


def _written(
    shot: Shot, path: str, pointer: str, numbers: dict[str, Floats], frames: Floats, frame: float
) -> Patch:
    """Numbers written: as keys where any of those that belong together had keys at these frames, else as they
    are at ``frame``."""
    keyed = {key.frame for name in numbers if (c := shot.channels.get(f"{pointer}/{name}")) for key in c.keys}
    now = int(np.searchsorted(frames, frame))
    patch: Patch = []
    for name, values in numbers.items():
        value = round(float(values[now]), 6)
        own = shot.channels.get(f"{pointer}/{name}")
        if keyed and (own is not None or np.ptp(values) > 1e-6):
            eases = {key.frame: key.ease.model_dump(mode="json") for key in own.keys} if own else {}
            any_ease = next(
                c.keys[0].ease.model_dump(mode="json")
                for other in numbers
                if (c := shot.channels.get(f"{pointer}/{other}"))
            )
            keys = [
                {"frame": f, "value": round(float(v), 6), "ease": eases.get(f, any_ease)}
                for f, v in zip(frames.tolist(), values.tolist(), strict=True)
                if f in keyed
            ]
            patch.append(
                {"op": "add", "path": f"/channels/{escaped(f'{pointer}/{name}')}", "value": {"keys": keys}}
            )
        if own is None and abs(float(resolve(shot, f"{pointer}/{name}")) - value) > 1e-9:
            patch.append({"op": "replace", "path": f"{path}/{name}", "value": value})
    return patch
