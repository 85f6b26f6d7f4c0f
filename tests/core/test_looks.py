"""Looks and the file they travel in."""

from __future__ import annotations

import contextlib
import json

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from dreizack.core.document import (
    Look,
    LookFileError,
    Shot,
    Title,
    apply_edit,
    look_of,
    read_look,
    restyled,
    write_look,
)


def test_a_look_travels_in_a_file(shot: Shot) -> None:
    title = shot.things["title"]
    assert isinstance(title, Title)
    look = look_of(title, ["body", "finish", "shells"])
    name, again = read_look(write_look("Dusk gold", look))
    assert name == "Dusk gold" and again == look
    other = Title(words="EBB", look="Dusk gold")
    shot.things["other"] = other
    edited = apply_edit(shot, restyled(shot, "Dusk gold", again)).shot.things["other"]
    assert isinstance(edited, Title)
    assert edited.body == title.body and edited.finish == title.finish and edited.words == "EBB"


def test_a_look_holds_only_what_a_title_may_have() -> None:
    with pytest.raises(ValidationError):
        Look(sections={"body": {"depth": -3}})
    with pytest.raises(ValidationError):
        Look(sections={"words": "X"})  # type: ignore[dict-item]
    with pytest.raises(ValidationError):
        Look(sections={})


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        ("{", "no readable JSON"),
        ("[]", "not a look file"),
        ('{"dreizack_look": 9}', "version"),
        ('{"dreizack_look": 1, "sections": {}}', "no name"),
        ('{"dreizack_look": 1, "name": "a", "sections": {"body": {"depth": "deep"}}}', "depth"),
        ('{"dreizack_look": 1, "name": "a", "sections": 3}', "sections"),
    ],
)
def test_broken_look_files_get_a_sentence(text: str, sentence: str) -> None:
    with pytest.raises(LookFileError, match=sentence):
        read_look(text)


leaves = st.none() | st.booleans() | st.floats() | st.text(max_size=8)


@given(
    st.recursive(
        leaves,
        lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner, max_size=3),
    )
)
def test_whatever_stands_in_a_look_file_it_is_read_or_refused(tree: object) -> None:
    text = json.dumps({"dreizack_look": 1, "name": "a", "sections": tree})
    with contextlib.suppress(LookFileError):
        read_look(text)
