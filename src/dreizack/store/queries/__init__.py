"""Named SQL: ``-- name: comment`` opens a query, the next such line closes it."""

import re
from pathlib import Path


def _load() -> dict[str, str]:
    found: dict[str, str] = {}
    for file in sorted(Path(__file__).parent.glob("*.sql")):
        parts = re.split(r"^-- (\w+): .*\n", file.read_text(encoding="utf-8"), flags=re.MULTILINE)
        for name, text in zip(parts[1::2], parts[2::2], strict=True):
            if name in found:
                raise ValueError(f"two queries are called {name}")
            found[name] = text.strip().rstrip(";")
    return found


QUERIES = _load()
