"""One application on one data folder."""

from __future__ import annotations

import fcntl
import time
from pathlib import Path
from types import TracebackType

# Seconds for what an earlier, killed application left running to go.
PATIENCE = 6.0


class AlreadyRunning(RuntimeError):
    """Another application works on this data."""


class DataLock:
    """Held by whatever works on the data: server and worker inherit it, and keep it should their supervisor
    be killed (flock(2))."""

    def __init__(self, data: Path) -> None:
        self.file = (data / "lock").open("w")

    def fileno(self) -> int:
        return self.file.fileno()

    def __enter__(self) -> DataLock:
        end = time.monotonic() + PATIENCE
        while True:
            try:
                fcntl.flock(self.file, fcntl.LOCK_EX | fcntl.LOCK_NB)
                return self
            except OSError:
                if time.monotonic() > end:
                    raise AlreadyRunning(
                        "Dreizack is already running on this data; stop it first or set DREIZACK_DATA"
                    ) from None
                time.sleep(0.1)

    def __exit__(
        self, kind: type[BaseException] | None, why: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.file.close()
