"""Calling off, in the middle of a kernel too."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import cache
from typing import Any

import numpy as np

from .engine import engine

# Seconds between two questions whether the work is wanted, while kernels run.
OFTEN = 0.01


class Stopped(Exception):
    """Nobody wants the picture any more."""


class Halt:
    """A word in memory that kernels read with every stretch of a path: as soon as it is not 0, all paths end.

    So a kernel may run for as long as it likes, and is called off at once for all that.
    """

    def __init__(self) -> None:
        self.flag: Any = engine().UInt32(np.zeros(16, np.uint32))
        # The same memory, not a copy: kernels run on the processor.
        self._word: Any = np.array(self.flag, copy=False)

    def set(self, halted: bool) -> None:
        self._word[:] = halted

    def check(self) -> None:
        """Raise Stopped where kernels were told to end: what they wrote is worth nothing."""
        if self._word[0]:
            raise Stopped


@cache
def halt() -> Halt:
    """The one of this process; kernels run one at a time."""
    return Halt()


@contextmanager
def heeding(stopped: Callable[[], bool] | None) -> Iterator[None]:
    """Ask ``stopped``, from a thread of its own, while kernels run; ends them, and raises Stopped, once it
    says so."""
    if stopped is None:
        yield
        return
    over = threading.Event()
    said: list[BaseException] = []

    def ask() -> None:
        while not over.wait(OFTEN):
            try:
                if not stopped():
                    continue
                said.append(Stopped())
            except BaseException as why:  # handed on to who waits for the kernels
                said.append(why)
            halt().set(True)
            return

    asking = threading.Thread(target=ask, name="heeding", daemon=True)
    asking.start()
    try:
        yield
    except Stopped:
        # What ended it may be another trouble.
        raise (said[0] if said else Stopped()) from None
    finally:
        over.set()
        asking.join()
        halt().set(False)
    if said:
        raise said[0]
