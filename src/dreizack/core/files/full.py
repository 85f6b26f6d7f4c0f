"""A disk without room, whatever a library makes of it."""

from __future__ import annotations

import errno
import shutil
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

# Less than this is as good as nothing.
LEAST = 256 * 1024


class DiskFull(OSError):
    """There is no room on the disk; the text says what to do."""

    def __init__(self) -> None:
        super().__init__(errno.ENOSPC, "the disk is full; free some space and try again")

    def __str__(self) -> str:
        return str(self.strerror)


def disk_is_full(why: BaseException, folder: Path) -> bool:
    """Whether a fault comes from a disk (or quota) without room: some libraries raise other errors then."""
    number = getattr(why, "errno", None)
    if number in (errno.ENOSPC, errno.EDQUOT):
        return True
    if isinstance(why, OSError) and number is not None and number != errno.EIO:
        return False
    try:
        return shutil.disk_usage(folder).free < LEAST
    except OSError:
        return False


@contextmanager
def say_disk_full(folder: Path) -> Iterator[None]:
    """Turn whatever is raised within into :class:`DiskFull` where the disk of a folder is full."""
    try:
        yield
    except DiskFull:
        raise
    except Exception as why:
        if disk_is_full(why, folder):
            raise DiskFull from why
        raise
