"""What goes with a flat area of the plate: where that stands before the camera, frame by frame."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...document import Pivot, camera_followers
from ...match import from_lower_left, plane_poses
from ...motion import Motion
from ..plate_places import plate_to_picture
from ..viewing import camera_axes
from .camera import angle_of_view, camera_course
from .covering import box_of, followed_of, square_to
from .matched import matched_camera, plate_moments

Floats = NDArray[np.float64]


def patch_space(motion: Motion, name: str) -> Floats | None:
    """Matrices (frames, 4, 4) of the area that a pivot goes with: its middle, x along its width, y up along
    it, z out of it. None where there is no such area, or the camera itself goes by the pivot."""
    shot = motion.shot
    pivot = shot.things[name]
    if not isinstance(pivot, Pivot) or name in camera_followers(shot):
        return None
    patch = next((one for one in shot.plate.patches if one.name == pivot.goes_with), None)
    followed = followed_of(patch) if patch is not None else None
    if patch is None or followed is None or patch.shape is None:
        return None
    shape = np.array(patch.shape.points, np.float64)
    corners = from_lower_left(shape if len(shape) == 4 else box_of(shape))
    drawn = plate_moments(shot, np.array([float(patch.shape.frame)]))
    start = followed.carried(corners, float(drawn[0]), np.array([float(followed.reference)]))[0]
    # From the square to the plate, to the picture, to what lies ahead of the camera at distance 1.
    moments = np.concatenate([drawn, plate_moments(shot, motion.frames)])
    frames = np.concatenate([[float(patch.shape.frame)], motion.frames])
    seen = Motion(shot, frames)
    half, aspect = np.tan(np.radians(_angle(seen)) / 2), shot.format.aspect
    ahead = np.zeros((len(frames), 3, 3))
    ahead[:, 0, 0], ahead[:, 0, 2] = 2 * half * aspect, -half * aspect
    ahead[:, 1, 1], ahead[:, 1, 2] = -2 * half, half
    ahead[:, 2, 2] = 1
    ways = ahead @ plate_to_picture(shot.plate.clip, aspect) @ followed.at(moments) @ square_to(start)
    poses = plane_poses(ways, pivot.width)[1:]
    position, aim, _ = camera_course(motion)
    axes = camera_axes(position, aim, _roll(motion))
    camera = np.zeros((len(motion.frames), 4, 4))
    camera[:, :3, 0], camera[:, :3, 1], camera[:, :3, 2] = axes[:, 0], axes[:, 1], -axes[:, 2]
    camera[:, :3, 3], camera[:, 3, 3] = position, 1
    result: Floats = camera @ poses
    return result


def _angle(motion: Motion) -> Floats:
    matched = matched_camera(motion) if motion.shot.camera.rig == "matched" else None
    return matched.angle if matched is not None else angle_of_view(motion)


def _roll(motion: Motion) -> Floats:
    matched = matched_camera(motion) if motion.shot.camera.rig == "matched" else None
    return matched.roll if matched is not None else motion.value("/camera/roll")
