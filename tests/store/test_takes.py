"""Takes in the real database: saved, gone back to, taken back by undo, forgotten."""

from __future__ import annotations

from uuid import UUID, uuid4

import pytest

from dreizack.core.document import Shot
from dreizack.store import NotThere, Store
from dreizack.store.shots import create_shot, edit_shot, read_shot, undo
from dreizack.store.takes import forget, listed, read, recall, save


@pytest.fixture
def kept(store: Store, shot: Shot) -> UUID:
    row = store.row("production_create", name="SLACK WATER")
    assert row is not None
    return create_shot(store, row["id"], shot)


def test_a_take_brings_the_shot_back_and_undo_takes_that_back(store: Store, kept: UUID) -> None:
    before = read_shot(store, kept).shot
    revision = save(store, kept, "warm key")
    edit_shot(
        store,
        kept,
        revision,
        [
            {"op": "replace", "path": "/camera/focal_length", "value": 90},
            {"op": "remove", "path": "/things/fill"},
        ],
        None,
    )
    changed = read_shot(store, kept).shot
    assert changed != before
    assert recall(store, kept, "warm key")
    assert read_shot(store, kept).shot == before
    assert not recall(store, kept, "warm key")
    undo(store, kept)
    assert read_shot(store, kept).shot == changed


def test_takes_of_one_name_replace_each_other_and_can_be_forgotten(store: Store, kept: UUID) -> None:
    save(store, kept, "a")
    edit_shot(
        store,
        kept,
        read_shot(store, kept).revision,
        [{"op": "replace", "path": "/camera/focal_length", "value": 90}],
        None,
    )
    save(store, kept, "b")
    save(store, kept, "a")
    assert {row["name"] for row in listed(store, kept)} == {"a", "b"}
    assert read(store, kept, "a").camera.focal_length == 90
    forget(store, kept, "a")
    for nothing in ("a", "c", "\x00"):
        with pytest.raises(NotThere):
            read(store, kept, nothing)
    with pytest.raises(NotThere):
        listed(store, uuid4())
