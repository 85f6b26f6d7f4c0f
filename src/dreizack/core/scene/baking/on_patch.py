"""What goes with a flat area of the plate: where that stands, frame by frame."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...document import FlatPatch, Pivot, Shot, camera_followers
from ...match import Followed, axes_of_sides, from_lower_left, plane_poses, standing_places
from ...motion import Motion
from ..plate_places import plate_to_picture
from ..viewing import camera_axes
from .camera import angle_of_view, camera_course
from .covering import box_of, followed_of, square_to
from .matched import matched_camera, plate_moments

Floats = NDArray[np.float64]

# Frames from which it is told whether an area stands still in the room.
LOOKS = 40
SQUARE = np.array([[0.0, 0, 1], [1, 0, 1], [1, 1, 1], [0, 1, 1]])


def patch_space(motion: Motion, name: str) -> Floats | None:
    """Matrices (frames, 4, 4) of the area that a pivot goes with: its middle, x along its width, y up along
    it, z out of it. Where the camera of the plate moved around it and it stands still in the room, that one
    place; the space is as large then as makes the area as wide as it is taken to be. None where there is no
    such area, or the camera itself goes by the pivot."""
    shot = motion.shot
    pivot = shot.things[name]
    if not isinstance(pivot, Pivot) or name in camera_followers(shot):
        return None
    patch = next((one for one in shot.plate.patches if one.name == pivot.goes_with), None)
    followed = followed_of(patch) if patch is not None else None
    if patch is None or followed is None or patch.shape is None:
        return None
    standing = _standing(shot, patch, followed, pivot.width)
    if standing is not None:
        return np.tile(standing, (len(motion.frames), 1, 1))
    drawn = Motion(shot, np.concatenate([[float(patch.shape.frame)], motion.frames]))
    poses = plane_poses(_ahead(drawn, patch, followed), pivot.width)[1:]
    result: Floats = _camera(motion) @ poses
    return result


def _standing(shot: Shot, patch: FlatPatch, followed: Followed, width: float) -> Floats | None:
    """The matrix (4, 4) of an area that stands still while the plate's camera moves; None where it does not,
    or the camera is not the plate's."""
    if shot.camera.rig != "matched":
        return None
    frames = np.arange(shot.format.frames, dtype=np.float64)
    there = np.rint(plate_moments(shot, frames)).astype(np.int64)
    seen = followed.alike[np.clip(there, 0, followed.frames - 1)] > 0
    frames = frames[seen][:: max(1, int(seen.sum()) // LOOKS)]
    if len(frames) < 2:
        return None
    motion = Motion(shot, frames)
    camera = _camera(motion)
    ways = np.einsum("fij,pj->fpi", _ahead(motion, patch, followed), SQUARE)
    ways *= np.where(ways[..., 2:] < 0, -1.0, 1.0) * np.array([1.0, 1.0, -1.0])
    ways = np.einsum("fij,fpj->fpi", camera[:, :3, :3], ways)
    ways /= np.linalg.norm(ways, axis=2, keepdims=True)
    half = np.tan(np.radians(_angle(motion)) / 2)
    corners = standing_places(camera[:, :3, 3], ways, half)
    if corners is None:
        return None
    across = (corners[1] - corners[0] + corners[2] - corners[3]) / 2
    upward = (corners[3] - corners[0] + corners[2] - corners[1]) / 2
    found = np.eye(4)
    found[:3, :3] = axes_of_sides(across[None], upward[None])[0] * (np.linalg.norm(across) / width)
    found[:3, 3] = corners.mean(axis=0)
    return found


def _ahead(motion: Motion, patch: FlatPatch, followed: Followed) -> Floats:
    """Homographies (frames, 3, 3) from the unit square of an area, (0, 0) at its lower left, to places ahead
    of the camera at distance 1 (right, up)."""
    shot = motion.shot
    assert patch.shape is not None
    shape = np.array(patch.shape.points, np.float64)
    corners = from_lower_left(shape if len(shape) == 4 else box_of(shape))
    drawn = plate_moments(shot, np.array([float(patch.shape.frame)]))
    start = followed.carried(corners, float(drawn[0]), np.array([float(followed.reference)]))[0]
    # From the square to the plate, to the picture, to what lies ahead of the camera.
    half, aspect = np.tan(np.radians(_angle(motion)) / 2), shot.format.aspect
    ahead = np.zeros((len(motion.frames), 3, 3))
    ahead[:, 0, 0], ahead[:, 0, 2] = 2 * half * aspect, -half * aspect
    ahead[:, 1, 1], ahead[:, 1, 2] = -2 * half, half
    ahead[:, 2, 2] = 1
    there = followed.at(plate_moments(shot, motion.frames)) @ square_to(start)
    found: Floats = ahead @ plate_to_picture(shot.plate.clip, aspect) @ there
    return found


def _camera(motion: Motion) -> Floats:
    """Matrices (frames, 4, 4) of the camera: right, up, backward."""
    position, aim, _ = camera_course(motion)
    axes = camera_axes(position, aim, _roll(motion))
    camera = np.zeros((len(motion.frames), 4, 4))
    camera[:, :3, 0], camera[:, :3, 1], camera[:, :3, 2] = axes[:, 0], axes[:, 1], -axes[:, 2]
    camera[:, :3, 3], camera[:, 3, 3] = position, 1
    return camera


def _angle(motion: Motion) -> Floats:
    matched = matched_camera(motion) if motion.shot.camera.rig == "matched" else None
    return matched.angle if matched is not None else angle_of_view(motion)


def _roll(motion: Motion) -> Floats:
    matched = matched_camera(motion) if motion.shot.camera.rig == "matched" else None
    return matched.roll if matched is not None else motion.value("/camera/roll")
