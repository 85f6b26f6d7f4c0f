"""Where things lie."""

from __future__ import annotations

import os
from pathlib import Path

ROOT = Path(__file__).resolve().parents[3]


def data_folder() -> Path:
    """Everything Dreizack keeps: database, frames, deliveries; ``DREIZACK_DATA`` moves it."""
    return Path(os.environ.get("DREIZACK_DATA") or ROOT / ".dreizack" / "data").absolute()
