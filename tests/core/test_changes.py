"""Choices, switches and texts that change at frames: seen from exactly there on, in every reader."""

from __future__ import annotations

import numpy as np
import pytest
from pydantic import ValidationError

from dreizack.core.document import (
    Channel,
    Format,
    Key,
    Light,
    Shot,
    Title,
    apply_edit,
    run_of,
    shot_at,
    without_thing,
)
from dreizack.core.scene import bake, exposed, frame_names, frame_state, window


def shot_of(**changes: list[tuple[int, object]]) -> Shot:
    named = {
        pointer.replace("__", "/"): {"keys": [{"frame": f, "value": v} for f, v in keys]}
        for pointer, keys in changes.items()
    }
    return Shot.model_validate(
        {
            "format": Format(frames=60),
            "things": {"title": Title(words="EBB"), "lamp": Light()},
            "changes": named,
            "channels": {
                "/things/title/place/position/x": Channel(
                    keys=[Key(frame=0, value=0), Key(frame=50, value=1)]
                )
            },
        }
    )


WORDS, ON, VIEW = "__things__title__words", "__things__lamp__on", "__camera__view"


def test_values_are_what_they_are_from_a_frame_on() -> None:
    shot = shot_of(
        **{
            WORDS: [(10, "EBB"), (20, "FLOW"), (40, "SLACK")],
            ON: [(0, True), (30, False)],
            VIEW: [(25, "film")],
        }
    )
    for frame, words, lit in (
        (0, "EBB", True),
        (19, "EBB", True),
        (20, "FLOW", True),
        (30, "FLOW", False),
        (59, "SLACK", False),
    ):
        state = frame_state(shot, bake(shot, np.array([float(frame)])), 0)
        assert state.titles["title"].form.thing.words == words  # type: ignore[union-attr]
        assert ("lamp" in state.lights) == lit and state.view == "film"
    assert run_of(shot, 22) == (20, 25) and run_of(shot, 59) == (40, 60)
    assert shot_at(shot, 45).changes == {} and shot_at(shot, 45).titles["title"].words == "SLACK"


def test_an_open_shutter_does_not_look_across_a_change() -> None:
    shot = shot_of(**{WORDS: [(0, "EBB"), (20, "FLOW")]})
    shot.camera.shutter_angle = 360
    for frame, words in ((19, "EBB"), (20, "FLOW")):
        state = exposed(shot, frame)
        told = {m.titles["title"].form.thing.words for m in state.during or (state,)}  # type: ignore[union-attr]
        assert told == {words}


def test_windows_end_where_something_changes_and_names_go_by_what_is_shown() -> None:
    shot = shot_of(**{WORDS: [(0, "EBB"), (20, "FLOW"), (40, "EBB")]})
    assert window(shot, 5) == (0, 20) and window(shot, 30) == (20, 20) and window(shot, 59) == (40, 20)
    shot.channels = {}
    names = frame_names(shot, np.arange(60.0))
    assert len(set(names[:20])) == 1 and names[0] != names[20] and names[0] == names[40]


def test_what_cannot_change_or_be_is_refused_in_words() -> None:
    with pytest.raises(ValidationError, match="no choice, switch or text"):
        shot_of(**{"__things__title__kind": [(0, "mark")]})
    with pytest.raises(ValidationError, match="no choice, switch or text"):
        shot_of(**{"__things__title__place__scale": [(0, "2")]})
    with pytest.raises(ValidationError, match="at frame 7"):
        shot_of(**{VIEW: [(7, "nonsense")]})
    with pytest.raises(ValidationError, match="in order of frames"):
        shot_of(**{ON: [(7, True), (7, False)]})


def test_what_is_removed_takes_its_changes_along() -> None:
    shot = shot_of(**{WORDS: [(0, "EBB")], ON: [(3, False)]})
    assert list(apply_edit(shot, without_thing(shot, "lamp")).shot.changes) == ["/things/title/words"]
