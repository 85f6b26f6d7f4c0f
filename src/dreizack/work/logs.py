"""Logs as JSON lines, one file a process, in the data folder; what is wrong is shown on the terminal too."""

from __future__ import annotations

import json
import logging
import logging.handlers
import threading
from datetime import UTC, datetime
from pathlib import Path

LOGS = "logs"
MOST_BYTES, FILES = 2_000_000, 4
# What a line may say it is about.
SUBJECTS = ("shot", "delivery", "request", "fault")


class JsonLines(logging.Formatter):
    """One JSON object a line: time (UTC), level, process, logger, message, subjects, traceback."""

    def __init__(self, process: str) -> None:
        super().__init__()
        self.process = process

    def format(self, record: logging.LogRecord) -> str:
        line = {
            "at": datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds"),
            "level": record.levelname.lower(),
            "process": self.process,
            "pid": record.process,
            "logger": record.name,
            "message": record.getMessage(),
        }
        line |= {name: str(value) for name in SUBJECTS if (value := getattr(record, name, None)) is not None}
        if record.exc_info:
            line["traceback"] = self.formatException(record.exc_info)
        return json.dumps(line, ensure_ascii=False)


def log_to(data: Path, process: str) -> None:
    """Send this process's log to its file, and warnings to the terminal; faults of threads are logged too."""
    folder = data / LOGS
    root = logging.getLogger()
    root.setLevel(logging.INFO)
    shown = logging.StreamHandler()
    shown.setLevel(logging.WARNING)
    shown.setFormatter(logging.Formatter(f"%(asctime)s {process}: %(message)s", "%H:%M:%S"))
    root.addHandler(shown)
    try:
        folder.mkdir(parents=True, exist_ok=True)
        # Without room on the disk the work goes on all the same.
        logging.raiseExceptions = False
        kept = logging.handlers.RotatingFileHandler(
            folder / f"{process}.log", maxBytes=MOST_BYTES, backupCount=FILES - 1, encoding="utf-8"
        )
    except OSError as why:
        root.warning("no log can be written: %s", why)
        return
    kept.setFormatter(JsonLines(process))
    root.addHandler(kept)
    for chatty in ("httpx", "asyncio", "procrastinate", "multipart", "uvicorn.access"):
        logging.getLogger(chatty).setLevel(logging.WARNING)
    threading.excepthook = lambda args: logging.getLogger("thread").error(
        "a thread ended with a fault",
        exc_info=(args.exc_type, args.exc_value or args.exc_type(), args.exc_traceback),
    )
