"""The files a shot uses, and putting another one in the place of one everywhere."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from .pointer import escaped
from .shot import Shot

Patch = list[dict[str, Any]]
# Fields that name a file of the library.
FIELDS = ("file", "picture", "video", "slide", "clip", "solve", "track")


def used_files(shot: Shot) -> set[str]:
    """Names of all files a shot uses."""
    changed = {
        str(key.value)
        for pointer, changes in shot.changes.items()
        if pointer.rpartition("/")[2] in FIELDS
        for key in changes.keys
    }
    return {value for _, value in _named(shot.model_dump(mode="json"), "")} | (changed - {""})


def replaced(shot: Shot, old: str, new: str) -> Patch:
    """The edit that uses another file wherever ``old`` is used; empty where it is not."""
    return [
        {"op": "replace", "path": at, "value": new}
        for at, value in _named(shot.model_dump(mode="json"), "")
        if value == old
    ]


def _named(tree: Any, at: str) -> Iterator[tuple[str, str]]:
    inside = tree.items() if isinstance(tree, dict) else enumerate(tree) if isinstance(tree, list) else ()
    for key, value in inside:
        place = f"{at}/{escaped(str(key))}"
        if key in FIELDS and isinstance(value, str) and value:
            yield place, value
        else:
            yield from _named(value, place)
