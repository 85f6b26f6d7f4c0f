"""Points that somebody adds to a solve by hand."""

from __future__ import annotations

import numpy as np
import pytest

from dreizack.core.match import Contradicts, Tracks, follow_one, solve_tracks, with_point

from .plates import dolly, footage, pan
from .test_solve import seen_points, slide

SPOT = np.array([[0.35, 0.6, 0.2]])


def track(frames: np.ndarray, xy: np.ndarray) -> Tracks:
    return Tracks(np.zeros(len(frames), np.int64), frames, xy)


def test_a_spot_is_followed_in_both_directions_to_tenths_of_a_pixel() -> None:
    camera = dolly(24)
    pictures = footage(camera)
    points = seen_points(camera, 200, noise=0.0)
    # A corner with texture, seen in every frame: where it is known to be in the middle of the clip.
    begin = 12
    found = max(
        (
            follow_one(lambda k: pictures[k], len(pictures), begin, xy)
            for xy in points.xy[points.frame == begin][:20]
            if (xy > 60).all() and (xy < [900, 480]).all()
        ),
        key=len,
    )
    assert set(found.frame) == set(range(24))
    start = found.xy[found.frame == begin][0]
    # A place on the ground or the wall that it lies on: the same from everywhere, so it moves as one point.
    solve = solve_tracks(points, camera.size)
    added, number, off = with_point(solve, found)
    assert number == len(solve.bundle.points) and off < 0.15
    assert np.abs(found.xy[found.frame == begin][0] - start).max() < 1e-9
    assert slide(camera, added) < 0.1


def test_a_point_comes_to_be_where_it_is() -> None:
    camera = dolly(24)
    solve = solve_tracks(seen_points(camera, 200), camera.size)
    frames = np.arange(24)
    xy = np.concatenate([camera.seen(SPOT, k) for k in frames])
    found, number, off = with_point(solve, track(frames, xy))
    assert off < 0.05 and found.tracks.count == number + 1
    # Seen by the solved camera it stays on the spot in every frame.
    again = found.bundle.projected(
        found.bundle.in_camera(frames, np.tile(found.bundle.points[number], (24, 1)))
    )
    assert np.abs(again - xy).max() < 0.1


def test_a_point_that_was_lost_goes_on_from_another_frame() -> None:
    camera = dolly(24)
    solve = solve_tracks(seen_points(camera, 200), camera.size)
    xy = np.concatenate([camera.seen(SPOT, k) for k in range(24)])
    first, number, _ = with_point(solve, track(np.arange(8), xy[:8]))
    found, same, off = with_point(first, track(np.arange(15, 24), xy[15:]), number)
    seen = found.tracks.frame[found.tracks.track == number]
    assert same == number and sorted(seen) == [*range(8), *range(15, 24)] and off < 0.05
    assert len(found.bundle.points) == len(first.bundle.points)
    with pytest.raises(Contradicts, match="gone"):
        with_point(first, track(np.arange(8), xy[:8]), number + 1)


def test_what_moves_by_itself_misses_and_is_told() -> None:
    camera = dolly(24)
    solve = solve_tracks(seen_points(camera, 200), camera.size)
    xy = np.concatenate([camera.seen(SPOT + np.array([0, 0.02 * k, 0]), k) for k in range(24)])
    _, _, off = with_point(solve, track(np.arange(24), xy))
    assert off > 2


def test_what_cannot_be_placed_says_so() -> None:
    camera = dolly(24)
    solve = solve_tracks(seen_points(camera, 200), camera.size)
    far = np.array([[0.0, 3.0, -9000.0]])
    xy = np.concatenate([camera.seen(far, k) for k in range(24)])
    with pytest.raises(Contradicts, match="one side only"):
        with_point(solve, track(np.arange(24), xy))
    with pytest.raises(Contradicts, match="2 frames only"):
        with_point(solve, track(np.arange(2), xy[:2]))


def test_a_camera_that_only_turns_takes_points_as_directions() -> None:
    camera = pan(24)
    solve = solve_tracks(seen_points(camera, 300), camera.size)
    assert solve.kind == "turning"
    frames = np.arange(24)
    ways = np.array([[0.3, 1.5, -4.0]])
    xy = np.concatenate([camera.seen(ways, k) for k in frames])
    inside = ((xy > 0) & (xy < camera.size)).all(axis=1)
    assert inside.sum() > 5
    found, _, off = with_point(solve, track(frames[inside], xy[inside]))
    assert off < 0.1 and np.abs(found.bundle.centres - found.bundle.centres[0]).max() < 1e-9
