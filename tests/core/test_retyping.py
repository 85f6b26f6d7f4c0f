"""Words typed anew: what was said of letters stays with them."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import Shot, apply_edit
from dreizack.core.document.retyping import Replacement, followed

SHOT = Shot.model_validate(
    {
        "things": {
            "low": {
                "kind": "title",
                "words": "SLACK WATER",
                "ranges": [{"start": 6, "end": 11, "size": 2}],
                "setting": {
                    "gaps": {"6": {"value": 40}},
                    "poses": {"letter-7": {"scale": 2}, "word-1": {"scale": 3}, "line-0": {"scale": 4}},
                },
            }
        },
    }
)


def typed(words: str, shot: Shot = SHOT, *more: dict[str, Any]) -> Shot:
    patch = [{"op": "replace", "path": "/things/low/words", "value": words}, *more]
    return apply_edit(shot, followed(shot, patch)).shot


def covered(shot: Shot) -> str:
    title = shot.titles["low"]
    return title.words[title.ranges[0].start : title.ranges[0].end]


def test_words_typed_before_move_everything_along() -> None:
    at = "/channels/~1things~1low~1setting~1poses~1letter-7~1scale"
    keys = {"keys": [{"frame": 0, "value": 1}]}
    keyed = apply_edit(SHOT, [{"op": "add", "path": at, "value": keys}]).shot
    after = typed("THE SLACK WATER", keyed)
    assert covered(after) == "WATER"
    setting = after.titles["low"].setting
    assert list(setting.gaps) == ["10"]
    assert {name: pose.scale for name, pose in setting.poses.items()} == {
        "letter-11": 2,
        "word-2": 3,
        "line-0": 4,
    }
    assert list(after.channels) == ["/things/low/setting/poses/letter-11/scale"]


def test_a_patch_that_sets_ranges_itself_is_left_alone() -> None:
    ranges = {"op": "replace", "path": "/things/low/ranges", "value": []}
    after = typed("THE SLACK WATER", SHOT, ranges)
    assert after.titles["low"].ranges == [] and list(after.titles["low"].setting.gaps) == ["6"]


@pytest.mark.parametrize(
    ("words", "kept"), [("SLACK WAITER", "WAITER"), ("SLACK WER", "WER"), ("SLACK TIDES", "TIDES")]
)
def test_a_range_grows_and_shrinks_with_what_is_typed_in_it(words: str, kept: str) -> None:
    assert covered(typed(words)) == kept


def test_what_is_deleted_loses_what_it_had() -> None:
    setting = typed("SLACK WTER").titles["low"].setting
    assert list(setting.poses) == ["word-1", "line-0"] and list(setting.gaps) == ["6"]


@given(st.text("ab ", max_size=9), st.text("ab ", max_size=9))
def test_items_that_stay_are_found_where_they_went(before: str, after: str) -> None:
    change = Replacement.between(before, after)
    assert len(before) - change.removed + change.added == len(after)
    for place, letter in enumerate(before):
        if not change.start <= place < change.start + change.removed:
            to = change.place(place)
            assert to is not None and after[to] == letter
    for start in range(len(before) + 1):
        first, last = change.span(start, len(before))
        assert 0 <= first <= last <= len(after)
