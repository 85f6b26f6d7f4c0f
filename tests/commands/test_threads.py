"""Rendering with fewer threads gives the same pictures."""

from __future__ import annotations

import subprocess
import sys

import pytest

from dreizack.commands.main import main

ASKED = """
import hashlib
from dreizack.core.render import QUALITIES, Stage, take_threads, trace
from dreizack.core.render.kernel.engine import arrays
from dreizack.core.scene import BodyStore
from tests.core.test_focus_afterwards import two_words
take_threads({threads})
stage = Stage(BodyStore())
stage.show(two_words(False))
made = trace(stage, 48, 27, QUALITIES["draft"]).rgba
print(arrays().thread_count(), hashlib.blake2b(made.round(4).tobytes()).hexdigest())
"""


def test_one_thread_traces_what_two_do() -> None:
    said = []
    for threads in (1, 2):
        done = subprocess.run(
            [sys.executable, "-c", ASKED.format(threads=threads)], capture_output=True, text=True, check=True
        )
        count, picture = done.stdout.split()
        assert count == str(threads)
        said.append(picture)
    assert said[0] == said[1]


@pytest.mark.parametrize("told", ["0", "-1", "513", "two"])
def test_what_is_no_number_of_threads_is_refused(told: str, capsys: pytest.CaptureFixture[str]) -> None:
    with pytest.raises(SystemExit):
        main(["worker", "--join", "http://127.0.0.1:1", f"--threads={told}"])
    assert f"'{told}' is no number of threads; from 1 to 512 are" in capsys.readouterr().err
