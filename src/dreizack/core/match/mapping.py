"""A camera that moves: its way and the points, first of a few frames far apart, then of all."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from itertools import combinations
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from ..affine import rotations_of, vectors_of
from .bundle import Bundle, Free, adjusted, triangulated
from .tracks import Ints, Tracks

Floats = NDArray[np.float64]

# Frames far apart: as many, apart by such a share of the width or so many lost points.
FEWEST, MOST, MOVED, LOST = 10, 40, 0.025, 0.3
# Points two frames must share.
SHARED = 30
SEED = 11
# Focal lengths that are tried, in widths of the picture, and residuals in pixels a start may have.
TRIED = (1.2, 0.8, 1.8)
FITS = 2.0


def key_frames(tracks: Tracks, frames: int, width: int) -> Ints:
    """Frames that lie so far apart that depth shows."""
    share = MOVED
    chosen = _apart(tracks, frames, width * share)
    while len(chosen) > MOST:
        share *= 1.4
        chosen = _apart(tracks, frames, width * share)
    if len(chosen) < FEWEST:
        chosen = np.unique(np.linspace(0, frames - 1, min(FEWEST, frames)).round().astype(np.int64))
    return chosen


def _apart(tracks: Tracks, frames: int, pixels: float) -> Ints:
    order = np.argsort(tracks.frame, kind="stable")
    track, xy = tracks.track[order], tracks.xy[order]
    edge = np.searchsorted(tracks.frame[order], np.arange(frames + 1))
    place = np.full((tracks.count, 2), np.nan)
    place[track[: edge[1]]] = xy[: edge[1]]
    had, chosen = edge[1], [0]
    for frame in range(1, frames):
        part = slice(edge[frame], edge[frame + 1])
        step = np.linalg.norm(xy[part] - place[track[part]], axis=1)
        known = ~np.isnan(step)
        moved = float(np.median(step[known])) if known.any() else np.inf
        if moved > pixels or known.sum() < (1 - LOST) * had:
            chosen.append(frame)
            place[:] = np.nan
            place[track[part]] = xy[part]
            had = edge[frame + 1] - edge[frame]
    if chosen[-1] != frames - 1:
        chosen.append(frames - 1)
    return np.array(chosen, np.int64)


def mapped(
    tracks: Tracks, frames: int, size: tuple[int, int], focal: float | None, told: Callable[[], None]
) -> Bundle | None:
    """The moving camera that fits best; None where the frames do not hang together in depth."""
    keys = key_frames(tracks, frames, size[0])
    column = np.full(frames, -1)
    column[keys] = np.arange(len(keys))
    at_keys = tracks.only(column[tracks.frame] >= 0)
    at_keys = Tracks(at_keys.track, column[at_keys.frame], at_keys.xy).at_least(2)
    first = _best_start(at_keys, len(keys), size, focal, told)
    if first is None:
        return None
    told()
    known, bundle = first
    # Only what was placed is begun with; the frames between lie between them at first.
    bundle = _between(bundle, keys[known], frames)
    longer = tracks.at_least(3)
    bundle = _posed(_points(bundle, longer), longer, told)
    for k1 in (False, True, True):
        bundle = _points(bundle, longer)
        kept = within(bundle, longer, 6.0 if not k1 else 2.0)
        bundle = adjusted(bundle, kept, Free(focal=focal is None, k1=k1), 14, told)
    return bundle


def _best_start(
    at_keys: Tracks, frames: int, size: tuple[int, int], focal: float | None, told: Callable[[], None]
) -> tuple[Ints, Bundle] | None:
    """Frames far apart and their cameras. Some movements say little of the lens (an orbit about what is
    looked at): then lengths are tried, and the one that fits best is begun with."""
    for tried in ((focal,),) if focal else ((None,), tuple(width * size[0] for width in TRIED)):
        best, least = None, np.inf
        for length in tried:
            found = _globally(at_keys, frames, size, length)
            told()
            if found is None:
                continue
            known, bundle = found
            seen = at_keys.only(np.isin(at_keys.frame, known))
            bundle = _points(bundle, seen)
            free = Free(focal=focal is None, k1=False)
            near = within(bundle, seen, 12.0)
            if len(near) < 100:
                continue
            bundle = adjusted(bundle, near, free, 12, told)
            off = np.linalg.norm(bundle.residuals(seen), axis=1)
            cost = float(np.percentile(off, 60))
            if cost < least:
                best, least = (known, bundle), cost
        if best is not None and least < FITS * size[0] / 960:
            return best
    return None


def _points(bundle: Bundle, tracks: Tracks) -> Bundle:
    return Bundle(
        bundle.rotations,
        bundle.centres,
        triangulated(bundle, tracks),
        bundle.focal,
        bundle.k1,
        bundle.size,
        bundle.readout,
    )


def within(bundle: Bundle, tracks: Tracks, pixels: float) -> Tracks:
    """Observations that fit within some pixels, of points before the camera, seen at least three times."""
    seen = bundle.in_camera(tracks.frame, bundle.points[tracks.track])
    off = np.linalg.norm(bundle.residuals(tracks), axis=1)
    return tracks.only((seen[:, 2] > 1e-3) & (off < pixels)).at_least(3)


def _posed(bundle: Bundle, tracks: Tracks, told: Callable[[], None]) -> Bundle:
    """Cameras between known ones, brought to where points say."""
    fixed = Free(centres=True, focal=False, k1=False, points=False)
    return adjusted(bundle, within(bundle, tracks, 40.0), fixed, 10, told)


def _between(bundle: Bundle, keys: Ints, frames: int) -> Bundle:
    """Cameras at all frames, from those at ``keys``."""
    frame = np.arange(frames)
    after = np.clip(np.searchsorted(keys, frame, side="right"), 1, len(keys) - 1)
    before = after - 1
    share = np.clip((frame - keys[before]) / (keys[after] - keys[before]), -0.5, 1.5)
    turn = vectors_of(bundle.rotations[after] @ np.swapaxes(bundle.rotations[before], 1, 2))
    rotations = rotations_of(share[:, None] * turn) @ bundle.rotations[before]
    centres = bundle.centres[before] * (1 - share[:, None]) + bundle.centres[after] * share[:, None]
    return Bundle(rotations, centres, bundle.points, bundle.focal, bundle.k1, bundle.size, bundle.readout)


def _globally(
    tracks: Tracks, frames: int, size: tuple[int, int], focal: float | None
) -> tuple[Ints, Bundle] | None:
    """Cameras of some frames, all at once (Pan et al., Global Structure-from-Motion Revisited, 2024): which
    frames, and their cameras."""
    import pycolmap

    pycolmap.set_random_seed(SEED)
    pycolmap.logging.minloglevel = int(pycolmap.logging.Level.FATAL)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "points.db"
        _written(path, tracks, frames, size, focal)
        pycolmap.geometric_verification(path)
        if focal is None:
            calibrate = pycolmap.ViewGraphCalibrationOptions()
            calibrate.random_seed = SEED
            pycolmap.calibrate_view_graph(path, calibrate)
        options = pycolmap.GlobalPipelineOptions()
        options.random_seed, options.mapper.random_seed = SEED, SEED
        out = Path(folder) / "out"
        out.mkdir()
        found = pycolmap.global_mapping(path, Path(folder), out, options)
        if not found:
            return None
        best = max(found.values(), key=lambda one: one.num_reg_images())
    images = sorted(
        ((int(image.name), image) for image in best.images.values() if image.has_pose),
        key=lambda pair: pair[0],
    )
    if len(images) < max(3, frames // 2):
        return None
    rotations = np.array([image.cam_from_world().rotation.matrix() for _, image in images])
    shifts = np.array([image.cam_from_world().translation for _, image in images])
    centres = -np.einsum("nki,nk->ni", rotations, shifts)
    camera = next(iter(best.cameras.values()))
    scale = float(np.linalg.norm(np.ptp(centres, axis=0)))
    known = np.array([number for number, _ in images])
    whole_rotations, whole_centres = np.tile(np.eye(3), (frames, 1, 1)), np.zeros((frames, 3))
    whole_rotations[known], whole_centres[known] = rotations, centres / max(scale, 1e-9)
    return known, Bundle(
        whole_rotations, whole_centres, np.zeros((0, 3)), focal or float(camera.focal_length), 0.0, size
    )


def _written(path: Path, tracks: Tracks, frames: int, size: tuple[int, int], focal: float | None) -> None:
    import pycolmap

    database = pycolmap.Database.open(path)
    camera = pycolmap.Camera.create(
        1, pycolmap.CameraModelId.SIMPLE_PINHOLE, focal or 1.2 * size[0], size[0], size[1]
    )
    camera.has_prior_focal_length = focal is not None
    database.write_camera(camera, use_camera_id=True)
    rig = pycolmap.Rig()
    rig.rig_id = 1
    rig.add_ref_sensor(camera.sensor_id)
    database.write_rig(rig, use_rig_id=True)
    seen = []
    for number in range(frames):
        here = tracks.frame == number
        image = pycolmap.Image(name=f"{number:05d}", camera_id=1, image_id=number + 1)
        frame = pycolmap.Frame()
        frame.frame_id, frame.rig_id = number + 1, 1
        frame.add_data_id(image.data_id)
        database.write_image(image, use_image_id=True)
        database.write_frame(frame, use_frame_id=True)
        database.write_keypoints(number + 1, tracks.xy[here].astype(np.float32))
        seen.append(tracks.track[here])
    for a, b in combinations(range(frames), 2):
        _, of_a, of_b = np.intersect1d(seen[a], seen[b], assume_unique=True, return_indices=True)
        if len(of_a) >= SHARED:
            database.write_matches(a + 1, b + 1, np.stack([of_a, of_b], axis=1).astype(np.uint32))
    database.close()
