"""Movements of the camera."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..document import Ease, Shot, escaped
from ..document.operations import replaced
from .applying import Motion, Patch, drifting, keyed, number_of

CAMERA_ONLY = ("camera",)
SOFT = Ease()
EVEN = Ease(kind="linear")


@dataclass(frozen=True)
class Stand:
    """Where the camera stands around its aim, and the edit that makes it stand so by these numbers."""

    patch: Patch
    azimuth: float
    elevation: float
    distance: float


def _stand(shot: Shot) -> Stand:
    if shot.camera.rig == "orbit":
        return Stand(
            [], *(number_of(shot, f"/camera/{name}") for name in ("azimuth", "elevation", "distance"))
        )
    position, aim = (
        [number_of(shot, f"/camera/{point}/{axis}") for axis in "xyz"] for point in ("position", "aim")
    )
    x, y, z = (p - q for p, q in zip(position, aim, strict=True))
    distance = max(0.05, math.hypot(x, y, z))
    azimuth = math.degrees(math.atan2(x, z))
    elevation = max(-89.0, min(89.0, math.degrees(math.atan2(y, math.hypot(x, z)))))
    patch: Patch = [
        {"op": "remove", "path": f"/channels/{escaped(pointer)}"}
        for pointer in shot.channels
        if pointer.startswith("/camera/position/")
    ]
    patch += [
        replaced("/camera/rig", "orbit"),
        replaced("/camera/azimuth", round(azimuth, 4)),
        replaced("/camera/elevation", round(elevation, 4)),
        replaced("/camera/distance", round(distance, 4)),
    ]
    return Stand(patch, azimuth, elevation, distance)


def _push(shot: Shot, _: str, start: int, length: int) -> Patch:
    stand = _stand(shot)
    far = stand.distance
    return [
        *stand.patch,
        keyed("/camera/distance", ((0, far * 1.12), (1, far * 0.94)), start, length, EVEN),
        drifting("/camera/azimuth", amplitude=0.5, frequency=0.15),
        drifting("/camera/elevation", amplitude=0.3, frequency=0.12),
    ]


def _around(shot: Shot, _: str, start: int, length: int) -> Patch:
    stand = _stand(shot)
    return [
        *stand.patch,
        keyed("/camera/azimuth", ((0, stand.azimuth - 50), (1, stand.azimuth + 10)), start, length, SOFT),
    ]


def _crane(shot: Shot, _: str, start: int, length: int) -> Patch:
    stand = _stand(shot)
    far = stand.distance
    low, high = max(-30.0, stand.elevation - 14), min(80.0, stand.elevation + 12)
    return [
        *stand.patch,
        keyed("/camera/elevation", ((0, low), (1, high)), start, length, SOFT),
        keyed("/camera/distance", ((0, far * 0.9), (1, far * 1.1)), start, length, SOFT),
    ]


def _held(shot: Shot, _: str, start: int, length: int) -> Patch:
    stand = _stand(shot)
    far = stand.distance
    lens = number_of(shot, "/camera/focal_length")
    patch = stand.patch
    if shot.camera.keeps == "distance":
        patch = [*patch, replaced("/camera/keeps", "size"), replaced("/camera/distance", far * 50 / lens)]
    return [
        *patch,
        keyed(
            "/camera/focal_length",
            ((0, max(14.0, lens * 0.45)), (1, min(300.0, lens * 1.9))),
            start,
            length,
            SOFT,
        ),
    ]


def _hand_held(shot: Shot, _: str, start: int, length: int) -> Patch:
    return [
        *(drifting(f"/camera/aim/{axis}", amplitude=0.035, frequency=0.7, detail=3, seed=3) for axis in "xy"),
        drifting("/camera/roll", amplitude=0.5, frequency=0.5, detail=2, seed=5),
    ]


def _focus(shot: Shot, _: str, start: int, length: int) -> Patch:
    stand = _stand(shot)
    far = stand.distance
    return [
        *stand.patch,
        replaced("/camera/defocus", True),
        replaced("/camera/focus", "distance"),
        keyed("/camera/focus_distance", ((0, far * 0.55), (1, far)), start, length, SOFT),
    ]


def _pass_by(shot: Shot, _: str, start: int, length: int) -> Patch:
    stand = _stand(shot)
    far = stand.distance
    return [
        *stand.patch,
        keyed("/camera/azimuth", ((0, stand.azimuth - 70), (1, stand.azimuth + 70)), start, length, EVEN),
        keyed(
            "/camera/distance",
            ((0, far * 1.3), (0.5, far * 0.6), (1, far * 1.3)),
            start,
            length,
            Ease(kind="smooth"),
        ),
        replaced("/camera/elevation", max(2.0, min(stand.elevation, 12.0))),
    ]


CAMERA = (
    Motion(
        "slow-push",
        "Slow push",
        "The camera comes a little closer all the time, and breathes.",
        CAMERA_ONLY,
        "hold",
        100,
        _push,
    ),
    Motion("around", "Around", "The camera goes part of the way around.", CAMERA_ONLY, "hold", 90, _around),
    Motion("crane", "Crane", "The camera is lifted and looks down.", CAMERA_ONLY, "hold", 90, _crane),
    Motion(
        "size-held",
        "Size held",
        "The lens grows longer while the camera moves away: the words stay as large, the room flattens.",
        CAMERA_ONLY,
        "hold",
        90,
        _held,
    ),
    Motion(
        "pass-by",
        "Pass by",
        "The camera passes close in front of the words.",
        CAMERA_ONLY,
        "hold",
        100,
        _pass_by,
    ),
    Motion(
        "in-the-hand",
        "In the hand",
        "The camera is held by somebody who stands still.",
        CAMERA_ONLY,
        "hold",
        100,
        _hand_held,
    ),
    Motion(
        "focus-arrives",
        "Focus arrives",
        "Focus comes from the front onto what the camera aims at.",
        CAMERA_ONLY,
        "hold",
        50,
        _focus,
    ),
)
