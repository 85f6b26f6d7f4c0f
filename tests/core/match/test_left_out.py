"""What a solve does not look at."""

from __future__ import annotations

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from dreizack.core.match import left_out_bytes, left_out_masks
from dreizack.core.match.left_out import BESIDE
from dreizack.core.match.tracking import follow

from .plates import dolly, footage

SQUARE = np.array([[0.25, 0.25], [0.75, 0.25], [0.75, 0.75], [0.25, 0.75]])


@given(st.floats(-0.2, 0.2), st.floats(-0.2, 0.2))
@settings(max_examples=20, deadline=None)
def test_masks_are_what_was_outlined_and_a_rim(across: float, down: float) -> None:
    moving = SQUARE + np.linspace(0, 1, 5)[:, None, None] * [across, down]
    masks = left_out_masks(left_out_bytes([moving]))
    for frame in (0, 4, 9):
        mask = masks(frame, (200, 100))
        (left, top), (right, bottom) = moving[min(frame, 4)][[0, 2]] * [200, 100]
        rows, columns = np.mgrid[:100, :200]
        # Away from the rim, where a pixel more or less is a matter of rounding.
        inside = (columns > left) & (columns < right) & (rows > top) & (rows < bottom)
        far = BESIDE + 2
        beside = (columns > left - far) & (columns < right + far) & (rows > top - far) & (rows < bottom + far)
        assert mask[inside].all() and not mask[~beside].any()


def test_no_point_is_followed_where_something_is_left_out() -> None:
    masks = left_out_masks(left_out_bytes([SQUARE[None]]))
    pictures = list(footage(dolly(4)))
    size = (pictures[0].shape[1], pictures[0].shape[0])
    tracks = follow(pictures, lambda frame: masks(frame, size))
    free = follow(pictures)
    within = [
        ((one.xy > SQUARE[0] * size) & (one.xy < SQUARE[2] * size)).all(axis=1).sum()
        for one in (tracks, free)
    ]
    assert within[0] == 0 and within[1] > 20 and len(tracks) > 50
