"""Readers in the sandbox say how far they are."""

from __future__ import annotations

import time
from pathlib import Path

import numpy as np
import pytest

from dreizack.core.clips import bring_plate, plate_facts
from dreizack.core.library import shelve
from dreizack.core.sandbox import FileRefused, sandboxed_file, tell_share
from tests.api.test_plates import film
from tests.core.match.plates import dolly


def slow(source: bytes, steps: str) -> bytes:
    """A reader that takes its time."""
    for step in range(int(steps)):
        time.sleep(0.25)
        tell_share((step + 1) / int(steps))
    return source


READER = f"{__name__}:slow"


def test_shares_come_while_a_reader_runs(tmp_path: Path) -> None:
    heard: list[float] = []
    made = sandboxed_file(READER, b"abc", tmp_path, what="file", told=heard.append, steps="6")
    assert made.read_bytes() == b"abc"
    assert len(set(heard)) >= 2 and (np.diff(heard) >= 0).all()
    assert 0 < heard[0] < 1 and max(heard) <= 1


def test_one_that_takes_too_long_is_ended_though_it_tells(tmp_path: Path) -> None:
    begun = time.monotonic()
    with pytest.raises(FileRefused, match="took longer than 1 seconds"):
        sandboxed_file(READER, b"", tmp_path, what="file", told=lambda _: None, seconds=1, steps="400")
    assert time.monotonic() - begun < 20
    assert not list(tmp_path.iterdir())


def test_a_plate_tells_while_it_is_read(tmp_path: Path) -> None:
    shelve(tmp_path)
    heard: list[float] = []
    name = bring_plate(film(dolly(60)), tmp_path, heard.append)
    facts = plate_facts(name)
    assert facts is not None and facts.frames == 60
    assert heard and (np.diff(heard) >= 0).all() and 0 < max(heard) <= 1
