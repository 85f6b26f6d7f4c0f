"""Operations of a JSON Patch (RFC 6902)."""

from __future__ import annotations

from typing import Any


def replaced(path: str, value: Any) -> dict[str, Any]:
    """The operation that puts a value at an address.

    >>> replaced("/name", "Ebb")
    {'op': 'replace', 'path': '/name', 'value': 'Ebb'}
    """
    return {"op": "replace", "path": path, "value": value}
