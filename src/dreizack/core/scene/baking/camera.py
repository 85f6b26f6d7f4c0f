"""The camera over time, whichever way it stands."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...document import Placed, Shot, seen_through
from ...motion import Motion
from .baked import BakedCamera
from .matched import matched_camera
from .places import hung, middle_of, points_under

Floats = NDArray[np.float64]

# The lens, in millimetres, for which the distance of a camera counts that keeps the size of what it aims at.
KEPT_LENS = 50.0


def camera_course(motion: Motion) -> tuple[Floats, Floats, Floats]:
    """Where the camera stands, what it looks at, and the point that is counted from, (frames, 3) each."""
    camera = motion.shot.camera
    on = hung(motion, camera.hangs_on)
    aim, followed = _aim(motion, on)
    if camera.rig == "matched" and (found := matched_camera(motion)) is not None:
        return found.position, found.aim, np.zeros((len(motion.frames), 3))
    if camera.rig != "orbit":
        return points_under(on, motion.vector("/camera/position")), aim, followed
    distance = motion.value("/camera/distance")
    if camera.keeps == "size":
        # What is seen is as large as the focal length over the distance.
        distance = distance * motion.value("/camera/focal_length") / KEPT_LENS
    away = orbit_direction(motion.value("/camera/azimuth"), motion.value("/camera/elevation"))
    turned: Floats = (on[:, :3, :3] @ away[:, :, None])[:, :, 0]
    turned /= np.linalg.norm(turned, axis=1, keepdims=True)
    return aim + turned * distance[:, None], aim, followed


def orbit_direction(azimuth: Floats, elevation: Floats) -> Floats:
    """Unit directions (frames, 3) from what is looked at to a camera, by angles in degrees: azimuth 0 is in
    front (z), 90 to the right (x); elevation 90 is straight above.

    >>> orbit_direction(np.array([90.0]), np.array([0.0])).round(6).tolist()
    [[1.0, 0.0, 0.0]]
    """
    a, e = np.radians(azimuth), np.radians(elevation)
    return np.stack([np.sin(a) * np.cos(e), np.sin(e), np.cos(a) * np.cos(e)], axis=1)


def _aim(motion: Motion, on: Floats) -> tuple[Floats, Floats]:
    """The camera's aim, and where it is counted from: of a thing that it follows the middle, at a moment to
    come."""
    camera = motion.shot.camera
    aim = motion.vector("/camera/aim")
    if not isinstance(motion.shot.things.get(camera.aim_at), Placed):
        return points_under(on, aim), points_under(on, np.zeros((len(aim), 3)))
    then = motion if not camera.lead else Motion(motion.shot, motion.frames + camera.lead)
    middle = middle_of(then, camera.aim_at)
    return middle + aim, middle


def angle_of_view(motion: Motion) -> Floats:
    """From top to bottom of the picture, in degrees (frames,)."""
    height = motion.shot.camera.sensor_width / motion.shot.format.aspect
    angle: Floats = np.degrees(2 * np.arctan(height / (2 * motion.value("/camera/focal_length"))))
    return angle


def all_cameras(shot: Shot, frames: Floats) -> dict[str, BakedCamera]:
    """All cameras of a shot at ``frames`` by name, "" the first one; nothing where there is only that."""
    if not shot.cameras:
        return {}
    motions = {name: Motion(seen_through(shot, name), frames) for name in ("", *shot.cameras)}
    return {
        name: BakedCamera(*camera_course(motion), angle_of_view(motion)) for name, motion in motions.items()
    }
