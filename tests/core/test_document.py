"""Shots as data: edits and their inverses, files, and what is refused."""

from __future__ import annotations

import contextlib
import json
import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from dreizack.core.document import (
    Channel,
    EditRefused,
    Format,
    Key,
    Shot,
    ShotFileError,
    apply_edit,
    describe,
    read_shot,
    resolve,
    write_shot,
)
from dreizack.demo import demo_shots

numbers = {
    "/camera/roll": st.floats(-90, 90),
    "/things/title/body/depth": st.floats(0.01, 2),
    "/things/key/intensity": st.floats(-4, 4),
    "/things/title/finish/roughness": st.floats(0, 1),
}
replaces = st.sampled_from(sorted(numbers)).flatmap(
    lambda pointer: numbers[pointer].map(lambda value: {"op": "replace", "path": pointer, "value": value})
)
structural = st.sampled_from(
    [
        [{"op": "remove", "path": "/things/fill"}],
        [{"op": "add", "path": "/things/second", "value": {"kind": "title", "words": "FLOOD"}}],
        [{"op": "add", "path": "/channels/~1camera~1roll", "value": {"keys": [{"frame": 1, "value": 2}]}}],
        [{"op": "replace", "path": "/things/title/words", "value": "tide\nturns ½"}],
    ]
)


@given(st.one_of(st.lists(replaces, min_size=1, max_size=6), structural))
def test_the_inverse_takes_an_edit_back_whole(patch: list[dict[str, Any]]) -> None:
    before = demo_shots()["main-title"]
    before.channels = {}
    edit = apply_edit(before, patch)
    back = apply_edit(edit.shot, edit.inverse).shot if edit.inverse else edit.shot
    assert back == before
    assert list(back.things) == list(before.things) or "fill" in json.dumps(patch)


@pytest.mark.parametrize(
    ("patch", "where"),
    [
        ([{"op": "replace", "path": "/things/title/body/depth", "value": -1}], "/things/title/body/depth"),
        (
            [{"op": "replace", "path": "/things/title/body/depth", "value": math.nan}],
            "/things/title/body/depth",
        ),
        ([{"op": "replace", "path": "/camera/roll", "value": math.inf}], "/camera/roll"),
        ([{"op": "add", "path": "/things/title/glow", "value": 1}], "/things/title/glow"),
        ([{"op": "replace", "path": "/format/frames", "value": 10**9}], "/format/frames"),
        ([{"op": "replace", "path": "/things/title/words", "value": "x" * 50_000}], "/things/title/words"),
        ([{"op": "add", "path": "/channels/~1nowhere", "value": {"keys": [{"frame": 0, "value": 0}]}}], "/"),
        ([{"op": "add", "path": "/things/No Good!", "value": {"kind": "light"}}], "/"),
        ([{"op": "remove", "path": "/things/nobody"}], ""),
        ([], ""),
    ],
)
def test_bad_edits_are_refused_with_their_place_and_change_nothing(
    shot: Shot, patch: Any, where: str
) -> None:
    before = shot.model_dump_json()
    with pytest.raises(EditRefused) as refused:
        apply_edit(shot, patch)
    assert refused.value.where == where
    assert len(str(refused.value)) > 10
    assert shot.model_dump_json() == before


def test_shot_files_come_back_equal() -> None:
    for shot in demo_shots().values():
        assert read_shot(write_shot(shot)) == shot
        assert read_shot(write_shot(shot).encode()) == shot


@given(st.data())
def test_damaged_files_are_refused_and_nothing_else_happens(data: st.DataObject) -> None:
    text = write_shot(demo_shots()["part-one"]).encode()
    at = data.draw(st.integers(0, len(text) - 1))
    length = data.draw(st.integers(0, 12))
    broken = (
        text[:at] + data.draw(st.binary(max_size=8)) + text[at + length :]
        if data.draw(st.booleans())
        else text[:at]
    )
    with contextlib.suppress(ShotFileError):
        read_shot(broken)


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "line 1"),
        ("[]", "dreizack_shot"),
        ("{}", "dreizack_shot"),
        ("{" * 100_000, "damaged"),
        ("[" * 200_000, "nested"),
        ('{"dreizack_shot": 99}', "version 99"),
        (b"\xff\xfe\x00", "UTF-8"),
        ('{"dreizack_shot": 1, "name": 5}', "/name"),
        ('{"dreizack_shot": 1, "format": {"width": 100000}}', "/format/width"),
        ("{" + " " * 9_000_000 + "}", "larger"),
        ('{"dreizack_shot": 1, "camera": {"roll": NaN}}', "/camera/roll"),
    ],
)
def test_foreign_files_are_refused_in_words(text: str | bytes, says: str) -> None:
    with pytest.raises(ShotFileError, match=says):
        read_shot(text)


def test_keys_stand_in_order_one_a_frame() -> None:
    for frames in ([3, 3], [5, 2]):
        with pytest.raises(ValidationError):
            Channel(keys=[Key(frame=f, value=0) for f in frames])


def test_formats_have_limits() -> None:
    with pytest.raises(ValidationError):
        Format(width=8192, height=8192)
    with pytest.raises(ValidationError):
        Format(rate={"num": 1, "den": 2})  # type: ignore[arg-type]


def test_every_described_value_is_there_and_within_its_own_limits(shot: Shot) -> None:
    models = {
        "title": "/things/title",
        "light": "/things/key",
        "camera": "/camera",
        "surroundings": "/surroundings",
        "backdrop": "/backdrop",
    }
    for kind, values in describe().items():
        assert values
        for value in values:
            assert value["tells"].endswith("."), value
            if kind in models:
                resolve(shot, models[kind] + value["pointer"])
            if value["kind"] == "number":
                assert value["low"] <= value["default"] <= value["high"]
