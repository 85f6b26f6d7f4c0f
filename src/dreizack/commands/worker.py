"""``dreizack worker --join ADDRESS``: help another machine with its deliveries."""

from __future__ import annotations

import signal
import socket
import sys
from typing import Any

from ..core.library import shelve
from ..core.render import take_threads
from ..work.helping import Address, Machine, Refused
from ..work.rendering import behind_everything_else
from .places import data_folder


def worker(join: str, token: str, name: str, threads: int = 0) -> int:
    """Help until stopped (exit status 0), or until refused for good (1), with so many ``threads`` (0: one a
    core)."""
    told: list[int] = []

    def stop(number: int, _: Any) -> None:
        told.append(number)

    signal.signal(signal.SIGINT, stop)
    signal.signal(signal.SIGTERM, stop)
    library = data_folder() / "helping"
    try:
        library.mkdir(parents=True, exist_ok=True)
        shelve(library)
        behind_everything_else()
        if threads:
            take_threads(threads)
        machine = Machine(
            Address(join, token),
            name or socket.gethostname()[:80],
            library,
            lambda line: print(line, flush=True),
        )
        print(f"Helps {machine.address.base.removesuffix('/api/fleet')} as '{machine.name}'.", flush=True)
        machine.help(lambda: bool(told))
    except Refused as why:
        print(f"dreizack worker: {why}.", file=sys.stderr)
        return 1
    except OSError as why:
        print(f"dreizack worker: {why.filename or library}: {why.strerror or why}.", file=sys.stderr)
        return 1
    print(f"Stopped after {machine.done} pictures.")
    return 0
