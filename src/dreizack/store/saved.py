"""Finishes and looks that were saved, and bringing the shots that use them up to date."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Literal, TypeVar

from psycopg import Connection
from pydantic import BaseModel

from ..core.document import Ease, Finish, Look, Shot, Surface, refinished, replaced, restyled
from ..core.document.edits import Patch
from ..core.document.stored import stored_finish, stored_look, stored_shot
from ..core.document.versions import schema_version
from ..core.motions import KeptMotion
from .connection import Row, Store
from .shots import NotThere, change_shot

T = TypeVar("T")
Kind = Literal["finish", "look", "motion", "ease", "whole"]
NAMES: dict[Kind, str] = {"motion": "movement", "whole": "look of a shot"}


def _all(store: Store, kind: Kind, read: Callable[[str, int], T]) -> dict[str, T]:
    rows = store.rows("kept_list", kind=kind)
    return {row["name"]: read(row["content"], row["schema"]) for row in rows}


def _one(store: Store, kind: Kind, name: str, read: Callable[[str, int], T]) -> T:
    row = None if "\x00" in name else store.row("kept_read", kind=kind, name=name)
    if row is None:
        raise _not_there(kind)
    return read(row["content"], row["schema"])


def _write(store: Store, kind: Kind, name: str, content: BaseModel) -> None:
    store.rows("kept_write", kind=kind, name=name, content=content.model_dump_json(), schema=schema_version())


def _not_there(kind: Kind) -> NotThere:
    return NotThere(f"no {NAMES.get(kind, kind)} of this name was saved")


def _motion(text: str, _: int) -> KeptMotion:
    return KeptMotion.model_validate_json(text)


def _ease(text: str, _: int) -> Ease:
    return Ease.model_validate_json(text)


def saved_finishes(store: Store) -> dict[str, Finish]:
    """All finishes by name."""
    return _all(store, "finish", stored_finish)


def saved_looks(store: Store) -> dict[str, Look]:
    """All looks by name."""
    return _all(store, "look", stored_look)


def read_look(store: Store, name: str) -> Look:
    """One look; NotThere where none of this name was saved."""
    return _one(store, "look", name, stored_look)


def saved_motions(store: Store) -> dict[str, KeptMotion]:
    """All movements by name."""
    return _all(store, "motion", _motion)


def read_motion(store: Store, name: str) -> KeptMotion:
    """One movement; NotThere where none of this name was saved."""
    return _one(store, "motion", name, _motion)


def save_motion(store: Store, name: str, motion: KeptMotion) -> None:
    """Save a movement; one of the same name is replaced."""
    _write(store, "motion", name, motion)


def saved_eases(store: Store) -> dict[str, Ease]:
    """All eases by name."""
    return _all(store, "ease", _ease)


def save_ease(store: Store, name: str, ease: Ease) -> None:
    """Save an ease; one of the same name is replaced."""
    _write(store, "ease", name, ease)


def saved_whole_looks(store: Store) -> dict[str, Shot]:
    """All looks of whole shots by name, as shots without words."""
    return _all(store, "whole", stored_shot)


def read_whole_look(store: Store, name: str) -> Shot:
    """One look of a whole shot; NotThere where none of this name was saved."""
    return _one(store, "whole", name, stored_shot)


def save_whole_look(store: Store, name: str, look: Shot) -> None:
    """Save the look of a whole shot; one of the same name is replaced."""
    _write(store, "whole", name, look)


def save_finish(store: Store, name: str, finish: Surface) -> int:
    """Save a finish and bring every surface that follows it up to date; how many shots changed."""
    _write(store, "finish", name, finish)
    return _everywhere(store, "named", name, lambda shot: refinished(shot, name, finish))


def save_look(store: Store, name: str, look: Look) -> int:
    """Save a look and bring every title that wears it up to date; how many shots changed."""
    _write(store, "look", name, look)
    return _everywhere(store, "look", name, lambda shot: restyled(shot, name, look))


def add_look(store: Store, name: str, look: Look, on: Connection[Row] | None = None) -> bool:
    """Save a look unless there is one of this name; whether it was."""
    content, schema = look.model_dump_json(), schema_version()
    found = store.row("kept_add", on=on, kind="look", name=name, content=content, schema=schema)
    return found is not None


def replace_source(store: Store, old: str, new: str) -> int:
    """Use another file wherever one is used; how many shots changed."""
    text = json.dumps(old, ensure_ascii=False)
    return sum(
        change_shot(store, row["id"], lambda shot: replaced(shot, old, new))
        for row in store.rows("shots_with", text=text)
    )


def forget(store: Store, kind: Kind, name: str) -> None:
    """Forget a finish or look; what wears it stays as it is."""
    if "\x00" in name or store.row("kept_delete", kind=kind, name=name) is None:
        raise _not_there(kind)


def _everywhere(store: Store, field: str, name: str, change: Callable[[Shot], Patch]) -> int:
    text = f'"{field}":{json.dumps(name, ensure_ascii=False)}'
    return sum(change_shot(store, row["id"], change) for row in store.rows("shots_with", text=text))
