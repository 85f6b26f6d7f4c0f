"""Chosen keys turned round, mirrored, stretched, repeated and put elsewhere: their curves do exactly that."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import (
    Channel,
    Format,
    Light,
    Shot,
    Title,
    apply_edit,
    mirrored_keys,
    pasted_keys,
    repeated_keys,
    reversed_keys,
    stretched_keys,
)
from dreizack.core.motion import sample

X = "/things/title/place/position/x"
kinds = st.sampled_from(["linear", "cubic-bezier", "smooth", "handles"])
channels = st.lists(
    st.tuples(st.integers(0, 100), st.floats(-50, 50), kinds),
    min_size=2,
    max_size=8,
    unique_by=lambda k: k[0],
).map(sorted)


def shot_of(keys: list[tuple[int, float, str]]) -> Shot:
    channel = Channel.model_validate(
        {
            "keys": [
                {"frame": f, "value": v, "ease": {"kind": k, "x1": 0.2, "out": 7, "back": -3}}
                for f, v, k in keys
            ]
        }
    )
    return Shot(
        format=Format(frames=400),
        things={"title": Title(), "two": Title(), "lamp": Light()},
        channels={X: channel},
    )


def curve(shot: Shot, frames: np.ndarray, at: str = X) -> np.ndarray:
    return sample(shot.channels[at], frames)


def chosen(shot: Shot) -> dict[str, list[float]]:
    return {X: [key.frame for key in shot.channels[X].keys]}


@given(channels)
def test_turned_round_the_curve_runs_back(keys: list[tuple[int, float, str]]) -> None:
    # One kind of ease for all: what is smooth goes by the keys around it.
    shot = shot_of([(f, v, keys[0][2]) for f, v, _ in keys])
    after = apply_edit(shot, reversed_keys(shot, chosen(shot))).shot
    first, last = keys[0][0], keys[-1][0]
    frames = np.linspace(first, last, 90)
    np.testing.assert_allclose(curve(after, frames), curve(shot, frames)[::-1], atol=1e-5)
    # Back again it is what it was.
    again = apply_edit(after, reversed_keys(after, chosen(after))).shot
    np.testing.assert_allclose(curve(again, frames), curve(shot, frames), atol=1e-5)


@given(channels)
def test_mirrored_the_curve_lies_on_the_other_side(keys: list[tuple[int, float, str]]) -> None:
    shot = shot_of(keys)
    after = apply_edit(shot, mirrored_keys(shot, chosen(shot))).shot
    frames = np.linspace(0, 100, 90)
    np.testing.assert_allclose(curve(after, frames), 2 * keys[0][1] - curve(shot, frames), atol=1e-6)


@given(channels, st.sampled_from([0.5, 0.25, 2.0, 3.0]), st.integers(0, 100))
def test_stretched_the_curve_takes_longer(
    keys: list[tuple[int, float, str]], share: float, about: int
) -> None:
    shot = shot_of(keys)
    if any(about + (f - about) * share < 0 for f, _, _ in keys):
        return
    after = apply_edit(shot, stretched_keys(shot, chosen(shot), share, about)).shot
    frames = np.linspace(0, 100, 90)
    np.testing.assert_allclose(curve(after, about + (frames - about) * share), curve(shot, frames), atol=1e-6)


def test_repeated_the_curve_begins_anew() -> None:
    shot = shot_of([(10, 0, "linear"), (20, 5, "linear"), (30, 0, "linear")])
    after = apply_edit(shot, repeated_keys(shot, chosen(shot), 3)).shot
    frames = np.linspace(10, 30, 50)
    for turn in range(4):
        np.testing.assert_allclose(curve(after, frames + 20 * turn), curve(shot, frames), atol=1e-9)
    assert [key.frame for key in after.channels[X].keys] == [10, 20, 30, 40, 50, 60, 70, 80, 90]


def test_pasted_keys_begin_where_they_are_put_and_say_what_found_no_place() -> None:
    shot = shot_of([(10, 1, "linear"), (20, 5, "linear")])
    twice = apply_edit(shot, pasted_keys(shot, chosen(shot), 50).patch).shot
    assert [key.frame for key in twice.channels[X].keys] == [10, 20, 50, 60]
    two = pasted_keys(shot, chosen(shot), 5, "two")
    other = apply_edit(shot, two.patch).shot.channels["/things/two/place/position/x"]
    assert [(key.frame, key.value) for key in other.keys] == [(5, 1), (15, 5)] and two.lost == ()
    lamp = pasted_keys(shot, chosen(shot), 5, "lamp")
    assert lamp.patch == [] and lamp.lost == ("/things/lamp/place/position/x",)


def test_keys_that_are_gone_are_an_error_not_a_surprise() -> None:
    shot = shot_of([(10, 1, "linear"), (20, 5, "linear")])
    with pytest.raises(KeyError):
        reversed_keys(shot, {"/things/title/place/position/y": [3.0]})
    with pytest.raises(KeyError):
        mirrored_keys(shot, {X: []})
