"""Finishes and looks that were saved, and bringing the shots that use them up to date."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Literal

from ..core.document import Ease, Finish, Look, Shot, Surface, refinished, replaced, restyled
from ..core.document.edits import Patch
from ..core.document.stored import stored_finish, stored_look, stored_shot
from ..core.document.versions import schema_version
from ..core.motions import KeptMotion
from .connection import Store
from .shots import NotThere, change_shot

Kind = Literal["finish", "look", "motion", "ease", "whole"]
NAMES: dict[Kind, str] = {"motion": "movement", "whole": "look of a shot"}


def saved_finishes(store: Store) -> dict[str, Finish]:
    """All finishes by name."""
    return {
        row["name"]: stored_finish(row["content"], row["schema"])
        for row in store.rows("kept_list", kind="finish")
    }


def saved_looks(store: Store) -> dict[str, Look]:
    """All looks by name."""
    return {
        row["name"]: stored_look(row["content"], row["schema"])
        for row in store.rows("kept_list", kind="look")
    }


def read_look(store: Store, name: str) -> Look:
    """One look; NotThere where none of this name was saved."""
    row = None if "\x00" in name else store.row("kept_read", kind="look", name=name)
    if row is None:
        raise NotThere("no look of this name was saved")
    return stored_look(row["content"], row["schema"])


def saved_motions(store: Store) -> dict[str, KeptMotion]:
    """All movements by name."""
    return {
        row["name"]: KeptMotion.model_validate_json(row["content"])
        for row in store.rows("kept_list", kind="motion")
    }


def read_motion(store: Store, name: str) -> KeptMotion:
    """One movement; NotThere where none of this name was saved."""
    row = None if "\x00" in name else store.row("kept_read", kind="motion", name=name)
    if row is None:
        raise NotThere("no movement of this name was saved")
    return KeptMotion.model_validate_json(row["content"])


def save_motion(store: Store, name: str, motion: KeptMotion) -> None:
    """Save a movement; one of the same name is replaced."""
    store.rows(
        "kept_write", kind="motion", name=name, content=motion.model_dump_json(), schema=schema_version()
    )


def saved_eases(store: Store) -> dict[str, Ease]:
    """All eases by name."""
    return {
        row["name"]: Ease.model_validate_json(row["content"]) for row in store.rows("kept_list", kind="ease")
    }


def save_ease(store: Store, name: str, ease: Ease) -> None:
    """Save an ease; one of the same name is replaced."""
    store.rows("kept_write", kind="ease", name=name, content=ease.model_dump_json(), schema=schema_version())


def saved_whole_looks(store: Store) -> dict[str, Shot]:
    """All looks of whole shots by name, as shots without words."""
    return {
        row["name"]: stored_shot(row["content"], row["schema"])
        for row in store.rows("kept_list", kind="whole")
    }


def read_whole_look(store: Store, name: str) -> Shot:
    """One look of a whole shot; NotThere where none of this name was saved."""
    row = None if "\x00" in name else store.row("kept_read", kind="whole", name=name)
    if row is None:
        raise NotThere("no look of a shot of this name was saved")
    return stored_shot(row["content"], row["schema"])


def save_whole_look(store: Store, name: str, look: Shot) -> None:
    """Save the look of a whole shot; one of the same name is replaced."""
    store.rows("kept_write", kind="whole", name=name, content=look.model_dump_json(), schema=schema_version())


def save_finish(store: Store, name: str, finish: Surface) -> int:
    """Save a finish and bring every surface that follows it up to date; how many shots changed."""
    store.rows(
        "kept_write", kind="finish", name=name, content=finish.model_dump_json(), schema=schema_version()
    )
    return _everywhere(store, "named", name, lambda shot: refinished(shot, name, finish))


def save_look(store: Store, name: str, look: Look) -> int:
    """Save a look and bring every title that wears it up to date; how many shots changed."""
    store.rows("kept_write", kind="look", name=name, content=look.model_dump_json(), schema=schema_version())
    return _everywhere(store, "look", name, lambda shot: restyled(shot, name, look))


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
        raise NotThere(f"no {NAMES.get(kind, kind)} of this name was saved")


def _everywhere(store: Store, field: str, name: str, change: Callable[[Shot], Patch]) -> int:
    text = f'"{field}":{json.dumps(name, ensure_ascii=False)}'
    return sum(change_shot(store, row["id"], change) for row in store.rows("shots_with", text=text))
