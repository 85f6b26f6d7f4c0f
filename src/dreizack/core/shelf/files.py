"""Files by name on shelves."""

from __future__ import annotations

import contextlib
import hashlib
import os
import re
from pathlib import Path

_shelves: list[Path] = []
NAME = re.compile(r"[a-z0-9][a-z0-9-]{0,79}(\.[a-z0-9]{1,8})?")


def shelve(folder: Path) -> None:
    """Look for brought files in this folder too."""
    if folder not in _shelves:
        _shelves.append(folder)


def shelves() -> list[Path]:
    """The folders, in the order they are looked through."""
    return list(_shelves)


def find(name: str) -> Path | None:
    """Where a file of this name lies; None for names that are no names and for what is nowhere."""
    if not NAME.fullmatch(name):
        return None
    return next((shelf / name for shelf in _shelves if (shelf / name).is_file()), None)


def keep(folder: Path, data: bytes, ending: str, stem: str = "") -> str:
    """Put a file on a shelf under a name that comes from its content; the name."""
    name = "-".join(filter(None, (stem, hashlib.blake2b(data, digest_size=10).hexdigest()))) + f".{ending}"
    put(folder / name, data)
    return name


def put(path: Path, data: bytes) -> None:
    """Write a file so that it is there whole or not at all."""
    path.parent.mkdir(parents=True, exist_ok=True)
    part = path.with_name(f".{path.name}.{os.getpid()}")
    try:
        part.write_bytes(data)
        os.replace(part, path)
    except OSError:
        with contextlib.suppress(OSError):
            part.unlink()
        raise
