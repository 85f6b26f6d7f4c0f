"""Sequences: reading, changing, going back; and the shots they need."""

from __future__ import annotations

import json
from contextlib import nullcontext
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from psycopg import Connection

from ..core.document.edits import Patch
from ..core.document.stored import stored_shot
from ..core.sequence import (
    Bundle,
    Sequence,
    SequenceFileError,
    apply_sequence_edit,
    flattened,
    read_sequence,
)
from .connection import Row, Store
from .history import History, NotThere

# Documents of sequences have one version so far.
SCHEMA = 1


def _read(text: str, schema: int) -> Sequence:
    return read_sequence(json.loads(text))


def _patch(patch: Any, schema: int) -> Patch:
    made: Patch = patch
    return made


SEQUENCES = History[Sequence]("sequence", _read, _patch, apply_sequence_edit, lambda: SCHEMA)


@dataclass(frozen=True)
class SequenceRow:
    """A sequence in the store."""

    id: UUID
    production: UUID
    production_name: str
    revision: int
    sequence: Sequence
    can_undo: bool
    can_redo: bool


def load_sequence(store: Store, sequence: UUID) -> SequenceRow:
    row = store.row("sequence_read", id=sequence)
    if row is None:
        raise NotThere("this sequence does not exist; it may have been deleted")
    return SequenceRow(
        row["id"],
        row["production"],
        row["production_name"],
        row["revision"],
        _read(row["document"], row["schema"]),
        row["can_undo"],
        row["can_redo"],
    )


def create_sequence(
    store: Store, production: UUID, sequence: Sequence, on: Connection[Row] | None = None
) -> UUID:
    """Add a sequence to a production; within the transaction ``on`` where there is one."""
    with store.together() if on is None else nullcontext(on) as on:
        if store.row("production_read", on=on, id=production) is None:
            raise NotThere("this production does not exist; it may have been deleted")
        row = store.row(
            "sequence_create",
            on=on,
            production=production,
            document=sequence.model_dump_json(),
            schema=SCHEMA,
        )
        assert row is not None
        store.tell("production", on=on, id=str(production))
    made: UUID = row["id"]
    return made


def bundle_of(store: Store, row: SequenceRow) -> Bundle:
    """A sequence with the shots it names that are still there, as they are now; sequences within it are laid
    out with it. NotThere where one of those is gone, or holds itself."""
    sequence = row.sequence
    if sequence.sequences:
        try:
            sequence = flattened(sequence, _within(store, row), (str(row.id),))
        except SequenceFileError as why:
            raise NotThere(str(why)) from None
    wanted = [name for name in sequence.shots if _is_id(name)]
    found = store.rows("sequence_shots", shots=wanted, production=row.production)
    return Bundle(
        sequence, {str(shot["id"]): stored_shot(shot["document"], shot["schema"]) for shot in found}
    )


def _within(store: Store, row: SequenceRow) -> dict[str, Sequence]:
    """The sequences within one, and within those, of the same production, by their names."""
    found: dict[str, Sequence] = {}
    asked = list(row.sequence.sequences)
    while asked:
        name = asked.pop()
        there = store.row("sequence_read", id=UUID(name)) if name not in found and _is_id(name) else None
        if there is not None and there["production"] == row.production:
            found[name] = _read(there["document"], there["schema"])
            asked += found[name].sequences
    return found


def _is_id(name: str) -> bool:
    try:
        UUID(name)
    except ValueError:
        return False
    return True
