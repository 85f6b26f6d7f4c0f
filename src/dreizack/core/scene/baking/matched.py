"""The camera of a plate, and which of its frames is shown when."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ...affine import rotations_of, vectors_of
from ...clips import clip_facts
from ...document import Plate, Shot
from ...match import Alignment, Bundle, library_solve
from ...motion import Motion
from ..viewing import camera_axes

Floats = NDArray[np.float64]

# What a camera that stands for a plate looks at is so far away, in metres.
AHEAD = 5.0


@dataclass(frozen=True)
class MatchedCamera:
    """Where the plate's camera is and what it looks at (frames, 3), its roll and vertical angle of view
    (frames,) in degrees."""

    position: Floats
    aim: Floats
    roll: Floats
    angle: Floats


def plate_moments(shot: Shot, frames: Floats) -> Floats:
    """Frames of the plate, with fractions, that are shown at frames of the shot; held at its ends."""
    plate, facts = shot.plate, clip_facts(shot.plate.clip)
    last = facts.frames - 1 if facts is not None else _last_solved(plate)
    pace = float(facts.rate) / shot.format.rate.per_second if facts is not None else 1.0
    moments: Floats = np.clip(plate.first + frames * plate.speed * pace, 0, last)
    return moments


def _last_solved(plate: Plate) -> int:
    solve = library_solve(plate.solve)
    return solve.frames - 1 if solve is not None else 0


def plate_playing(shot: Shot, frames: Floats) -> NDArray[np.int64]:
    """Which frames of the plate are shown."""
    if not shot.plate.clip:
        return np.zeros(len(frames), np.int64)
    return np.floor(plate_moments(shot, frames) + 0.5).astype(np.int64)


def alignment_of(plate: Plate) -> Alignment:
    """Where the room of the solve lies."""
    return Alignment(
        np.array([plate.origin.x, plate.origin.y, plate.origin.z]),
        np.array([plate.turn.x, plate.turn.y, plate.turn.z]),
        plate.scale,
    )


def plate_bending(shot: Shot) -> float:
    """The radial term by which the plate's lens bends words, for places counted in heights of the picture
    from its middle: r becomes r · (1 + bending · r²); 0 where it does not."""
    solve = library_solve(shot.plate.solve) if shot.plate.bends and shot.camera.rig == "matched" else None
    if solve is None:
        return 0.0
    return solve.bundle.k1 * (_seen_height(solve.bundle, shot) / solve.bundle.focal) ** 2


def _seen_height(bundle: Bundle, shot: Shot) -> float:
    """Pixels of the plate that a picture of the shot's shape is high, which it fills."""
    return min(float(bundle.size[1]), bundle.size[0] / shot.format.aspect)


def matched_camera(motion: Motion) -> MatchedCamera | None:
    """The solved camera over time, in our room; None where there is no solve."""
    shot = motion.shot
    solve = library_solve(shot.plate.solve)
    if solve is None:
        return None
    bundle, where = solve.bundle, alignment_of(shot.plate)
    moment = np.clip(plate_moments(shot, motion.frames), 0, solve.frames - 1)
    before = np.minimum(moment.astype(np.int64), max(solve.frames - 2, 0))
    after = np.minimum(before + 1, solve.frames - 1)
    share = (moment - before)[:, None]
    turn = vectors_of(bundle.rotations[after] @ np.swapaxes(bundle.rotations[before], 1, 2))
    rotation = rotations_of(share * turn) @ bundle.rotations[before] @ where.rotation.T
    centre = bundle.centres[before] * (1 - share) + bundle.centres[after] * share
    position = where.placed(centre)
    aim = position + rotation[:, 2] * AHEAD
    level = camera_axes(position, aim, np.zeros(len(aim)))
    roll = np.degrees(
        np.arctan2(
            -np.einsum("fi,fi->f", rotation[:, 0], level[:, 1]),
            np.einsum("fi,fi->f", rotation[:, 0], level[:, 0]),
        )
    )
    angle = np.degrees(2 * np.arctan(_seen_height(bundle, shot) / 2 / bundle.focal))
    return MatchedCamera(position, aim, roll, np.full(len(aim), angle))
