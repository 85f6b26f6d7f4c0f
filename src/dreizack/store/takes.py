"""Takes: named states of a shot."""

from __future__ import annotations

from typing import Any
from uuid import UUID

import jsonpatch
from psycopg import Connection

from ..core.document import Shot
from ..core.document.edits import Patch
from ..core.document.stored import stored_shot
from ..core.document.versions import schema_version
from .connection import Row, Store
from .shots import NotThere, change_shot, read_shot

# Operations above which whole sections are shorter.
MANY = 500


def listed(store: Store, shot: UUID) -> list[Row]:
    """Name, revision and time of every take, the latest first."""
    read_shot(store, shot)
    return store.rows("takes_list", shot=shot)


def save(store: Store, shot: UUID, name: str) -> int:
    """Save the shot as it is now under a name; its revision."""
    row = read_shot(store, shot)
    write(store, shot, name, row.shot, row.revision)
    return row.revision


def write(
    store: Store, shot: UUID, name: str, taken: Shot, revision: int, on: Connection[Row] | None = None
) -> None:
    """Write a take of a shot; one of the same name is replaced."""
    document, schema = taken.model_dump_json(), schema_version()
    store.rows("take_write", on=on, shot=shot, name=name, document=document, revision=revision, schema=schema)


def all_of(store: Store, shot: UUID) -> dict[str, Shot]:
    """All takes of a shot by name, the oldest first."""
    rows = store.rows("takes_whole", shot=shot)
    return {row["name"]: stored_shot(row["document"], row["schema"]) for row in rows}


def read(store: Store, shot: UUID, name: str) -> Shot:
    """The shot as it was in a take."""
    row = None if "\x00" in name else store.row("take_read", shot=shot, name=name)
    if row is None:
        raise NotThere("there is no take of this name; it may have been forgotten")
    return stored_shot(row["document"], row["schema"])


def recall(store: Store, shot: UUID, name: str) -> bool:
    """Make the shot what it was in a take, as an edit that can be undone; false where it is that already."""
    then = read(store, shot, name).model_dump(mode="json")

    def back(now: Shot) -> Patch:
        patch: list[dict[str, Any]] = jsonpatch.make_patch(now.model_dump(mode="json"), then).patch
        # Very different takes: section by section.
        return (
            patch
            if len(patch) <= MANY
            else [{"op": "replace", "path": f"/{key}", "value": value} for key, value in then.items()]
        )

    return change_shot(store, shot, back)


def forget(store: Store, shot: UUID, name: str) -> None:
    if "\x00" in name or store.row("take_delete", shot=shot, name=name) is None:
        raise NotThere("there is no take of this name; it may have been forgotten")
