"""Deliveries step aside while somebody edits.

Whoever serves edits touches a file; the renderer looks at it between its bands of work and waits
until a short quiet. It never waits for long at a time, so that it gets on even under endless edits.
"""

from __future__ import annotations

import contextlib
import time
from pathlib import Path

QUIET = 0.5
MOST = 2.0
NAME = "editing"


def note_edit(data: Path) -> None:
    """Somebody edits right now; where that cannot be noted (a full disk), editing goes on all the same."""
    with contextlib.suppress(OSError):
        (data / NAME).touch()


class Courtesy:
    """Waits while edits come in."""

    def __init__(self, data: Path) -> None:
        self._file = data / NAME

    def wait(self) -> float:
        """Step aside until it has been quiet; answers the seconds waited."""
        begun = time.monotonic()
        while self._since_edit() < QUIET and time.monotonic() - begun < MOST:
            time.sleep(0.03)
        return time.monotonic() - begun

    def _since_edit(self) -> float:
        try:
            return time.time() - self._file.stat().st_mtime
        except FileNotFoundError:
            return QUIET
