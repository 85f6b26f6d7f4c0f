"""What brought files were called where they came from: a note beside each, which outlives it."""

from __future__ import annotations

from pathlib import Path

from ..files import write_whole
from .files import find

NOTE = ".called"


def call(folder: Path, file: str, name: str) -> None:
    """Note that a file on this shelf was called ``name``."""
    write_whole(folder / _note(file), name.encode("utf-8"))


def called(file: str) -> str:
    """What a file was called; empty where nobody said."""
    note = find(_note(file))
    return note.read_text("utf-8") if note else ""


def forget(folder: Path, file: str) -> None:
    """Take away what was noted of a file on this shelf."""
    (folder / _note(file)).unlink(missing_ok=True)


def _note(file: str) -> str:
    # Named like the file, so that it is used as long as that is.
    return f"{file.partition('.')[0]}{NOTE}"
