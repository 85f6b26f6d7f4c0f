"""A frame that cannot be rendered says why, and stops no other."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest

from dreizack.core.document import Channel, Format, Key, Shot, Title
from dreizack.core.light import key_fill_rim
from dreizack.core.media import FramesFailed, Order, deliver
from dreizack.core.media import frames as loop
from dreizack.core.sequence import Bundle, Sequence, SequencePiece, SequenceReel
from tests.core.test_optics_media import Keeper

SIZE = (96, 54)


@pytest.fixture
def moving() -> Shot:
    keys = [Key(frame=0, value=0), Key(frame=10, value=0.5)]
    return Shot(
        format=Format(width=96, height=54, frames=6),
        things={"title": Title(words="EBB"), **key_fill_rim()},
        channels={"/things/title/place/position/x": Channel(keys=keys)},
    )


@pytest.fixture
def broken(monkeypatch: pytest.MonkeyPatch) -> dict[int, int]:
    """Frames whose tracing fails, and how often yet."""
    often: dict[int, int] = {}
    right = loop.traced

    def traced(stage: Any, state: Any, order: Order, stopped: Any) -> Any:
        if often.get(state.number, 0) > 0:
            often[state.number] -= 1
            raise RuntimeError(f"the ray tree of {state.number} is broken\nmore of that")
        return right(stage, state, order, stopped)

    monkeypatch.setattr(loop, "traced", traced)
    return often


def numbers(folder: Path) -> list[int]:
    return sorted(int(path.stem.split(".")[1]) for path in folder.glob("*.png"))


def test_the_others_are_written_and_a_second_order_renders_only_what_failed(
    moving: Shot, broken: dict[int, int], tmp_path: Path
) -> None:
    broken |= {2: 2, 4: 2}
    keeper, seen = Keeper(), []
    with pytest.raises(FramesFailed) as found:
        deliver(
            moving,
            Order(0, 5, *SIZE, "draft"),
            tmp_path / "a.%05d.png",
            keeper,
            lambda progress, _: seen.append(progress.frame),
        )
    said = str(found.value)
    assert "frames 2, 4" in said and "the ray tree of 2 is broken" in said and "more of that" not in said
    assert numbers(tmp_path) == seen == [0, 1, 3, 5]
    traced = []
    deliver(
        moving,
        Order(0, 5, *SIZE, "draft"),
        tmp_path / "b.%05d.png",
        keeper,
        lambda progress, _: traced.append(progress.frame) if not progress.kept else None,
    )
    assert traced == [2, 4]


def test_a_fault_that_passes_is_none(moving: Shot, broken: dict[int, int], tmp_path: Path) -> None:
    broken |= {1: 1}
    deliver(moving, Order(0, 2, *SIZE, "draft"), tmp_path / "a.%05d.png", Keeper())
    assert numbers(tmp_path) == [0, 1, 2]


def test_no_movie_comes_of_it_and_what_never_works_is_given_up(
    moving: Shot, broken: dict[int, int], tmp_path: Path
) -> None:
    broken |= {1: 2}
    with pytest.raises(FramesFailed, match="frame 1 could not be rendered"):
        deliver(moving, Order(0, 2, *SIZE, "draft"), tmp_path / "a.mp4", Keeper())
    assert not list(tmp_path.iterdir())
    broken |= dict.fromkeys(range(6), 99)
    with pytest.raises(FramesFailed, match="frames 0-2"):
        deliver(moving, Order(0, 5, *SIZE, "draft"), tmp_path / "a.mp4")
    assert broken[5] == 99


def test_frames_of_a_sequence_fail_by_their_own_numbers(moving: Shot, broken: dict[int, int]) -> None:
    broken |= {2: 2}
    line = [SequencePiece(shot="a", name="Ebb", frames=4), SequencePiece(shot="a", frames=3)]
    sequence = Sequence(width=96, height=54, line=line)
    reel = SequenceReel(Bundle(sequence=sequence, shots={"a": moving}), Order(0, 6, *SIZE, "draft"))
    found = [picture.number for picture in reel.pictures(lambda: False)]
    assert found == [0, 1, 3, 4, 5, 6]
    with pytest.raises(FramesFailed, match=r"frame 2 could not be rendered .*Ebb: RuntimeError"):
        reel.failing.tell()
