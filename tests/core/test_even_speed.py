"""Keys moved in time until what they move goes at an even speed."""

from __future__ import annotations

import itertools
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dreizack.core.document import Shot, apply_edit
from dreizack.core.motion import Motion, evened_keys

AT = "/camera/position"


def shot(keys: dict[str, list[tuple[float, float]]]) -> Shot:
    channels: dict[str, Any] = {
        f"{AT}/{axis}": {"keys": [{"frame": f, "value": v} for f, v in row]} for axis, row in keys.items()
    }
    return Shot.model_validate({"format": {"frames": 120}, "channels": channels})


def chosen(of: Shot) -> dict[str, list[float]]:
    return {pointer: [key.frame for key in channel.keys] for pointer, channel in of.channels.items()}


def speeds(of: Shot, first: float, last: float) -> np.ndarray:
    frames = np.linspace(first, last, 400)
    return np.linalg.norm(np.diff(Motion(of, frames).vector(AT), axis=0), axis=1)


@settings(max_examples=25, deadline=None)
@given(st.lists(st.integers(2, 30), min_size=4, max_size=7))
def test_round_a_circle_the_speed_is_even(gaps: list[int]) -> None:
    frames = np.concatenate([[0], np.cumsum(gaps)]).astype(float)
    angles = np.linspace(0, 1.6, len(frames))
    uneven = shot(
        {
            "x": list(zip(frames.tolist(), np.sin(angles).tolist(), strict=True)),
            "z": list(zip(frames.tolist(), np.cos(angles).tolist(), strict=True)),
        }
    )
    made = apply_edit(uneven, evened_keys(uneven, chosen(uneven))).shot
    # The same ends, the same places, in the same order.
    for axis in "xz":
        before, after = uneven.channels[f"{AT}/{axis}"].keys, made.channels[f"{AT}/{axis}"].keys
        assert [key.value for key in after] == [key.value for key in before]
        assert (after[0].frame, after[-1].frame) == (frames[0], frames[-1])
        assert all(a.frame < b.frame for a, b in itertools.pairwise(after))
    went = speeds(made, frames[0], frames[-1])
    assert went[20:-20].std() < 0.12 * went.mean()


def test_one_value_alone_goes_evenly_too_and_other_keys_stay() -> None:
    uneven = shot({"y": [(0, 5), (10, 0), (12, 4), (60, 6), (100, 1)]})
    only = {f"{AT}/y": [10.0, 12.0, 60.0]}
    keys = apply_edit(uneven, evened_keys(uneven, only)).shot.channels[f"{AT}/y"].keys
    assert [key.frame for key in keys][:2] == [0, 10] and [key.frame for key in keys][3:] == [60, 100]
    assert keys[2].frame == pytest.approx(10 + 50 * 4 / 6, abs=1.5)
    assert keys[0].ease == uneven.channels[f"{AT}/y"].keys[0].ease


def test_where_nothing_moves_nothing_changes() -> None:
    still = shot({"x": [(0, 1), (20, 1), (50, 1)]})
    assert evened_keys(still, chosen(still)) == []
    assert evened_keys(still, {f"{AT}/x": [20.0]}) == []
    with pytest.raises(KeyError):
        evened_keys(still, {"/camera/roll": [0.0]})
