"""Sequences within sequences show, frame by frame, what they show by themselves."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import Shot
from dreizack.core.library import keep
from dreizack.core.media import Order
from dreizack.core.sequence import (
    Bundle,
    Laid,
    Lane,
    Layout,
    Sequence,
    SequenceFileError,
    SequencePiece,
    SequenceReel,
    Transition,
    flattened,
    sequence_sound,
)
from dreizack.core.sequence.document import HeardSound, Level
from dreizack.core.sound import RATE
from tests.core.test_sound import shelf, wav

__all__ = ["shelf"]


def inner() -> Sequence:
    """Three pieces, two of them in a dissolve, a title over them."""
    return Sequence(
        name="Inner",
        line=[
            SequencePiece(shot="a", frames=10),
            SequencePiece(shot="b", skip=4, frames=12, transition=Transition(kind="dissolve", frames=4)),
            SequencePiece(shot="c", frames=8, speed=2),
        ],
        lanes=[Lane(pieces=[Laid(at=5, piece=SequencePiece(shot="t", frames=9), fade_in=2, fade_out=3)])],
    )


def within(skip: int, frames: int, overlap: int = 0) -> Sequence:
    how = Transition(kind="dissolve", frames=overlap) if overlap else Transition()
    piece = SequencePiece(kind="sequence", sequence="inner", skip=skip, frames=frames, transition=how)
    return Sequence(line=[SequencePiece(shot="x", frames=20), piece, SequencePiece(shot="y", frames=6)])


def shown(
    sequence: Sequence, frame: int
) -> tuple[list[tuple[str, float]], float, list[tuple[str, float, float]]]:
    """What is on the line at a frame, how far a transition is, and what lies over it."""
    moment = Layout(sequence).at(frame)
    line = [(one.piece.shot or "black", one.frame if one.piece.shot else 0.0) for one in moment.line]
    return line, moment.along, [(one.piece.shot, one.frame, one.share) for one in moment.over]


@given(st.integers(0, 20), st.integers(1, 30), st.integers(0, 6))
def test_each_frame_is_that_of_the_inner_one(skip: int, frames: int, overlap: int) -> None:
    overlap = min(overlap, frames)
    outer = within(skip, frames, overlap)
    flat = flattened(outer, {"inner": inner()})
    assert flat.total == outer.total and not flat.sequences
    start = outer.starts[1]
    own = inner()
    # Cut in the middle of their transition, only what is there whole is seen of it; nor are there ever three.
    mixed = [f for f in range(own.total) if len(Layout(own).at(f).line) == 2]
    whole = skip not in mixed[1:] and skip + frames not in mixed[1:]
    whole &= not skip <= mixed[0] < skip + overlap
    for frame in range(overlap, frames):
        line, along, over = shown(flat, start + frame)
        truth = shown(own, skip + frame) if skip + frame < own.total else ([("black", 0.0)], 1.0, [])
        if whole:
            assert (line, along) == truth[:2], frame
        else:
            assert line[-1] in truth[0] or line[0] in truth[0]
        assert [name for name, _, _ in over] == [name for name, _, _ in truth[2]]
        assert [at for _, at, _ in over] == [at for _, at, _ in truth[2]]
    # What comes before and after stands where it stood.
    assert shown(flat, 0) == shown(outer, 0)
    assert shown(flat, flat.total - 1)[0] == [("y", 5.0)]


def test_they_hold_one_another_but_never_themselves() -> None:
    middle = within(0, 26)
    outer = Sequence(line=[SequencePiece(kind="sequence", sequence="middle", frames=50)])
    flat = flattened(outer, {"middle": middle, "inner": inner()})
    assert [piece.shot for piece in flat.line] == ["x", "a", "b", "c", "y"] and flat.total == 50
    with pytest.raises(SequenceFileError, match="hold itself"):
        flattened(outer, {"middle": outer}, ("outer",))
    with pytest.raises(SequenceFileError, match="not there"):
        flattened(outer, {"middle": middle})


def test_more_than_a_sequence_may_hold_is_said() -> None:
    lanes = [Lane(pieces=[Laid(piece=SequencePiece(shot="t", frames=2))]) for _ in range(5)]
    full = Sequence(line=[SequencePiece(shot="a", frames=9)], lanes=lanes)
    piece = SequencePiece(kind="sequence", sequence="full", frames=9)
    with pytest.raises(SequenceFileError, match="more than one may be"):
        flattened(Sequence(line=[piece], lanes=lanes), {"full": full})


def test_pictures_are_those_of_the_inner_one(shot: Shot) -> None:
    one = Sequence(line=[SequencePiece(shot="a", skip=2, frames=4), SequencePiece(kind="colour", frames=3)])
    outer = Sequence(line=[SequencePiece(kind="sequence", sequence="one", skip=1, frames=4)])
    flat = Bundle(flattened(outer, {"one": one}), {"a": shot})
    order = Order(0, 3, 96, 54, "draft")
    found = [picture.light for picture in SequenceReel(flat, order).pictures(lambda: False)]
    truth = SequenceReel(Bundle(one, {"a": shot}), Order(1, 4, 96, 54, "draft"))
    for seen, true in zip(found, truth.pictures(lambda: False), strict=True):
        np.testing.assert_allclose(seen, true.light, atol=1e-6)


@pytest.mark.parametrize("start", [-10, 0, 12])
def test_sounds_are_heard_where_they_were_and_end_with_their_stretch(shelf: Path, start: int) -> None:
    tone = 0.2 * np.sin(2 * np.pi * 440 * np.arange(4 * RATE) / RATE)
    file = keep(shelf, wav(tone[:, None]), "wav", "sound")
    levels = [Level(frame=0, gain=0), Level(frame=60, gain=-30)]
    sound = HeardSound(file=file, start=start, levels=levels)
    one = Sequence(line=[SequencePiece(kind="colour", frames=90)], sounds={"tone": sound})
    piece = SequencePiece(kind="sequence", sequence="one", skip=10, frames=30)
    outer = Sequence(
        line=[SequencePiece(kind="colour", frames=20), piece, SequencePiece(kind="colour", frames=25)]
    )
    flat = Bundle(flattened(outer, {"one": one}), {})
    found = sequence_sound(flat, 0, flat.sequence.total - 1)
    truth = sequence_sound(Bundle(one, {}), 10, 39)
    assert found is not None and truth is not None
    at = round(20 / 25 * RATE)
    length = len(truth) - round(0.3 / 25 * RATE)
    # Levels are steps of a quarter of a frame.
    assert np.abs(found[at : at + length] - truth[:length]).max() < 0.01
    assert not found[: at - 1].any() and np.abs(found[at + len(truth) + 1 :]).max() < 1e-3
    quiet = outer.model_copy(deep=True)
    quiet.line[1].heard = False
    assert not flattened(quiet, {"one": one}).sounds


@pytest.mark.parametrize("change", [{"sequence": ""}, {"speed": 2.0}, {"speed": 0.0}])
def test_odd_ones_are_refused(change: dict[str, object]) -> None:
    piece = {"kind": "sequence", "sequence": "inner", "frames": 5, **change}
    with pytest.raises(ValueError, match="names no sequence"):
        Sequence.model_validate({"line": [piece]})
    with pytest.raises(ValueError, match="not over it"):
        Sequence.model_validate({"lanes": [{"pieces": [{"piece": {"kind": "sequence", "sequence": "a"}}]}]})
