"""Productions and shots: reading, changing, going back."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import nullcontext
from dataclasses import dataclass
from uuid import UUID

from psycopg import Connection

from ..core.document import Shot, apply_edit
from ..core.document.edits import Patch
from ..core.document.retyping import followed
from ..core.document.stored import stored_shot
from ..core.document.versions import current_patch, schema_version
from .connection import Row, Store
from .history import Conflict, History, NotThere, one

__all__ = [
    "Conflict",
    "NotThere",
    "ShotRow",
    "change_shot",
    "create_shot",
    "edit_shot",
    "edited_shot",
    "one",
    "read_shot",
    "redo",
    "undo",
]


def _applied(shot: Shot, patch: Patch) -> tuple[Shot, Patch]:
    edit = apply_edit(shot, patch)
    return edit.shot, edit.inverse


SHOTS = History[Shot]("shot", stored_shot, current_patch, _applied, schema_version, followed)


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
    return SHOTS.edited(store, shot, base, patch, gesture)


def change_shot(store: Store, shot: UUID, change: Callable[[Shot], Patch]) -> bool:
    """Apply whatever edit ``change`` makes of a shot as it is now; false where there is nothing to change."""
    return SHOTS.change(store, shot, change)


def undo(store: Store, shot: UUID) -> int | None:
    """Take the latest gesture back; the new revision, or None where there is nothing to undo."""
    return SHOTS.undo(store, shot)


def redo(store: Store, shot: UUID) -> int | None:
    """Bring the latest undone gesture back."""
    return SHOTS.redo(store, shot)
