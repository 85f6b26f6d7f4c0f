"""Cameras, lens and points at once: bundle adjustment (Triggs et al., Bundle Adjustment - A Modern Synthesis,
1999), with the points eliminated (Schur complement), robust by Cauchy's weights.

The same serves a camera that only turns: then points are directions, and the camera's place is held.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ..affine import rotations_of, vectors_of
from .tracks import Ints, Tracks

Floats = NDArray[np.float64]

# Residuals in pixels from which on an observation counts for less (scale of Cauchy's weights).
ROBUST = 0.5
ROUNDS, ENOUGH = 20, 1e-5
# Points whose share of the normal equations is held at a time.
HELD = 1500


@dataclass(frozen=True)
class Bundle:
    """Cameras by frame: ``rotations`` (frames, 3, 3) from the room to the camera (x right, y down, z forward)
    and ``centres`` (frames, 3); ``points`` (tracks, 3); the lens: focal length in pixels, one radial term;
    ``size`` of the picture, and the share of a frame during which its rows are read out, one after the other.
    """

    rotations: Floats
    centres: Floats
    points: Floats
    focal: float
    k1: float
    size: tuple[int, int]
    readout: float = 0.0

    def in_camera(self, frame: Ints, point: Floats, row: Floats | None = None) -> Floats:
        """Points (n, 3) as cameras of frames (n,) have them; ``row`` (n,) in pixels says when they are seen,
        where rows are read out one after the other."""
        rotation, centre = self.rotations[frame], self.centres[frame]
        if self.readout and row is not None:
            late = (row / self.size[1] - 0.5) * self.readout
            turn, speed = self.speeds
            centre = centre + late[:, None] * speed[frame]
            rotation = rotations_of(late[:, None] * turn[frame]) @ rotation
        result: Floats = (rotation @ (point - centre)[..., None])[..., 0]
        return result

    @property
    def speeds(self) -> tuple[Floats, Floats]:
        """How cameras turn (rotation vectors) and move from one frame to the next, (frames, 3) each."""
        between = np.zeros((len(self.centres), 3))
        if len(self.centres) > 1:
            steps = vectors_of(self.rotations[1:] @ np.swapaxes(self.rotations[:-1], 1, 2))
            between[:-1] += steps / 2
            between[1:] += steps / 2
            between[[0, -1]] *= 2
        return between, np.gradient(self.centres, axis=0) if len(self.centres) > 1 else np.zeros((1, 3))

    def projected(self, seen: Floats) -> Floats:
        """Where points (n, 3) as a camera has them are in its picture (n, 2), in pixels."""
        flat = seen[:, :2] / seen[:, 2:]
        bent = flat * (1 + self.k1 * (flat**2).sum(axis=1, keepdims=True))
        result: Floats = bent * self.focal + np.array(self.size) / 2
        return result

    def residuals(self, tracks: Tracks) -> Floats:
        """Pixels (n, 2) by which points miss where they were seen."""
        seen = self.in_camera(tracks.frame, self.points[tracks.track], tracks.xy[:, 1])
        return self.projected(seen) - tracks.xy


@dataclass(frozen=True)
class Free:
    """What may change."""

    centres: bool = True
    focal: bool = True
    k1: bool = True
    points: bool = True


def adjusted(
    bundle: Bundle,
    tracks: Tracks,
    free: Free = Free(),
    rounds: int = ROUNDS,
    told: Callable[[], None] = lambda: None,
) -> Bundle:
    """The bundle that fits best, near the one it begins with (Levenberg, Marquardt)."""
    order = np.argsort(tracks.track, kind="stable")
    tracks = Tracks(tracks.track[order], tracks.frame[order], tracks.xy[order])
    damping, cost = 1e-3, _cost(bundle, tracks)
    for _ in range(rounds):
        told()
        system = _normal_equations(bundle, tracks, free)
        better = False
        for _ in range(6):
            tried = _stepped(bundle, tracks, free, system, damping)
            now = _cost(tried, tracks)
            if np.isfinite(now) and now < cost:
                better, gain = True, (cost - now) / cost
                bundle, cost, damping = tried, now, max(damping / 5, 1e-9)
                break
            damping *= 6
        if not better or gain < ENOUGH:
            break
    return bundle


def _cost(bundle: Bundle, tracks: Tracks) -> float:
    square = (bundle.residuals(tracks) ** 2).sum(axis=1) / ROBUST**2
    return float(np.log1p(square).sum()) if np.isfinite(square).all() else np.inf


@dataclass(frozen=True)
class _System:
    """Normal equations: of cameras and lens (n, n) and (n,), of points (tracks, 3, 3) and (tracks, 3), and
    what binds them, observation by observation."""

    cameras: Floats
    cameras_side: Floats
    points: Floats
    points_side: Floats
    binding: Floats
    columns: Ints


def _normal_equations(bundle: Bundle, tracks: Tracks, free: Free) -> _System:
    frame, track = tracks.frame, tracks.track
    seen = bundle.in_camera(frame, bundle.points[track], tracks.xy[:, 1])
    left = bundle.projected(seen) - tracks.xy
    weight = 1 / (1 + (left**2).sum(axis=1) / ROBUST**2)
    flat, z = seen[:, :2] / seen[:, 2:], seen[:, 2]
    square = (flat**2).sum(axis=1)
    bending = (1 + bundle.k1 * square)[:, None, None] * np.eye(2) + 2 * bundle.k1 * flat[:, :, None] * flat[
        :, None
    ]
    slope = np.zeros((len(z), 2, 3))
    slope[:, 0, 0] = slope[:, 1, 1] = 1 / z
    slope[:, :, 2] = -flat / z[:, None]
    to_seen = bundle.focal * bending @ slope
    cross = np.zeros((len(z), 3, 3))
    x, y, z = seen.T
    cross[:, 0, 1], cross[:, 0, 2], cross[:, 1, 2] = z, -y, x
    cross[:, 1, 0], cross[:, 2, 0], cross[:, 2, 1] = -z, y, -x
    rotation = bundle.rotations[frame]
    of_camera = [to_seen @ cross]
    if free.centres:
        of_camera.append(-to_seen @ rotation)
    of_lens = []
    if free.focal:
        # Relative, so that it is of the size of the others.
        of_lens.append((1 + bundle.k1 * square)[:, None] * flat * bundle.focal)
    if free.k1:
        of_lens.append(bundle.focal * square[:, None] * flat)
    jacobian = np.concatenate([*of_camera, *(lens[:, :, None] for lens in of_lens)], axis=2)
    of_point = to_seen @ rotation
    each, lens = 6 if free.centres else 3, len(of_lens)
    total = each * len(bundle.centres) + lens
    columns = np.concatenate(
        [frame[:, None] * each + np.arange(each), np.tile(np.arange(total - lens, total), (len(frame), 1))],
        axis=1,
    )
    weighed = jacobian * weight[:, None, None]
    products = np.einsum("nik,nil->nkl", weighed, jacobian)
    flat_index = columns[:, :, None] * total + columns[:, None]
    cameras = _sums(flat_index.ravel(), products.ravel(), total * total).reshape(total, total)
    side = _sums(columns.ravel(), np.einsum("nik,ni->nk", weighed, left).ravel(), total)
    points, points_side = np.zeros((0, 3, 3)), np.zeros((0, 3))
    binding = np.zeros((0, 0, 3))
    if free.points:
        count = len(bundle.points)
        own = np.einsum("nik,nil->nkl", of_point * weight[:, None, None], of_point).reshape(-1, 9)
        points = np.stack([_sums(track, own[:, k], count) for k in range(9)], axis=1).reshape(-1, 3, 3)
        pull = np.einsum("nik,ni->nk", of_point * weight[:, None, None], left)
        points_side = np.stack([_sums(track, pull[:, k], count) for k in range(3)], axis=1)
        binding = np.einsum("nik,nil->nkl", weighed, of_point)
    return _System(cameras, side, points, points_side, binding, columns)


def _stepped(bundle: Bundle, tracks: Tracks, free: Free, system: _System, damping: float) -> Bundle:
    total = len(system.cameras)
    matrix, side = system.cameras.copy(), system.cameras_side.copy()
    matrix[np.diag_indices(total)] *= 1 + damping
    matrix[np.diag_indices(total)] += 1e-9
    inverse = np.zeros((0, 3, 3))
    if free.points:
        own = system.points.copy()
        place = np.arange(3)
        own[:, place, place] *= 1 + damping
        own[:, place, place] += 1e-9 + 1e-9 * np.trace(system.points, axis1=1, axis2=2)[:, None]
        inverse = np.linalg.inv(own).astype(np.float64)
        for begin in range(0, len(own), HELD):
            low, high = np.searchsorted(tracks.track, [begin, begin + HELD])
            count = min(HELD, len(own) - begin)
            dense = _dense(system, tracks, low, high, begin, count)
            half = np.einsum("mtk,tkl->mtl", dense.reshape(total, count, 3), inverse[begin : begin + count])
            matrix -= half.reshape(total, -1) @ dense.T
            side -= half.reshape(total, -1) @ system.points_side[begin : begin + count].ravel()
    step: Floats = -np.linalg.solve(matrix, side).astype(np.float64)
    result = _moved(bundle, free, step)
    if free.points:
        pull = system.points_side.copy()
        carried = np.einsum("nkl,nk->nl", system.binding, step[system.columns])
        pull += np.stack([_sums(tracks.track, carried[:, k], len(pull)) for k in range(3)], axis=1)
        result = replace(result, points=bundle.points - (inverse @ pull[..., None])[..., 0])
    return result


def _dense(system: _System, tracks: Tracks, low: int, high: int, begin: int, count: int) -> Floats:
    """What binds cameras and some points, (cameras, points × 3)."""
    total, columns = len(system.cameras), system.columns[low:high]
    rows = (tracks.track[low:high] - begin)[:, None] * 3 + np.arange(3)
    index = columns[:, :, None] * (count * 3) + rows[:, None]
    return _sums(index.ravel(), system.binding[low:high].ravel(), total * count * 3).reshape(total, count * 3)


def _moved(bundle: Bundle, free: Free, step: Floats) -> Bundle:
    each, frames = 6 if free.centres else 3, len(bundle.centres)
    cameras, lens = step[: each * frames].reshape(frames, each), list(step[each * frames :])
    rotations = rotations_of(cameras[:, :3]) @ bundle.rotations
    centres = bundle.centres + cameras[:, 3:] if free.centres else bundle.centres
    focal = bundle.focal * float(np.exp(np.clip(lens.pop(0), -0.5, 0.5))) if free.focal else bundle.focal
    k1 = bundle.k1 + float(lens.pop(0)) if free.k1 else bundle.k1
    return replace(bundle, rotations=rotations, centres=centres, focal=focal, k1=k1)


def _sums(index: Ints, values: Floats, count: int) -> Floats:
    """Sums (count,) of values by their index."""
    return np.bincount(index, values, count).astype(np.float64)


def triangulated(bundle: Bundle, tracks: Tracks) -> Floats:
    """Points (tracks, 3) from where cameras saw them (direct linear transform; Hartley & Zisserman, Multiple
    View Geometry, 2004, 12.2)."""
    flat = unbent(bundle, tracks.xy)
    rotation, centre = bundle.rotations[tracks.frame], bundle.centres[tracks.frame]
    rows = flat[:, :, None] * rotation[:, 2:] - rotation[:, :2]
    # One camera far away counts as much as one close by.
    rows /= np.linalg.norm(rows, axis=2, keepdims=True)
    side = np.einsum("nik,nk->ni", rows, centre)
    normal = np.einsum("nik,nil->nkl", rows, rows).reshape(-1, 9)
    pull = np.einsum("nik,ni->nk", rows, side)
    count = max(tracks.count, len(bundle.points))
    matrix = np.stack([_sums(tracks.track, normal[:, k], count) for k in range(9)], axis=1).reshape(-1, 3, 3)
    vector = np.stack([_sums(tracks.track, pull[:, k], count) for k in range(3)], axis=1)
    found: Floats = np.linalg.solve(matrix + 1e-9 * np.eye(3), vector[..., None]).astype(np.float64)
    return found[..., 0]


def unbent(bundle: Bundle, xy: Floats) -> Floats:
    """Directions (n, 2), x/z and y/z, of places (n, 2) in pixels: the lens undone."""
    bent = (xy - np.array(bundle.size) / 2) / bundle.focal
    flat: Floats = bent.copy()
    for _ in range(10 if bundle.k1 else 0):
        flat = np.asarray(bent / (1 + bundle.k1 * (flat**2).sum(axis=1, keepdims=True)), np.float64)
    return flat
