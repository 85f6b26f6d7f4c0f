"""Edits that would nest or grow without bound, and texts no database keeps, are refused at the door."""

from __future__ import annotations

import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from dreizack.core.document import (
    EditRefused,
    LookFileError,
    Shot,
    ShotFileError,
    Title,
    apply_edit,
    read_look,
    read_shot,
    write_shot,
)
from dreizack.core.document.edits import MAX_DEPTH
from dreizack.core.document.weight import depth, weight


def nested(levels: int, kind: str) -> Any:
    value: Any = 1
    for _ in range(levels):
        value = {"a": value} if kind == "object" else [value]
    return value


@pytest.mark.parametrize("kind", ["object", "list"])
@pytest.mark.parametrize("levels", [MAX_DEPTH + 1, 500, 700, 950, 5000])
def test_deep_values_are_refused_in_words(shot: Shot, levels: int, kind: str) -> None:
    for path in ("/name", "/things/title/words", "/things/new", "/channels/x"):
        with pytest.raises(EditRefused, match="levels deep"):
            apply_edit(shot, [{"op": "add", "path": path, "value": nested(levels, kind)}])


@pytest.mark.parametrize("levels", [MAX_DEPTH + 1, 500, 900])
def test_deep_files_are_refused_in_words(levels: int) -> None:
    with pytest.raises(ShotFileError, match="levels deep"):
        read_shot(json.dumps({"dreizack_shot": 1, "things": nested(levels, "object")}))
    with pytest.raises(LookFileError, match="levels deep"):
        read_look(json.dumps({"dreizack_look": 1, "name": "Brass", "sections": nested(levels, "object")}))


def test_copies_that_double_the_shot_are_refused_at_once(shot: Shot) -> None:
    patch = [{"op": "copy", "from": "/things", "path": f"/things/x{number}"} for number in range(16)]
    with pytest.raises(EditRefused, match="larger than 8 MB"):
        apply_edit(shot, patch)
    inward = [
        {"op": "copy", "from": "/things", "path": "/things" + "/a" * (number + 1)} for number in range(30)
    ]
    with pytest.raises(EditRefused):
        apply_edit(shot, inward)


def test_copies_that_fit_are_made(shot: Shot) -> None:
    edited = apply_edit(shot, [{"op": "copy", "from": "/things/title", "path": "/things/second"}]).shot
    assert edited.things["second"] == edited.things["title"]


@given(
    st.recursive(
        st.none() | st.booleans() | st.integers(-9, 9) | st.text(max_size=5),
        lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text(max_size=4), inner, max_size=4),
        max_leaves=30,
    )
)
def test_weight_and_depth_are_about_those_of_json(tree: Any) -> None:
    text = json.dumps(tree, separators=(",", ":"), ensure_ascii=False)
    assert len(text) * 0.3 <= weight(tree) + 6 and weight(tree) <= 6 * len(text) + 20

    def deep(here: Any) -> int:
        inner = here.values() if isinstance(here, dict) else here if isinstance(here, list) else None
        return 0 if inner is None else 1 + max(map(deep, inner), default=0)

    assert depth(tree, 50) == deep(tree)


@pytest.mark.parametrize("bad", ["a\u0000b", "\u0007", "a\u001f", "\u007f", "\u0085", "two\nlines"])
def test_names_hold_no_control_characters(shot: Shot, bad: str) -> None:
    for path in (
        "/name",
        "/things/title/name",
        "/things/title/look",
        "/things/key/aim_at",
        "/backdrop/picture",
    ):
        with pytest.raises(EditRefused, match="control character"):
            apply_edit(shot, [{"op": "replace", "path": path, "value": bad}])
    with pytest.raises(ShotFileError, match="control character"):
        read_shot(write_shot(shot).replace('"name": "Ebb"', f'"name": {json.dumps(bad)}'))


def test_words_may_have_lines_and_come_from_anywhere() -> None:
    assert Title(words="SLACK\r\nWATER\tNOW\rEBB\u2028FLOOD").words == "SLACK\nWATER NOW\nEBB\nFLOOD"
    with pytest.raises(ValidationError, match="control character"):
        Title(words="SLACK\u0000WATER")


@given(
    st.lists(
        st.fixed_dictionaries(
            {
                "op": st.sampled_from(["add", "remove", "replace", "move", "copy", "test"]),
                "path": st.sampled_from(
                    [
                        "",
                        "/",
                        "/name",
                        "/name/0",
                        "/things/-",
                        "/things/title/ranges/-",
                        "/things/title/ranges/x",
                        "/channels/a~2",
                        "//",
                        "/things/title/words/3",
                        "nothing",
                    ]
                ),
                "value": st.sampled_from([1, "a", None, [], {}, [[1]]]),
                "from": st.sampled_from(["/name", "/things", "/nothing", ""]),
            }
        ),
        min_size=1,
        max_size=4,
    )
)
def test_whatever_a_patch_says_it_fits_or_is_refused(patch: list[dict[str, Any]]) -> None:
    said = ""
    try:
        apply_edit(Shot(), patch)
    except EditRefused as why:
        said = str(why)
    assert "object at" not in said and "Error" not in said
