"""Processes that end with the one that started them, from their first moment on."""

from __future__ import annotations

import ctypes
import os
import signal
import sys

PR_SET_PDEATHSIG = 1
# Names, in the environment, the process to die with.
DIE_WITH = "DREIZACK_DIE_WITH"


def die_with(parent: int | None, how: int = signal.SIGKILL) -> None:
    """Get a signal when the process that started this one ends (prctl(2), PR_SET_PDEATHSIG); at once if it
    has ended."""
    ctypes.CDLL(None).prctl(PR_SET_PDEATHSIG, how)
    if parent is not None and os.getppid() != parent:
        sys.exit(0)


def die_with_supervisor() -> None:
    """As :func:`die_with`, an orderly end, where a supervisor started this process."""
    named = os.environ.pop(DIE_WITH, "")
    if named.isdigit():
        die_with(int(named), signal.SIGTERM)
