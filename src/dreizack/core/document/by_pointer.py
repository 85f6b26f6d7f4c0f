"""What is kept by the pointer of a value: all that moves it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from .pointer import escaped

if TYPE_CHECKING:
    from .shot import Shot

Patch = list[dict[str, Any]]
# Parts of a shot that are kept by the pointer of a value.
BY_POINTER = ("channels", "changes", "drifts", "couplings")


def without_movers(shot: Shot, below: str) -> Patch:
    """The patch that removes keys, drift and couplings of all values below a pointer."""
    return [
        {"op": "remove", "path": f"/{part}/{escaped(pointer)}"}
        for part in BY_POINTER
        for pointer in getattr(shot, part)
        if pointer.startswith(below)
    ]
