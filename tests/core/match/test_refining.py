"""Points that are left out of a solve."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from dreizack.core.match import Contradicts, Solve, Tracks, solve_tracks, without_points

from .plates import dolly
from .test_solve import seen_points, slide


def spoilt(count: int = 12) -> tuple[Solve, np.ndarray]:
    """A solve with points that were followed wrongly: they drift off by some pixels."""
    camera = dolly(24)
    solve = solve_tracks(seen_points(camera, 200), camera.size)
    wrong = np.argsort(-np.bincount(solve.tracks.track))[:count]
    late = np.where(np.isin(solve.tracks.track, wrong), solve.tracks.frame * 0.4, 0.0)
    xy = solve.tracks.xy + late[:, None] * [1.0, -0.5]
    return replace(solve, tracks=Tracks(solve.tracks.track, solve.tracks.frame, xy)), wrong


def test_without_wrong_points_the_camera_fits_again() -> None:
    solve, wrong = spoilt()
    found = without_points(solve, wrong)
    assert found.rms < 0.1 * solve.rms
    assert len(found.bundle.points) == len(solve.bundle.points) - len(wrong)
    assert set(np.unique(found.tracks.track)) == set(range(len(found.bundle.points)))
    assert slide(dolly(24), found) < 0.1
    # The room stays where it was, so that what stands in it does.
    np.testing.assert_allclose(found.bundle.centres, solve.bundle.centres, atol=0.02)
    assert found.residual.shape == solve.residual.shape and found.kind == solve.kind


def test_too_few_or_none_say_so() -> None:
    solve, _ = spoilt(1)
    with pytest.raises(Contradicts, match="no point in this box"):
        without_points(solve, np.array([], np.int64))
    with pytest.raises(Contradicts, match="a camera needs 20"):
        without_points(solve, np.arange(len(solve.bundle.points) - 5))
