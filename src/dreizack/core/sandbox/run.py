"""Run a reader in a process of its own."""

from __future__ import annotations

import logging
import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import IO

from ..files import DiskFull, say_disk_full
from ..files.whole import partial_path
from .share import read_share

REFUSED, OUT_OF_MEMORY, DISK_FULL, FAULTY = 3, 4, 5, 6
# Seconds between looks at how far a reader is.
LOOKS = 0.25
Told = Callable[[float], None]
LOG = logging.getLogger(__name__)


class FileRefused(ValueError):
    """A file that could not be read; the text says why and what to do."""


class Unreadable(ValueError):
    """Raised by readers, in their process, with a sentence for whoever brought the file."""


def sandboxed(
    reader: str,
    source: bytes | Path,
    *,
    what: str,
    seconds: float = 20,
    megabytes: int = 1500,
    most: int = 200_000_000,
    **words: str,
) -> bytes:
    """What ``reader`` ("package.module:function") makes of a file, at most ``most`` bytes.

    The function takes the file's bytes (or, where its parameter is called ``path``, a path) and the words,
    and returns bytes; its :class:`Unreadable` comes back as :class:`FileRefused`, as do limits of time,
    memory and size. Whatever else it raises is a damaged file: told in our words, and written to the log.
    ``what`` names the kind of file. DiskFull where there is no room for what comes out.
    """
    with tempfile.TemporaryFile() as out:
        _run(reader, source, out, what, seconds, megabytes, most, words)
        out.seek(0)
        return out.read()


def sandboxed_file(
    reader: str,
    source: bytes | Path,
    folder: Path,
    *,
    what: str,
    seconds: float = 20,
    megabytes: int = 1500,
    most: int = 200_000_000,
    told: Told | None = None,
    **words: str,
) -> Path:
    """As :func:`sandboxed`; what comes out lies in a new file of a folder, and never in this process's
    memory. ``told`` hears which share of the file is read, where its reader tells (:func:`tell_share`)."""
    folder.mkdir(parents=True, exist_ok=True)
    made = partial_path(folder / "made")
    try:
        with say_disk_full(folder), made.open("wb") as out:
            _run(reader, source, out, what, seconds, megabytes, most, words, told)
    except BaseException:
        made.unlink(missing_ok=True)
        raise
    return made


def _run(
    reader: str,
    source: bytes | Path,
    out: IO[bytes],
    what: str,
    seconds: float,
    megabytes: int,
    most: int,
    words: dict[str, str],
    told: Told | None = None,
) -> None:
    command = [
        sys.executable,
        "-m",
        "dreizack.core.sandbox.child",
        reader,
        str(megabytes),
        str(int(seconds) + 1),
        *(f"{k}={v}" for k, v in words.items()),
    ]
    environment = {
        **os.environ,
        "PYTHONPATH": str(Path(__file__).parents[3]),
        "OMP_NUM_THREADS": "1",
        "OPENBLAS_NUM_THREADS": "1",
    }
    # The reader's own temporary files go with it, also when it is ended from outside.
    with (
        say_disk_full(Path(tempfile.gettempdir())),
        tempfile.TemporaryDirectory() as scratch,
        tempfile.TemporaryFile() as fault,
    ):
        with tempfile.TemporaryFile() if isinstance(source, bytes) else source.open("rb") as file:
            if isinstance(source, bytes):
                file.write(source)
                file.seek(0)
            with subprocess.Popen(
                command, stdin=file, stdout=out, stderr=fault, env=environment | {"TMPDIR": scratch}
            ) as process:
                code = _ended(process, seconds, scratch, told)
            if code is None:
                raise FileRefused(
                    f"reading the {what} took longer than {seconds:.0f} seconds; simplify it or save it anew"
                )
        fault.seek(0)
        said = fault.read(20_000).decode(errors="replace").strip()
    _judge(code, said, what, megabytes)
    if os.fstat(out.fileno()).st_size > most:
        raise FileRefused(f"the {what} holds more than {most // 1_000_000} MB; simplify it")


def _ended(process: subprocess.Popen[bytes], seconds: float, scratch: str, told: Told | None) -> int | None:
    """The exit status of a reader; None where it took too long, and was ended."""
    until = time.monotonic() + seconds
    try:
        while True:
            left = until - time.monotonic()
            try:
                return process.wait(min(left, LOOKS) if told is not None else left)
            except subprocess.TimeoutExpired:
                if time.monotonic() >= until:
                    return None
            share = read_share(scratch)
            if told is not None and share is not None:
                told(share)
    finally:
        if process.poll() is None:
            process.kill()


def _judge(code: int, said: str, what: str, megabytes: int) -> None:
    """Raise what the exit status of a reader stands for; nothing where it is 0."""
    if code == REFUSED:
        raise FileRefused(said or f"the {what} cannot be read")
    if code == DISK_FULL:
        raise DiskFull
    if code == OUT_OF_MEMORY:
        raise FileRefused(
            f"the {what} needs more than {megabytes} MB of memory to read; simplify it or save it anew"
        )
    if code:
        LOG.warning("the reader of a %s ended with %d: %s", what, code, said)
        raise FileRefused(f"the {what} is damaged, or of a kind that is not read; save it anew")
