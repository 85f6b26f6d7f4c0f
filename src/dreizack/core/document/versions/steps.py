"""The steps, in order: each makes documents of one schema version those of the next.

What is only added to the schema, with a default, needs no step. Whatever is renamed, moved or measured
otherwise does: one function for whole shots, and one for operations of patches that were stored before, by
which undo still works.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

Tree = dict[str, Any]
Operation = dict[str, Any]


def _the_same(operation: Operation) -> list[Operation]:
    return [operation]


@dataclass(frozen=True)
class Step:
    """``shot`` changes a whole shot (plain JSON data, its own to change); ``operation`` answers what stands
    for one of a patch."""

    tells: str
    shot: Callable[[Tree], Tree]
    operation: Callable[[Operation], list[Operation]] = _the_same


# Append only. The first version has none behind it.
STEPS: list[Step] = []


def schema_version() -> int:
    """The schema version of documents as they are written now; the first is 1."""
    return 1 + len(STEPS)
