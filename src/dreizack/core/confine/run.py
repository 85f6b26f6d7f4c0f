"""Run a reader in a confined process."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from pathlib import Path

REFUSED, OUT_OF_MEMORY = 3, 4


class Confined(ValueError):
    """A file that could not be read; the text says why and what to do."""


def confined(reader: str, data: bytes, *, what: str, seconds: float = 20, megabytes: int = 1500, most: int = 200_000_000, **words: str) -> bytes:
    """What ``reader`` ("package.module:function") makes of ``data``, at most ``most`` bytes.

    The function takes the bytes and the words and returns bytes; its ValueErrors come back as
    :class:`Confined`. ``what`` names the kind of file in sentences.
    """
    command = [sys.executable, "-m", "dreizack.core.confine.child", reader, str(megabytes), str(int(seconds) + 1), *(f"{k}={v}" for k, v in words.items())]
    environment = {**os.environ, "PYTHONPATH": str(Path(__file__).parents[3]), "OMP_NUM_THREADS": "1", "OPENBLAS_NUM_THREADS": "1"}
    with tempfile.TemporaryFile() as out, tempfile.TemporaryFile() as fault:
        try:
            done = subprocess.run(command, input=data, stdout=out, stderr=fault, timeout=seconds, env=environment, check=False)
        except subprocess.TimeoutExpired:
            raise Confined(f"reading the {what} took longer than {seconds:.0f} seconds; simplify it or save it anew") from None
        fault.seek(0)
        said = fault.read(20_000).decode(errors="replace").strip()
        if done.returncode == REFUSED:
            raise Confined(said or f"the {what} cannot be read")
        if done.returncode == OUT_OF_MEMORY:
            raise Confined(f"the {what} needs more than {megabytes} MB of memory to read; simplify it or save it anew")
        if done.returncode:
            raise Confined(f"the {what} is damaged: its reader stopped with it; save it anew")
        if out.tell() > most or os.fstat(out.fileno()).st_size > most:
            raise Confined(f"the {what} holds more than {most // 1_000_000} MB; simplify it")
        out.seek(0)
        return out.read()
