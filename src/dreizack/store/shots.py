"""Productions and shots: reading, changing, going back."""

from __future__ import annotations

import json
from collections.abc import Callable
from contextlib import nullcontext
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from psycopg import Connection

from ..core.document import Shot, apply_edit
from ..core.document.edits import Patch
from ..core.document.stored import stored_shot
from ..core.document.versions import current_patch, schema_version
from .connection import Row, Store


class NotThere(LookupError):
    """Nothing of this kind has this id (any more)."""


class Conflict(Exception):
    """An edit was made against an old revision; ``since`` lists what changed in between."""

    def __init__(self, revision: int, since: list[Row]) -> None:
        super().__init__(f"the shot is at revision {revision} by now")
        self.revision, self.since = revision, since


@dataclass(frozen=True)
class ShotRow:
    """A shot in the store."""

    id: UUID
    production: UUID
    production_name: str
    revision: int
    shot: Shot
    can_undo: bool
    can_redo: bool


def read_shot(store: Store, shot: UUID) -> ShotRow:
    row = store.row("shot_read", id=shot)
    if row is None:
        raise NotThere("this shot does not exist; it may have been deleted")
    return ShotRow(
        row["id"],
        row["production"],
        row["production_name"],
        row["revision"],
        stored_shot(row["document"], row["schema"]),
        row["can_undo"],
        row["can_redo"],
    )


def create_shot(store: Store, production: UUID, shot: Shot, on: Connection[Row] | None = None) -> UUID:
    """Add a shot to a production; within the transaction ``on`` where there is one."""
    with store.together() if on is None else nullcontext(on) as on:
        if store.row("production_read", on=on, id=production) is None:
            raise NotThere("this production does not exist; it may have been deleted")
        row = store.row(
            "shot_create",
            on=on,
            production=production,
            document=shot.model_dump_json(),
            schema=schema_version(),
        )
        assert row is not None
        store.tell("production", on=on, id=str(production))
    made: UUID = row["id"]
    return made


def edit_shot(store: Store, shot: UUID, base: int, patch: Patch, gesture: str | None) -> int:
    """As :func:`edited_shot`; answers the new revision alone."""
    return edited_shot(store, shot, base, patch, gesture)[0]


def edited_shot(store: Store, shot: UUID, base: int, patch: Patch, gesture: str | None) -> tuple[int, Shot]:
    """Apply an edit to revision ``base``; the new revision and the shot. Conflict where it has moved on."""
    with store.together() as on:
        now = _locked(store, on, shot)
        if now["revision"] != base:
            since = store.rows("edits_since", on=on, shot=shot, revision=base)
            raise Conflict(
                now["revision"],
                [
                    {
                        "revision": row["revision"],
                        "kind": row["kind"],
                        "patch": current_patch(row["patch"], row["schema"]),
                    }
                    for row in since
                ],
            )
        edit = apply_edit(stored_shot(now["document"], now["schema"]), patch)
        store.rows("edits_spend", on=on, shot=shot)
        return _store(
            store, on, shot, base + 1, "edit", edit.shot, patch, edit.inverse, "applied", gesture
        ), edit.shot


def change_shot(store: Store, shot: UUID, change: Callable[[Shot], Patch]) -> bool:
    """Apply whatever edit ``change`` makes of a shot as it is now; false where there is nothing to change."""
    with store.together() as on:
        now = _locked(store, on, shot)
        before = stored_shot(now["document"], now["schema"])
        patch = change(before)
        if not patch:
            return False
        edit = apply_edit(before, patch)
        store.rows("edits_spend", on=on, shot=shot)
        _store(store, on, shot, now["revision"] + 1, "edit", edit.shot, patch, edit.inverse, "applied", None)
        return True


def undo(store: Store, shot: UUID) -> int | None:
    """Take the latest gesture back; the new revision, or None where there is nothing to undo."""
    return _travel(store, shot, "edits_to_undo", "inverse", "undone", "undo")


def redo(store: Store, shot: UUID) -> int | None:
    """Bring the latest undone gesture back."""
    return _travel(store, shot, "edits_to_redo", "patch", "applied", "redo")


def _travel(store: Store, shot: UUID, query: str, column: str, state: str, kind: str) -> int | None:
    with store.together() as on:
        now = _locked(store, on, shot)
        steps = store.rows(query, on=on, shot=shot)
        if not steps:
            return None
        patch = [operation for step in steps for operation in current_patch(step[column], step["schema"])]
        before = stored_shot(now["document"], now["schema"])
        edit = apply_edit(before, patch) if patch else None
        store.rows(
            "edits_mark", on=on, shot=shot, state=state, revisions=[step["revision"] for step in steps]
        )
        after, inverse = (edit.shot, edit.inverse) if edit else (before, [])
        return _store(store, on, shot, now["revision"] + 1, kind, after, patch, inverse, "spent", None)


def _locked(store: Store, on: Connection[Row], shot: UUID) -> Row:
    row = store.row("shot_lock", on=on, id=shot)
    if row is None:
        raise NotThere("this shot does not exist; it may have been deleted")
    return row


def _store(
    store: Store,
    on: Connection[Row],
    shot: UUID,
    revision: int,
    kind: str,
    after: Shot,
    patch: Patch,
    inverse: Patch,
    state: str,
    gesture: str | None,
) -> int:
    store.rows(
        "shot_write",
        on=on,
        id=shot,
        revision=revision,
        document=after.model_dump_json(),
        schema=schema_version(),
    )
    store.rows(
        "edit_write",
        on=on,
        shot=shot,
        revision=revision,
        kind=kind,
        gesture=gesture,
        patch=json.dumps(patch),
        inverse=json.dumps(inverse),
        state=state,
        schema=schema_version(),
    )
    store.tell("shot", on=on, id=str(shot), revision=revision)
    return revision


def one(row: Row | None, what: str) -> dict[str, Any]:
    """A row that must be there."""
    if row is None:
        raise NotThere(f"this {what} does not exist; it may have been deleted")
    return row
