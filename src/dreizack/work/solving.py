"""Plates are solved in a process of their own, so that neither its memory nor its long calls harm the worker;
it can be ended at any moment."""

from __future__ import annotations

import asyncio
import logging
import multiprocessing
import os
import resource
import signal
import time
from collections.abc import Callable
from multiprocessing.connection import Connection
from pathlib import Path
from uuid import UUID

from ..core.clips import plate_facts, plate_greys
from ..core.files import DiskFull, say_disk_full
from ..core.library import keep, shelve
from ..core.match import NoSolve, left_out_masks, solve_bytes, solved
from ..store import Store
from .logs import log_to
from .orphans import die_with
from .rendering import behind_everything_else

MEMORY = 10 * 1024**3
# Seconds between two words of how far it is.
EVERY = 0.25
LOG = logging.getLogger(__name__)


class Solver:
    """Carries out wishes for solves, one at a time."""

    def __init__(self, store: Store, data: Path) -> None:
        self.store, self.data = store, data

    async def solve(self, wish: UUID, let_go: Callable[[], bool]) -> bool:
        """Solve one plate to its end; False when let go before."""
        row = await asyncio.to_thread(self.store.row, "solve_begin", id=wish)
        if row is None:
            return True
        self._tell(wish)
        context = multiprocessing.get_context("spawn")
        ours, theirs = context.Pipe()
        process = context.Process(
            target=_process,
            args=(theirs, os.getpid(), str(self.data), row["clip"], row["focal"], row["left_out"]),
            daemon=True,
            name="solving",
        )
        process.start()
        theirs.close()
        try:
            return await self._followed(wish, ours, let_go)
        finally:
            process.kill()
            await asyncio.to_thread(process.join, 5)

    async def _followed(self, wish: UUID, pipe: Connection, let_go: Callable[[], bool]) -> bool:
        while True:
            if let_go():
                return False
            try:
                if not await asyncio.to_thread(pipe.poll, EVERY):
                    state = await asyncio.to_thread(self.store.row, "solve_read", id=wish)
                    if state is None or state["state"] != "solving":
                        return True
                    continue
                said, *rest = pipe.recv()
            except (EOFError, OSError):
                why = "the solver was lost, most likely for want of memory; take a shorter piece"
                await asyncio.to_thread(self.store.rows, "solve_fail", id=wish, why=why, cuts=[])
                self._tell(wish)
                return True
            if said == "told":
                what, share = rest
                wanted = await asyncio.to_thread(
                    self.store.row, "solve_told", id=wish, what=what, share=share
                )
                self._tell(wish)
                if wanted is None:
                    return True
                continue
            query, values = (
                ("solve_complete", {"file": rest[0]})
                if said == "done"
                else ("solve_fail", {"why": rest[0], "cuts": rest[1]})
            )
            await asyncio.to_thread(self.store.rows, query, id=wish, **values)
            self._tell(wish)
            return True

    def _tell(self, wish: UUID) -> None:
        self.store.tell("solve", id=str(wish))


def _process(
    pipe: Connection, parent: int, data: str, clip: str, focal: float | None, left_out: bytes | None
) -> None:
    die_with(parent)
    log_to(Path(data), "solver")
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    behind_everything_else()
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    library = Path(data) / "library"
    shelve(library)
    last = [0.0]

    def told(what: str, share: float) -> None:
        now = time.monotonic()
        if now - last[0] >= EVERY:
            last[0] = now
            pipe.send(("told", what, share))

    try:
        facts = plate_facts(clip)
        if facts is None:
            raise NoSolve("the plate is gone from the library; bring it again")
        masks = left_out_masks(left_out) if left_out is not None else None
        found = solved(plate_greys(clip), focal, masks, told, facts.frames)
        told("writing it down", 1.0)
        with say_disk_full(library):
            pipe.send(("done", keep(library, solve_bytes(found), "solve", "solve")))
    except NoSolve as why:
        pipe.send(("failed", str(why), list(why.cuts)))
    except DiskFull as why:
        pipe.send(("failed", str(why), []))
    except MemoryError:
        pipe.send(("failed", "there is not enough memory for so long a plate; take a shorter piece", []))
    except Exception as why:
        LOG.exception("a plate could not be solved")
        pipe.send(("failed", f"it could not be solved: {type(why).__name__}; the log says more", []))
