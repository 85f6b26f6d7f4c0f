"""What of a sequence is seen when."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import EditRefused
from dreizack.core.sequence import Laid, Lane, Layout, Sequence, SequencePiece, Transition, read_sequence


def sequence(lengths: list[int], overlaps: list[int]) -> Sequence:
    """Pieces so long, each after the first coming in over so many frames."""
    return Sequence(
        line=[
            SequencePiece(
                shot=f"s{index}",
                frames=length,
                skip=index,
                transition=Transition(kind="dissolve" if overlap else "cut", frames=overlap),
            )
            for index, (length, overlap) in enumerate(zip(lengths, [0, *overlaps], strict=True))
        ]
    )


@st.composite
def sequences(draw: st.DrawFn) -> Sequence:
    lengths = draw(st.lists(st.integers(2, 30), min_size=1, max_size=8))
    overlaps = [draw(st.integers(0, min(a, b) // 2)) for a, b in itertools.pairwise(lengths)]
    return sequence(lengths, overlaps)


@given(sequences())
def test_every_frame_of_every_piece_is_seen_once_and_no_moment_is_empty(of: Sequence) -> None:
    layout = Layout(of)
    seen: dict[int, list[float]] = {}
    for frame in range(layout.total):
        moment = layout.at(frame)
        assert 1 <= len(moment.line) <= 2 and (moment.transition is None) == (len(moment.line) == 1)
        for showing in moment.line:
            seen.setdefault(showing.number, []).append(showing.frame)
    assert [seen[n] for n in range(len(of.line))] == [
        [piece.skip + index for index in range(piece.frames)] for piece in of.line
    ]
    assert layout.at(layout.total).line == () and layout.total == of.total


@given(sequences())
def test_transitions_go_on_evenly_and_never_show_an_end_twice(of: Sequence) -> None:
    layout = Layout(of)
    for index, piece in enumerate(of.line[1:], 1):
        overlap = piece.transition.overlap
        along = [layout.at(of.starts[index] + k).along for k in range(overlap)]
        assert along == pytest.approx([(k + 1) / (overlap + 1) for k in range(overlap)])


@pytest.mark.parametrize(
    ("lengths", "overlaps", "says"),
    [([10, 10], [11], "piece 1 lasts 10 frames"), ([10, 10, 10], [6, 6], "piece 2 lasts 10 frames")],
)
def test_transitions_longer_than_their_pieces_are_refused(
    lengths: list[int], overlaps: list[int], says: str
) -> None:
    tree = Sequence().model_dump(mode="json")
    tree["line"] = [
        SequencePiece(shot="s", frames=n, transition=Transition(kind="wipe", frames=o)).model_dump(
            mode="json"
        )
        for n, o in zip(lengths, [0, *overlaps], strict=True)
    ]
    with pytest.raises(EditRefused, match=says):
        read_sequence(tree)


def test_lanes_lie_above_fade_and_count() -> None:
    lane = Lane(pieces=[Laid(at=4, piece=SequencePiece(shot="t", frames=10), fade_in=3, fade_out=1)])
    of = Sequence(
        line=[SequencePiece(shot="s", frames=8)], lanes=[lane, Lane(on=False, pieces=[Laid(at=90)])]
    )
    layout = Layout(of)
    assert layout.total == 14
    assert [layout.at(frame).over[0].share for frame in (4, 5, 6, 7, 13)] == [0.25, 0.5, 0.75, 1.0, 0.5]
    assert layout.at(3).over == () and layout.at(10).line == () and layout.at(4).over[0].number == 1


def test_pieces_run_faster_backwards_and_stand() -> None:
    fast, back, still = (SequencePiece(shot="s", skip=10, frames=5, speed=speed) for speed in (2, -4, 0))
    assert [fast.shot_frame(k) for k in range(3)] == [10, 12, 14]
    assert [back.shot_frame(k) for k in range(4)] == [10, 6, 2, 0]
    assert [still.shot_frame(k) for k in range(3)] == [10, 10, 10]


def test_sequences_too_long_to_be_held_are_refused() -> None:
    with pytest.raises(EditRefused, match="at most 45000 frames"):
        read_sequence({"line": [{"kind": "colour", "frames": 45_001}]})


@given(speed=st.floats(-2, 2), gains=st.floats(-5, 5), skip=st.floats(0, 300), first=st.integers(0, 60))
def test_a_ramp_that_is_cut_runs_on_as_it_did(speed: float, gains: float, skip: float, first: int) -> None:
    """Against the sum of its speeds, each in the middle of its frame; and cut in two anywhere."""
    piece = SequencePiece(shot="s", skip=skip, frames=100, speed=speed, gains=gains)
    steps = speed + gains / 100 * (np.arange(100) + 0.5)
    summed = skip + np.concatenate([[0], np.cumsum(steps)])
    assert piece.course(np.arange(101.0)) == pytest.approx(summed, abs=1e-6)
    assert piece.pace == pytest.approx(steps.mean())
    rest = piece.model_copy(update=piece.begun(first) | {"frames": 100 - first})
    for index in range(0, 100 - first, 7):
        if piece.course(float(first)) >= 0:
            assert rest.shot_frame(index) == pytest.approx(piece.shot_frame(first + index), abs=1e-6)
    assert piece.as_filmed == (speed == 1 and gains == 0)
