"""What happens while the shutter is open."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..document import Shot
from .baking import Baked, bake
from .frame import FrameState, frame_state

# Moments of a frame at which things are placed, at most; a power of two.
MOMENTS = 16
# Moments lie about so far apart, in shares of the height of the picture: a pixel of 1080.
APART = 1 / 1080
# How far from its middle a thing reaches, in metres, where that is not looked up.
REACH = 3.0


def exposed(shot: Shot, frame: float, baked: Baked | None = None, index: int = 0) -> FrameState:
    """The state of a frame with all that moves while the shutter is open, its middle being the frame itself.

    ``baked`` spares evaluating the frame where it has been already, at ``index``.
    """
    at = frame_state(shot, baked if baked is not None else bake(shot, np.array([frame])), index)
    span = shot.camera.shutter_angle / 360
    runs = shot.camera.rig == "matched" or any(thing.runs for thing in shot.bodied.values())
    if span <= 0 or not (shot.moving or runs):
        return at
    edges = frame + span * (np.arange(MOMENTS + 1) / MOMENTS - 0.5)
    times = np.concatenate([edges, (edges[1:] + edges[:-1]) / 2])
    run = bake(shot, np.maximum(times, 0.0))
    along = [frame_state(shot, run, i) for i in range(MOMENTS + 1)]
    moments = [frame_state(shot, run, MOMENTS + 1 + i) for i in range(MOMENTS)]
    if all(moment.things_key == at.things_key for moment in moments):
        still = along[0].pose.key == along[-1].pose.key
        return at if still else replace(at, pose=along[0].pose, closing=along[-1].pose)
    count = _needed(along)
    if count < MOMENTS:
        # The middles of longer stretches are ends of shorter ones.
        each = MOMENTS // count
        moments = along[each // 2 :: each][:count]
        along = along[::each]
    poses = [state.pose for state in along]
    return replace(
        at,
        during=tuple(
            replace(m, pose=a, closing=b) for m, a, b in zip(moments, poses, poses[1:], strict=False)
        ),
    )


def _needed(along: list[FrameState]) -> int:
    """How many moments show all movement without steps, a power of two up to :data:`MOMENTS`."""
    first, last = along[0], along[-1]
    if any(
        {state.titles[name].form.key for state in along if name in state.titles} != {title.form.key}
        for name, title in first.titles.items()
    ):
        return MOMENTS
    height = 2 * np.tan(np.radians(first.pose.angle / 2))
    shares = [
        np.radians(
            abs(last.surroundings_rotation - first.surroundings_rotation)
            + abs(last.surroundings_tilt - first.surroundings_tilt)
        )
        / height
    ]
    lights = [name for name in first.lights if all(name in state.lights for state in along)]
    paths = {name: np.array([state.lights[name].matrix for state in along]) for name in lights}
    for name in [name for name in first.titles if all(name in state.titles for state in along)]:
        whole = np.array([state.titles[name].matrix for state in along])
        poses = np.array([state.titles[name].poses for state in along])
        paths[name] = whole
        if np.any(poses != poses[0]):
            # Of letters that move by themselves, the one that moves most.
            letters = whole[:, None, :3, :3] @ poses
            letters[..., 3] += whole[:, None, :3, 3]
            far = np.abs(np.diff(letters, axis=0)).sum(axis=(0, 2, 3)).argmax() if letters.shape[1] else 0
            paths[name] = letters[:, far]
    for name, path in paths.items():
        steps = np.abs(np.diff(path, axis=0)).sum(axis=0)
        away = max(float(np.linalg.norm(path[0, :3, 3] - first.pose.position)), 0.5)
        reach = REACH if name in first.titles else 0.0
        shares.append(
            float(np.linalg.norm(steps[:3, 3]) + reach * np.linalg.norm(steps[:3, :3])) / away / height
        )
    return int(np.clip(2 ** np.ceil(np.log2(max(max(shares) / APART, 1e-6))), 2, MOMENTS))
