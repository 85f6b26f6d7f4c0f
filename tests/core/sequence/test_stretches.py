"""Stretches that a live view plays while frames are not kept."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.sequence import Laid, Lane, Layout, Sequence, SequencePiece, Stretch, Transition, stretches

from .test_layout import sequences


@given(sequences(), st.integers(0, 20), st.sampled_from(["even", "soft"]), st.floats(-2, 3), st.floats(-9, 9))
def test_each_frame_is_in_the_stretch_of_the_shot_that_has_the_greater_share(
    of: Sequence, at: int, ease: str, speed: float, gains: float
) -> None:
    over = SequencePiece(shot="over", frames=3)
    tree = of.model_copy(update={"lanes": [Lane(pieces=[Laid(at=at, piece=over)])]}).model_dump()
    for piece in tree["line"]:
        piece["transition"]["ease"] = ease
        piece["speed"], piece["gains"] = speed, gains
    of = Sequence.model_validate(tree)
    layout = Layout(of)
    found: dict[int, Stretch] = {}
    for stretch in stretches(of):
        for frame in range(stretch.first, stretch.last + 1):
            assert found.setdefault(frame, stretch) is stretch
    for frame in range(layout.total):
        moment = layout.at(frame)
        if not moment.line:
            assert frame not in found
            continue
        showing = moment.line[-1] if moment.along >= 0.5 else moment.line[0]
        stretch = found[frame]
        assert stretch.shot == showing.piece.shot
        since = frame - stretch.first
        played = max(0.0, stretch.frame + since * stretch.speed + since * since * stretch.gains / 200)
        assert abs(played - showing.frame) < 1e-9
        assert (stretch.transition, stretch.over) == (moment.transition is not None, bool(moment.over))


def test_colours_are_in_no_stretch() -> None:
    line = [SequencePiece(kind="colour", frames=10), SequencePiece(shot="a", frames=10, skip=4)]
    assert stretches(Sequence(line=line)) == [Stretch(10, 19, "a", 4.0, 1.0, 0.0, False, False)]
    assert stretches(Sequence()) == []


def test_a_crossing_is_parted_in_its_middle() -> None:
    dissolve = Transition(kind="dissolve", frames=4)
    line = [SequencePiece(shot="a", frames=10), SequencePiece(shot="b", frames=10, transition=dissolve)]
    assert [(s.first, s.last, s.shot, s.transition) for s in stretches(Sequence(line=line))] == [
        (0, 5, "a", False),
        (6, 7, "a", True),
        (8, 9, "b", True),
        (10, 15, "b", False),
    ]
