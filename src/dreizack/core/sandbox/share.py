"""How far a reader is, told from its process to the one that waits for it: a file in its own folder."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

NAME = "share"
# Seconds between two words.
EVERY = 0.2
_told = [0.0]


def tell_share(share: float) -> None:
    """Say, in a reader's process, which share (0 to 1) of a file is read."""
    now = time.monotonic()
    if now - _told[0] >= EVERY:
        _told[0] = now
        Path(tempfile.gettempdir(), NAME).write_text(f"{share:.4f}", "ascii")


def read_share(scratch: str) -> float | None:
    """The share that was told last in a reader's folder; None where nothing was."""
    try:
        return min(1.0, max(0.0, float(Path(scratch, NAME).read_text("ascii"))))
    except (OSError, ValueError):
        return None
