"""A camera that goes from one shot into the next while the one gives way to the other."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..affine import rotations_of, vectors_of
from ..document import Shot, apply_edit, changed_at, seen_through
from ..exchange.camera_in import CameraCourse, keyed_camera
from ..scene import bake
from ..scene.viewing import camera_axes
from .document import SequencePiece

Floats = NDArray[np.float64]

# Frames beyond the transition that are keyed, so that motion blur finds where the camera comes from.
BEYOND = 2


@dataclass(frozen=True)
class Poses:
    """Cameras (n): where they are (n, 3), their axes (n, 3, 3), the tangent of half their angle of view and
    how far away their aim is (n,)."""

    position: Floats
    axes: Floats
    half: Floats
    away: Floats


def travelled(
    shots: tuple[Shot, Shot], pieces: tuple[SequencePiece, SequencePiece], begins: int, overlap: int
) -> tuple[Shot, Shot]:
    """Two shots, one of which gives way to the other over ``overlap`` frames from frame ``begins`` of the
    first piece on: their cameras go together from where the first one's is to where the second one's is.

    A camera that was matched to footage stays where it is, as the footage would not follow; so does that of a
    piece that stands still. The other one goes to it all the same.
    """
    steps = np.arange(-BEYOND, overlap + BEYOND, dtype=np.float64)
    at = tuple(
        np.maximum(0.0, piece.course(first + steps)) for piece, first in zip(pieces, (begins, 0), strict=True)
    )
    one, other = (_poses(shot, frames) for shot, frames in zip(shots, at, strict=True))
    along = np.clip((steps + 1) / (overlap + 1), 0, 1)
    # Where it sets off and where it arrives it neither jerks nor stops (Perlin, Improving Noise, 2002: the
    # fifth-degree step has no acceleration at its ends).
    between = _between(one, other, along**3 * (along * (6 * along - 15) + 10))
    out, into = (_following(shot, frames, between) for shot, frames in zip(shots, at, strict=True))
    return out, into


def _poses(shot: Shot, frames: Floats) -> Poses:
    baked = bake(shot, np.minimum(frames, shot.format.frames - 1))
    position, aim = baked.camera_position, baked.camera_aim
    axes = camera_axes(position, aim, baked.camera_roll)
    half = np.tan(np.radians(baked.camera_angle) / 2)
    return Poses(position, axes, half, np.linalg.norm(aim - position, axis=1))


def _between(one: Poses, other: Poses, share: Floats) -> Poses:
    """Cameras a share (n,) of the way from one to the other: turned about one axis (Shoemake, Animating
    Rotation with Quaternion Curves, 1985), lenses and distances by equal ratios."""
    turn = vectors_of(other.axes @ np.swapaxes(one.axes, 1, 2))
    way = share[:, None]
    return Poses(
        one.position + way * (other.position - one.position),
        rotations_of(way * turn) @ one.axes,
        one.half * (other.half / one.half) ** share,
        one.away * (np.maximum(other.away, 1e-3) / np.maximum(one.away, 1e-3)) ** share,
    )


def _following(shot: Shot, frames: Floats, poses: Poses) -> Shot:
    """The shot with its camera where ``poses`` say at frames (n,), which run on evenly."""
    if shot.camera.rig == "matched" or np.ptp(frames) == 0:
        return shot
    at, first = np.unique(frames, return_index=True)
    course = CameraCourse(
        0.0,
        poses.position[first],
        poses.axes[first, 2],
        poses.axes[first, 1],
        np.degrees(2 * np.arctan(poses.half[first])),
    )
    # What is looked through then stands in the first camera's place, and no cut takes it away.
    cut = Shot.model_validate(shot.model_dump())
    cut.changes.pop("/through", None)
    seen = seen_through(cut, changed_at(shot, float(np.median(frames))).through)
    return apply_edit(seen, keyed_camera(seen, at, course, poses.away[first])).shot
