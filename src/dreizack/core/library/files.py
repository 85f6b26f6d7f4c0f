"""Files by name on shelves."""

from __future__ import annotations

import hashlib
import os
import re
from pathlib import Path

from ..files import write_whole

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


def adopt(folder: Path, made: Path, ending: str, stem: str = "") -> str:
    """Put a file that lies in a folder on that shelf, under a name that comes from its content; the name."""
    digest = hashlib.blake2b(digest_size=10)
    with made.open("rb") as file:
        while block := file.read(1 << 20):
            digest.update(block)
    name = "-".join(filter(None, (stem, digest.hexdigest()))) + f".{ending}"
    os.replace(made, folder / name)
    return name


def keep(folder: Path, data: bytes, ending: str, stem: str = "") -> str:
    """Put a file on a shelf under a name that comes from its content; the name."""
    name = "-".join(filter(None, (stem, hashlib.blake2b(data, digest_size=10).hexdigest()))) + f".{ending}"
    if not (folder / name).exists():
        write_whole(folder / name, data)
    return name
