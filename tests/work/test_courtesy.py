"""The renderer steps aside for edits, but not for ever."""

from __future__ import annotations

import threading
import time
from pathlib import Path

from dreizack.work.courtesy import MOST, QUIET, Courtesy, note_edit


def test_edits_go_on_where_nothing_can_be_noted(tmp_path: Path) -> None:
    note_edit(tmp_path / "not there")


def test_without_edits_nobody_waits(tmp_path: Path) -> None:
    assert Courtesy(tmp_path).wait() < 0.05


def test_an_edit_is_given_a_short_quiet(tmp_path: Path) -> None:
    note_edit(tmp_path)
    assert QUIET * 0.8 < Courtesy(tmp_path).wait() < QUIET + 0.3
    assert Courtesy(tmp_path).wait() < 0.05


def test_endless_edits_do_not_stop_a_delivery(tmp_path: Path) -> None:
    done = threading.Event()

    def edit() -> None:
        while not done.is_set():
            note_edit(tmp_path)
            time.sleep(0.05)

    note_edit(tmp_path)
    editor = threading.Thread(target=edit)
    editor.start()
    waited = Courtesy(tmp_path).wait()
    done.set()
    editor.join()
    assert MOST <= waited < MOST + 0.5
