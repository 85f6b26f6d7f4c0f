"""How commands tell their progress, and refuse."""

from __future__ import annotations

import json
import sys
from collections.abc import Callable
from contextlib import contextmanager, nullcontext
from typing import Any

from tqdm import tqdm

from ..core.media import Progress


@contextmanager
def told_progress(how: str, name: str, total: int) -> Any:
    """Progress as a bar, or a line of JSON a frame: frame, done, total, seconds, kept."""
    bar = tqdm(total=total, unit="frame", desc=name, file=sys.stderr) if how == "bar" else nullcontext()

    def tell(progress: Progress, picture: Any) -> None:
        if how == "bar":
            bar.update(1)  # type: ignore[union-attr]
        elif how == "json":
            print(json.dumps(progress.__dict__), file=sys.stderr, flush=True)

    told: Callable[[Progress, Any], None] = tell
    with bar:
        yield told


def refuse(sentence: str) -> int:
    """Say why; the exit status."""
    print(f"dreizack: {sentence}", file=sys.stderr)
    return 1
