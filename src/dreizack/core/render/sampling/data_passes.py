"""What compositing needs beside light: depth, normals, movement and which part is seen how much."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ...affine import homogeneous
from ...scene import FrameState, Lens, Pose
from ..kernel.cancellation import Stopped
from ..kernel.engine import arrays, engine
from ..staging.stage import Stage, part_id
from ..transport.lens import Window, camera_rays
from ..transport.paths import first_met
from .launch import part_numbers

mi, dr = engine(), arrays()
Floats = NDArray[np.float32]
Doubles = NDArray[np.float64]
Ints = NDArray[np.int64]

# Rays a pixel, and parts that are told of each at most.
SAMPLES, RANKS = 8, 4
RAYS = 2_000_000


@dataclass(frozen=True)
class DataPasses:
    """Data of one picture, float32; 0 where there is nothing.

    ``depth`` (height, width): metres along the camera's axis, of what is nearest within a pixel. ``normal``
    (height, width, 3): in the room, mean over what is seen. ``motion`` (height, width, 2): pixels to the
    right and down until the next frame. ``ids`` and ``shares`` (height, width, RANKS): numbers of parts, the
    largest first, and the share of the pixel each takes. ``names`` of the parts, by number from 1 on.
    """

    depth: Floats
    normal: Floats
    motion: Floats
    ids: Floats
    shares: Floats
    names: tuple[str, ...]


def data_passes(
    stage: Stage,
    state: FrameState,
    after: FrameState | None,
    size: tuple[int, int],
    stopped: Callable[[], bool] = lambda: False,
) -> DataPasses:
    """Data of a frame ``state`` of a picture ``size`` (width, height); ``after`` is the frame that follows,
    none: nothing moves. Focus and shutter are left out: data is not blurred."""
    width, height = size
    still = replace(state, lens=Lens(), during=(), closing=None)
    stage.show(still)
    names = tuple(stage.part_names)
    rows = max(1, RAYS // (width * SAMPLES))
    strips = []
    for top in range(0, height, rows):
        if stopped():
            raise Stopped
        strips.append(
            _strip(stage, still, after, size, Window(0, top, width, min(rows, height - top)), names)
        )
    depth, normal, motion, ids, shares = (np.concatenate(parts) for parts in zip(*strips, strict=True))
    return DataPasses(
        depth.reshape(height, width),
        normal.reshape(height, width, 3),
        motion.reshape(height, width, 2),
        ids.reshape(height, width, RANKS),
        shares.reshape(height, width, RANKS),
        names,
    )


def _strip(
    stage: Stage,
    state: FrameState,
    after: FrameState | None,
    size: tuple[int, int],
    window: Window,
    names: tuple[str, ...],
) -> tuple[Floats, Floats, Floats, Floats, Floats]:
    pixels = window.pixels(size[0])
    ray, _ = camera_rays(state, size, pixels, SAMPLES, 0)
    assert stage.tables is not None
    si = first_met(stage.tables, ray)
    there = np.asarray(si.is_valid()).astype(bool)
    part = np.where(there, part_numbers(stage)[np.asarray(dr.reinterpret_array(mi.UInt32, si.shape))], 0)
    there &= part > 0
    place = np.stack([np.asarray(axis) for axis in (si.p.x, si.p.y, si.p.z)], axis=1).astype(np.float64)
    leans = np.stack(
        [np.asarray(axis) for axis in (si.sh_frame.n.x, si.sh_frame.n.y, si.sh_frame.n.z)], axis=1
    )
    triangle = np.asarray(si.prim_index).astype(np.int64)
    away = (place - state.pose.position) @ state.pose.axes[2]

    part = part.reshape(-1, SAMPLES)
    ids, shares = ranked(part)
    hits = there.reshape(-1, SAMPLES)
    near = np.where(hits, away.reshape(-1, SAMPLES), np.inf)
    first = near.argmin(axis=1)
    pick = np.arange(len(part)) * SAMPLES + first
    some = hits.any(axis=1)
    depth = np.where(some, near.min(axis=1), 0).astype(np.float32)
    count = np.maximum(hits.sum(axis=1), 1)[:, None]
    normal = (leans.reshape(-1, SAMPLES, 3) * hits[..., None]).sum(axis=1) / count
    motion = np.zeros((len(part), 2))
    if after is not None and some.any():
        chosen = pick[some]
        then = _later(stage, state, after, place[chosen], part.reshape(-1)[chosen], triangle[chosen], names)
        motion[some] = seen_at(after.pose, then, size) - seen_at(state.pose, place[chosen], size)
    return depth, normal.astype(np.float32), motion.astype(np.float32), ids, shares


def ranked(part: NDArray[np.integer]) -> tuple[Floats, Floats]:
    """The numbers that occur most in each row (n, samples), and their shares; 0 does not count.

    >>> ids, shares = ranked(np.array([[3, 0, 3, 5]]))
    >>> ids[0].tolist(), shares[0].tolist()
    ([3.0, 5.0, 0.0, 0.0], [0.5, 0.25, 0.0, 0.0])
    """
    found = np.sort(part, axis=1)
    first = np.concatenate([np.ones((len(found), 1), bool), found[:, 1:] != found[:, :-1]], axis=1)
    times = (found[:, :, None] == found[:, None, :]).sum(axis=2) * (first & (found > 0))
    most = np.argsort(-times, axis=1, kind="stable")[:, :RANKS]
    counts = np.take_along_axis(times, most, axis=1)
    ids = np.where(counts > 0, np.take_along_axis(found, most, axis=1), 0)
    missing = max(0, RANKS - ids.shape[1])
    pad = ((0, 0), (0, missing))
    return (
        np.pad(ids, pad).astype(np.float32),
        np.pad(counts / part.shape[1], pad).astype(np.float32),
    )


def seen_at(pose: Pose, places: Doubles, size: tuple[int, int]) -> Doubles:
    """Where places (n, 3) are seen in a picture ``size`` (width, height), in pixels from its upper left
    corner (n, 2)."""
    width, height = size
    x, y, z = ((places - pose.position) @ pose.axes.T).T
    scale = height / 2 / np.tan(np.radians(pose.angle) / 2) / np.maximum(z, 1e-6)
    return np.stack([width / 2 + x * scale, height / 2 - y * scale], axis=1)


def _later(
    stage: Stage,
    state: FrameState,
    after: FrameState,
    places: Doubles,
    part: Ints,
    triangle: Ints,
    names: tuple[str, ...],
) -> Doubles:
    """Where places on parts are in the frame that follows: they go with the piece they lie on."""
    then = places.copy()
    for thing, parts in stage.parts.items():
        if thing not in after.titles:
            continue
        now, next_ = state.titles[thing], after.titles[thing]
        if np.array_equal(now.matrix, next_.matrix) and np.array_equal(now.poses, next_.poses):
            continue
        for (finish, name), mesh in parts.items():
            where = np.flatnonzero(part == names.index(part_id(thing, finish, name)) + 1)
            if not len(where):
                continue
            letter = np.minimum(
                np.searchsorted(mesh.ends, triangle[where], side="right"), len(mesh.letter_pieces) - 1
            )
            piece = mesh.letter_pieces[letter]
            if len(next_.poses) != len(now.poses):
                piece = np.minimum(piece, len(next_.poses) - 1)
            to = _whole(next_.matrix, next_.poses)[piece] @ np.linalg.inv(
                _whole(now.matrix, now.poses)[np.minimum(piece, len(now.poses) - 1)]
            )
            held = np.concatenate([places[where], np.ones((len(where), 1))], axis=1)
            then[where] = np.einsum("nij,nj->ni", to, held)[:, :3]
    return then


def _whole(matrix: Doubles, poses: Doubles) -> Doubles:
    """Matrices (pieces, 4, 4) of pieces in the room."""
    return matrix @ homogeneous(poses)
