"""How loud the sounds of a sequence are over time."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from dreizack.core.document import Shot, Sound
from dreizack.core.library import keep
from dreizack.core.sequence import Bundle, Sequence, SequencePiece, read_sequence, sequence_sound
from dreizack.core.sequence.document import HeardSound, Level
from dreizack.core.sound import RATE
from tests.core.test_sound import shelf, wav

__all__ = ["shelf"]

TONE = 0.2 * np.sin(2 * np.pi * 440 * np.arange(4 * RATE) / RATE)


@pytest.fixture
def tone(shelf: Path) -> str:
    return keep(shelf, wav(TONE[:, None]), "wav", "sound")


def loudness_at(samples: np.ndarray, frame: float) -> float:
    """Decibels against the tone as it is, in a fiftieth of a second about a frame."""
    at = round(frame / 25 * RATE)
    part = samples[at : at + RATE // 50, 0].astype(float)
    return float(20 * np.log10(np.sqrt((part**2).mean()) / (0.2 / np.sqrt(2))))


def test_levels_go_evenly_and_move_with_their_sound(tone: str) -> None:
    levels = [Level(frame=10, gain=0), Level(frame=30, gain=-20), Level(frame=50, gain=-20)]
    for start in (0, 15):
        sound = HeardSound(file=tone, start=start, gain=-3, levels=levels)
        sequence = Sequence(line=[SequencePiece(kind="colour", frames=90)], sounds={"tone": sound})
        samples = sequence_sound(Bundle(sequence, {}), 0, 89)
        assert samples is not None
        for frame, level in ((2, 0), (20, -10), (25, -15), (40, -20), (60, -20)):
            heard = loudness_at(samples, start + frame - 0.25)
            assert heard == pytest.approx(level - 3, abs=0.3), (start, frame)


def test_nothing_is_heard_at_the_lowest_level_and_of_pieces_as_much_as_is_said(tone: str, shot: Shot) -> None:
    silent = HeardSound(file=tone, levels=[Level(frame=0, gain=-60)])
    line = [SequencePiece(kind="colour", frames=50)]
    samples = sequence_sound(Bundle(Sequence(line=line, sounds={"tone": silent}), {}), 0, 49)
    assert samples is not None and not samples.any()
    shot.sounds["tone"] = Sound(file=tone)
    shot.format.frames = 50
    line = [SequencePiece(shot="a", frames=25), SequencePiece(shot="a", frames=25, gain=-12)]
    samples = sequence_sound(Bundle(Sequence(line=line), {"a": shot}), 0, 49)
    assert samples is not None
    assert loudness_at(samples, 10) == pytest.approx(0, abs=0.1)
    assert loudness_at(samples, 35) == pytest.approx(-12, abs=0.1)


@pytest.mark.parametrize("frames", [[3, 3], [9, 2]])
def test_levels_out_of_order_are_refused(frames: list[float]) -> None:
    tree = {"sounds": {"a": {"levels": [{"frame": frame, "gain": 0} for frame in frames]}}}
    with pytest.raises(ValueError, match="in order"):
        read_sequence(tree)
