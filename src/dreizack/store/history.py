"""Documents that are changed edit by edit, and go back: the same for shots and for sequences."""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Generic, TypeVar
from uuid import UUID

from psycopg import Connection
from pydantic import BaseModel

from ..core.document.edits import Patch
from .connection import Row, Store

D = TypeVar("D", bound=BaseModel)


class NotThere(LookupError):
    """Nothing of this kind has this id (any more)."""


class Conflict(Exception):
    """An edit was made against an old revision; ``since`` lists what changed in between."""

    def __init__(self, what: str, revision: int, since: list[Row]) -> None:
        super().__init__(f"the {what} is at revision {revision} by now")
        self.what, self.revision, self.since = what, revision, since


@dataclass(frozen=True)
class History(Generic[D]):
    """Documents called ``what`` in names of queries and in words; ``read`` makes one of what is stored and
    its schema version, ``patch`` makes a patch of that version what it is today, ``apply`` answers a document
    after a patch and the patch that takes it back, ``schema`` is the version of today; ``complete`` adds to a
    wished patch what follows from it."""

    what: str
    read: Callable[[str, int], D]
    patch: Callable[[Any, int], Patch]
    apply: Callable[[D, Patch], tuple[D, Patch]]
    schema: Callable[[], int]
    complete: Callable[[D, Patch], Patch] = lambda _, patch: patch

    def edited(self, store: Store, id: UUID, base: int, patch: Patch, gesture: str | None) -> tuple[int, D]:
        """Apply an edit to revision ``base``; the new revision and the document. Conflict where it has moved
        on."""
        with store.together() as on:
            now = self._locked(store, on, id)
            if now["revision"] != base:
                since = store.rows(f"{self.what}_edits_since", on=on, id=id, revision=base)
                changed = [
                    {
                        "revision": row["revision"],
                        "kind": row["kind"],
                        "patch": self.patch(row["patch"], row["schema"]),
                    }
                    for row in since
                ]
                raise Conflict(self.what, now["revision"], changed)
            before = self.read(now["document"], now["schema"])
            patch = self.complete(before, patch)
            after, inverse = self.apply(before, patch)
            store.rows(f"{self.what}_edits_spend", on=on, id=id)
            revision = self._write(store, on, id, base + 1, "edit", after, patch, inverse, "applied", gesture)
            return revision, after

    def change(self, store: Store, id: UUID, change: Callable[[D], Patch]) -> bool:
        """Apply whatever edit ``change`` makes of a document as it is now; false where there is nothing to
        change."""
        with store.together() as on:
            now = self._locked(store, on, id)
            before = self.read(now["document"], now["schema"])
            patch = change(before)
            if not patch:
                return False
            after, inverse = self.apply(before, patch)
            store.rows(f"{self.what}_edits_spend", on=on, id=id)
            self._write(store, on, id, now["revision"] + 1, "edit", after, patch, inverse, "applied", None)
            return True

    def undo(self, store: Store, id: UUID) -> int | None:
        """Take the latest gesture back; the new revision, or None where there is nothing to undo."""
        return self._travel(store, id, "to_undo", "inverse", "undone", "undo")

    def redo(self, store: Store, id: UUID) -> int | None:
        """Bring the latest undone gesture back."""
        return self._travel(store, id, "to_redo", "patch", "applied", "redo")

    def _travel(self, store: Store, id: UUID, query: str, column: str, state: str, kind: str) -> int | None:
        with store.together() as on:
            now = self._locked(store, on, id)
            steps = store.rows(f"{self.what}_edits_{query}", on=on, id=id)
            if not steps:
                return None
            patch = [operation for step in steps for operation in self.patch(step[column], step["schema"])]
            before = self.read(now["document"], now["schema"])
            after, inverse = self.apply(before, patch) if patch else (before, [])
            revisions = [step["revision"] for step in steps]
            store.rows(f"{self.what}_edits_mark", on=on, id=id, state=state, revisions=revisions)
            return self._write(store, on, id, now["revision"] + 1, kind, after, patch, inverse, "spent", None)

    def _locked(self, store: Store, on: Connection[Row], id: UUID) -> Row:
        row = store.row(f"{self.what}_lock", on=on, id=id)
        if row is None:
            raise NotThere(f"this {self.what} does not exist; it may have been deleted")
        return row

    def _write(
        self,
        store: Store,
        on: Connection[Row],
        id: UUID,
        revision: int,
        kind: str,
        after: D,
        patch: Patch,
        inverse: Patch,
        state: str,
        gesture: str | None,
    ) -> int:
        store.rows(
            f"{self.what}_write",
            on=on,
            id=id,
            revision=revision,
            document=after.model_dump_json(),
            schema=self.schema(),
        )
        store.rows(
            f"{self.what}_edit_write",
            on=on,
            id=id,
            revision=revision,
            kind=kind,
            gesture=gesture,
            patch=json.dumps(patch),
            inverse=json.dumps(inverse),
            state=state,
            schema=self.schema(),
        )
        store.tell(self.what, on=on, id=str(id), revision=revision)
        return revision


def one(row: Row | None, what: str) -> dict[str, Any]:
    """A row that must be there."""
    if row is None:
        raise NotThere(f"this {what} does not exist; it may have been deleted")
    return row
