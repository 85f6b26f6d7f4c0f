"""Writing beside the final name, and renaming (rename(2) is atomic within a file system)."""

from __future__ import annotations

import os
import secrets
import time
from collections.abc import Callable
from pathlib import Path

from .full import say_disk_full

# Seconds after which a part that nobody finished is nobody's any more.
ABANDONED = 24 * 3600.0


def partial_path(path: Path) -> Path:
    """A name beside ``path`` that nobody else writes to; it keeps the suffix, by which libraries choose
    formats."""
    return path.with_name(f".{path.stem[:80]}.{secrets.token_hex(6)}.part{path.suffix}")


def whole_file(path: Path, write: Callable[[Path], None]) -> None:
    """Let ``write`` make a file that gets its name only when it is complete; DiskFull where there is no room
    for it."""
    partial = partial_path(path)
    try:
        with say_disk_full(path.parent):
            write(partial)
            os.replace(partial, path)
    finally:
        partial.unlink(missing_ok=True)


def write_whole(path: Path, data: bytes) -> None:
    """Write bytes as a file that is there whole or not at all, its folder too; DiskFull where there is no
    room for it."""
    with say_disk_full(path.parent.parent):
        path.parent.mkdir(parents=True, exist_ok=True)
    whole_file(path, lambda partial: _write(partial, data))


def _write(path: Path, data: bytes) -> None:
    path.write_bytes(data)


def remove_partial(folder: Path) -> int:
    """Remove parts that writers left behind when they were killed; how many there were."""
    removed = 0
    for part in folder.rglob(".*.part*"):
        try:
            if time.time() - part.stat().st_mtime > ABANDONED:
                part.unlink()
                removed += 1
        except OSError:
            continue
    return removed
