"""Cameras that are known are found again."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from numpy.typing import NDArray

from dreizack.core.affine import rotations_of, vectors_of
from dreizack.core.match import (
    Bundle,
    NoSolve,
    Solve,
    Tracks,
    read_solve,
    report,
    solve_bytes,
    solve_tracks,
)
from dreizack.core.match.bundle import triangulated, unbent
from dreizack.core.match.file import Unsound
from dreizack.core.match.tracking import follow

from .plates import Filming, dolly, footage, orbit, pan, push_in

Floats = NDArray[np.float64]


def seen_points(camera: Filming, count: int = 320, noise: float = 0.05, seed: int = 2) -> Tracks:
    """Points of the room as a camera sees them, with some noise: what a perfect tracker would tell."""
    random = np.random.default_rng(seed)
    points = np.stack(
        [random.uniform(-5, 5, count), random.uniform(0, 3, count), random.uniform(-9, 2, count)], axis=1
    )
    points[: count // 2, 1] = 0
    rows = []
    for frame in range(len(camera.centres)):
        depth = ((points - camera.centres[frame]) @ camera.rotations[frame].T)[:, 2]
        xy = camera.seen(points, frame) + random.normal(0, noise, (count, 2))
        there = (depth > 0.3) & (xy > 4).all(axis=1) & (xy < np.array(camera.size) - 4).all(axis=1)
        rows.append((np.flatnonzero(there), np.full(there.sum(), frame), xy[there]))
    return Tracks(*(np.concatenate(part) for part in zip(*rows, strict=True)))


def slide(camera: Filming, solve: Solve) -> float:
    """Pixels (root mean square) by which things placed at known points slide over the shot."""
    known = replace(camera, k1=camera.k1)
    tracks = seen_points(known, 60, 0.0, 9)
    bundle = replace(solve.bundle, points=np.zeros((60, 3)))
    if solve.kind == "moving":
        bundle = replace(bundle, points=triangulated(bundle, tracks))
    else:
        flat = unbent(bundle, tracks.xy)
        rays = np.concatenate([flat, np.ones((len(flat), 1))], axis=1)
        rays /= np.linalg.norm(rays, axis=1, keepdims=True)
        world = np.einsum("nki,nk->ni", bundle.rotations[tracks.frame], rays)
        total = np.stack([np.bincount(tracks.track, world[:, k], 60) for k in range(3)], axis=1)
        bundle = replace(bundle, points=bundle.centres[0] + total)
    left = bundle.residuals(tracks)
    return float(np.sqrt((left**2).sum(axis=1).mean()))


@pytest.mark.parametrize(
    ("camera", "kind", "focal"),
    [
        (dolly(28), "moving", 0.005),
        (replace(dolly(28), k1=-0.06), "moving", 0.005),
        (push_in(28), "moving", 0.02),
        (pan(28), "turning", 0.005),
    ],
    ids=["dolly", "lens that bends", "push-in", "pan"],
)
def test_known_cameras_are_found_from_noisy_points(camera: Filming, kind: str, focal: float) -> None:
    solve = solve_tracks(seen_points(camera), camera.size)
    assert solve.kind == kind
    assert solve.bundle.focal == pytest.approx(camera.focal, rel=focal)
    assert slide(camera, solve) < 0.06
    assert report(solve).verdict == "good"
    if camera.k1:
        assert solve.bundle.k1 == pytest.approx(camera.k1, abs=0.01)


def test_an_orbit_is_found_though_it_says_little_of_its_lens() -> None:
    camera = orbit(30)
    solve = solve_tracks(seen_points(camera), camera.size)
    assert solve.kind == "moving"
    assert solve.bundle.focal == pytest.approx(camera.focal, rel=0.01)
    assert slide(camera, solve) < 0.06


def test_rows_that_are_read_one_by_one_are_found_out() -> None:
    camera, readout = dolly(26, 3), 0.5
    fast = replace(camera, centres=camera.centres + np.linspace(0, 3, 26)[:, None] * [0.6, 0.05, 0])
    known = Bundle(fast.rotations, fast.centres, np.zeros((0, 3)), fast.focal, 0.0, fast.size, readout)
    random = np.random.default_rng(4)
    points = np.column_stack(
        [random.uniform(-5, 8, 500), random.uniform(0, 3, 500), random.uniform(-9, 2, 500)]
    )
    rows = []
    for frame in range(26):
        at, xy = np.full(500, frame), np.full((500, 2), 270.0)
        # Where a point is seen says when, and when says where.
        for _ in range(6):
            xy = known.projected(known.in_camera(at, points, xy[:, 1]))
        ahead = known.in_camera(at, points)[:, 2] > 0.3
        there = ahead & (xy > 4).all(axis=1) & (xy < np.array(fast.size) - 4).all(axis=1)
        rows.append((np.flatnonzero(there), at[there], xy[there] + random.normal(0, 0.05, (there.sum(), 2))))
    tracks = Tracks(*(np.concatenate(part) for part in zip(*rows, strict=True)))
    solve = solve_tracks(tracks, fast.size)
    assert solve.bundle.readout == pytest.approx(readout, abs=0.06)
    assert solve.rms < 0.1
    assert any("one after the other" in words for words in report(solve).words)
    # And where they are not, they are not said to be.
    assert solve_tracks(seen_points(camera, noise=0.15), camera.size).bundle.readout == 0


def test_a_known_focal_length_is_kept() -> None:
    camera = dolly(30)
    solve = solve_tracks(seen_points(camera), camera.size, focal=1000.0)
    assert solve.bundle.focal == 1000.0


def test_points_that_move_by_themselves_are_left_out() -> None:
    camera = dolly(28)
    tracks = seen_points(camera)
    # A fifth of the points goes across the picture.
    walks = tracks.track % 5 == 0
    xy = tracks.xy.copy()
    xy[walks] += tracks.frame[walks, None] * np.array([2.5, 0.4])
    solve = solve_tracks(Tracks(tracks.track, tracks.frame, xy), camera.size)
    assert slide(camera, solve) < 0.08


def test_a_camera_that_stands_is_said_to() -> None:
    camera = pan(20)
    still = replace(camera, rotations=np.repeat(camera.rotations[:1], 20, axis=0))
    solve = solve_tracks(seen_points(still), still.size)
    assert solve.kind == "still"
    assert any("stands still" in words for words in report(solve).words)


def test_footage_is_followed_to_hundredths_of_a_pixel() -> None:
    camera = dolly(12)
    tracks = follow(footage(camera, noise=2.0))
    long = tracks.at_least(10)
    bundle = Bundle(camera.rotations, camera.centres, np.zeros((0, 3)), camera.focal, 0.0, camera.size)
    bundle = replace(bundle, points=triangulated(bundle, long))
    off = np.linalg.norm(bundle.residuals(long), axis=1)
    assert len(long) > 2000
    assert np.median(off) < 0.06
    assert (off > 1).mean() < 0.02


def test_what_is_masked_is_not_followed() -> None:
    frames = footage(dolly(4))
    masked = np.zeros(frames.shape[1:], np.bool_)
    masked[:, :480] = True
    tracks = follow(frames, lambda _: masked)
    assert len(tracks) > 200
    assert (tracks.xy[:, 0] > 479).all()


@pytest.mark.parametrize(
    ("frames", "says"),
    [
        (np.full((6, 540, 960), 128, np.uint8), "no texture"),
        (footage(dolly(2)), "at least three frames"),
        (np.random.default_rng(1).integers(0, 255, (6, 540, 960)).astype(np.uint8), "cuts in this clip"),
        (np.concatenate([footage(dolly(5)), footage(orbit(4), seed=3)]), "a cut in this clip, at frame 5"),
    ],
    ids=["nothing to see", "two frames", "nothing that lasts", "a cut"],
)
def test_what_cannot_be_solved_says_why(frames: NDArray[np.uint8], says: str) -> None:
    tracks = follow(frames)
    with pytest.raises(NoSolve, match=says):
        solve_tracks(tracks, (960, 540))


def test_rotation_vectors_and_matrices_are_the_same() -> None:
    vectors = np.random.default_rng(3).uniform(-1.7, 1.7, (200, 3))
    np.testing.assert_allclose(vectors_of(rotations_of(vectors)), vectors, atol=1e-9)


def test_a_solve_is_read_back_as_it_was_written(tmp_path) -> None:  # type: ignore[no-untyped-def]
    camera = dolly(12)
    solve = solve_tracks(seen_points(camera), camera.size)
    path = tmp_path / "a.solve"
    path.write_bytes(solve_bytes(solve))
    assert solve_bytes(solve) == path.read_bytes()
    back = read_solve(path)
    assert back.kind == solve.kind
    np.testing.assert_array_equal(back.bundle.rotations, solve.bundle.rotations)
    np.testing.assert_allclose(back.tracks.xy, solve.tracks.xy, atol=1e-4)


@pytest.mark.parametrize("harm", ["cut", "bytes", "empty", "other"])
def test_files_that_are_no_solve_are_refused(tmp_path, harm: str) -> None:  # type: ignore[no-untyped-def]
    camera = dolly(12)
    data = solve_bytes(solve_tracks(seen_points(camera), camera.size))
    random = np.random.default_rng(5)
    broken = {
        "cut": data[: len(data) // 2],
        "bytes": bytes(b ^ 255 if random.random() < 0.02 else b for b in data),
        "empty": b"",
        "other": b"PK\x03\x04 and nothing else",
    }[harm]
    path = tmp_path / "a.solve"
    path.write_bytes(broken)
    with pytest.raises(Unsound):
        read_solve(path)
