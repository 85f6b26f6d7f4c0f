"""Edits, undo and redo in the real database."""

from __future__ import annotations

import json
import threading
from typing import Any
from uuid import UUID, uuid4

import psycopg
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dreizack.core.document import EditRefused, NewerDocument, Shot
from dreizack.store import Conflict, NotThere, Store, migrate, open_store
from dreizack.store.migrate import MIGRATIONS
from dreizack.store.shots import create_shot, edit_shot, read_shot, redo, undo


def words(text: str) -> list[dict[str, Any]]:
    return [{"op": "replace", "path": "/things/title/words", "value": text}]


@pytest.fixture
def made(store: Store, shot: Shot) -> UUID:
    production = store.row("production_create", name="SLACK WATER")
    assert production is not None
    return create_shot(store, production["id"], shot)


def said(store: Store, shot: UUID) -> str:
    return read_shot(store, shot).shot.things["title"].words


def test_migrations_apply_once_in_order(address: str) -> None:
    assert migrate(address) == []
    with psycopg.connect(address, autocommit=True) as connection:
        connection.execute("DROP SCHEMA public CASCADE")
        connection.execute("CREATE SCHEMA public")
    assert migrate(address) == sorted(file.stem for file in MIGRATIONS.glob("*.sql"))


def test_a_shot_comes_back_as_it_was_with_its_things_in_order(store: Store, made: UUID, shot: Shot) -> None:
    row = read_shot(store, made)
    assert row.shot == shot and list(row.shot.things) == list(shot.things)
    assert (row.revision, row.can_undo, row.can_redo) == (0, False, False)


def test_edits_raise_the_revision_and_stale_ones_say_what_changed(store: Store, made: UUID) -> None:
    assert edit_shot(store, made, 0, words("FLOOD"), None) == 1
    with pytest.raises(Conflict) as conflict:
        edit_shot(store, made, 0, words("SLACK"), None)
    assert conflict.value.revision == 1
    assert [row["patch"] for row in conflict.value.since] == [words("FLOOD")]
    assert said(store, made) == "FLOOD"


def test_what_follows_from_words_is_undone_with_them_and_told_to_others(store: Store, made: UUID) -> None:
    (title,) = read_shot(store, made).shot.titles
    ranges = [{"start": 1, "end": 3}]
    edit_shot(store, made, 0, [{"op": "add", "path": f"/things/{title}/ranges", "value": ranges}], None)
    edit_shot(store, made, 1, [{"op": "replace", "path": f"/things/{title}/words", "value": "THE EBB"}], None)
    told = read_shot(store, made).shot.titles[title].ranges[0]
    assert (told.start, told.end) == (5, 7)
    (row,) = store.rows("shot_edits_since", id=made, revision=1)
    assert [operation["path"].rsplit("/", 1)[1] for operation in row["patch"]] == ["words", "ranges"]
    undo(store, made)
    told = read_shot(store, made).shot.titles[title].ranges[0]
    assert (told.start, told.end) == (1, 3)


def test_refused_edits_store_nothing(store: Store, made: UUID) -> None:
    with pytest.raises(EditRefused):
        edit_shot(store, made, 0, [{"op": "replace", "path": "/camera/roll", "value": "much"}], None)
    assert read_shot(store, made).revision == 0
    assert store.rows("shot_edits_since", id=made, revision=-1) == []


def test_a_long_gesture_is_undone_as_a_whole(store: Store, made: UUID) -> None:
    for revision in range(3):
        patch = [words("ABC"[revision])[0] for _ in range(400)]
        edit_shot(store, made, revision, patch, "drag-1")
    assert undo(store, made) == 4 and said(store, made) == "EBB"
    assert redo(store, made) == 5 and said(store, made) == "C"


def test_a_gesture_is_undone_and_redone_as_a_whole(store: Store, made: UUID) -> None:
    edit_shot(store, made, 0, words("A"), None)
    for i, text in enumerate("BCD"):
        edit_shot(store, made, 1 + i, words(text), "drag-1")
    assert undo(store, made) == 5
    assert said(store, made) == "A"
    assert redo(store, made) == 6
    assert said(store, made) == "D"
    undo(store, made)
    undo(store, made)
    assert said(store, made) == "EBB"
    assert undo(store, made) is None
    edit_shot(store, made, read_shot(store, made).revision, words("NEW"), None)
    assert redo(store, made) is None


def test_undo_survives_a_restart(store: Store, made: UUID) -> None:
    edit_shot(store, made, 0, words("FLOOD"), None)
    again = open_store(store.address, size=1)
    try:
        undo(again, made)
        assert said(again, made) == "EBB"
        assert read_shot(again, made).can_redo
    finally:
        again.close()


@settings(max_examples=12)
@given(
    steps=st.lists(
        st.one_of(
            st.tuples(st.just("edit"), st.sampled_from([None, "g1", "g2"])),
            st.just(("undo", None)),
            st.just(("redo", None)),
        ),
        max_size=14,
    )
)
def test_any_history_behaves_like_a_stack_of_gestures(
    store: Store, shot: Shot, steps: list[tuple[str, str | None]]
) -> None:
    production = store.row("production_create", name="History")
    assert production is not None
    made = create_shot(store, production["id"], shot)
    done: list[tuple[str | None, str, str]] = []
    undone: list[tuple[str | None, str, str]] = []
    now, count = "EBB", 0
    for kind, gesture in steps:
        if kind == "edit":
            count += 1
            text = f"W{count}"
            edit_shot(store, made, read_shot(store, made).revision, words(text), gesture)
            if gesture and done and done[-1][0] == gesture:
                done[-1] = (gesture, done[-1][1], text)
            else:
                done.append((gesture, now, text))
            now, undone = text, []
        elif kind == "undo":
            moved = undo(store, made)
            assert (moved is None) is (not done)
            if done:
                undone.append(done.pop())
                now = undone[-1][1]
        else:
            moved = redo(store, made)
            assert (moved is None) is (not undone)
            if undone:
                done.append(undone.pop())
                now = done[-1][2]
        assert said(store, made) == now


def test_of_many_edits_at_once_exactly_one_wins_each_revision(store: Store, made: UUID) -> None:
    won: list[int] = []

    def worker(text: str) -> None:
        for _ in range(8):
            try:
                won.append(edit_shot(store, made, read_shot(store, made).revision, words(text), None))
            except Conflict:
                continue

    threads = [threading.Thread(target=worker, args=(f"T{i}",)) for i in range(4)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(won) == list(range(1, len(won) + 1))
    assert read_shot(store, made).revision == len(won) >= 8


def test_deleted_productions_hide_their_shots_until_restored(store: Store, made: UUID) -> None:
    production = read_shot(store, made).production
    store.row("production_delete", id=production)
    with pytest.raises(NotThere):
        read_shot(store, made)
    assert store.rows("production_list") == []
    store.row("production_restore", id=production)
    assert said(store, made) == "EBB"


def test_copies_carry_every_shot(store: Store, made: UUID, shot: Shot) -> None:
    production = read_shot(store, made).production
    create_shot(store, production, shot)
    copy = store.row("production_copy", id=production, name="Copy")
    assert copy is not None
    rows = store.rows("shot_list", production=copy["id"])
    assert len(rows) == 2 and made not in [row["id"] for row in rows]


def test_what_is_not_there_is_said_to_be_missing(store: Store) -> None:
    for act in (
        lambda: read_shot(store, uuid4()),
        lambda: undo(store, uuid4()),
        lambda: edit_shot(store, uuid4(), 0, words("A"), None),
    ):
        with pytest.raises(NotThere):
            act()


def test_changes_are_told_to_whoever_listens(store: Store, made: UUID) -> None:
    with psycopg.connect(store.address, autocommit=True) as listener:
        listener.execute("LISTEN dreizack")
        edit_shot(store, made, 0, words("FLOOD"), None)
        heard = next(listener.notifies(timeout=5))
        assert str(made) in heard.payload and '"revision": 1' in heard.payload


def test_stored_control_characters_are_taken_out_and_lists_can_be_read_again(
    store: Store, address: str, shot: Shot
) -> None:
    production = store.rows("production_create", name="SLACK WATER")[0]["id"]
    identity = create_shot(store, production, shot)
    backslash = "\\\\u0000"
    with store.together() as on:
        on.execute(
            'UPDATE shots SET document = replace(document::text, \'"name":"Ebb"\', %s)::json WHERE id = %s',
            ['"name":"E\\u0000b\\tb' + backslash + '\\u001f"', identity],
        )
    with pytest.raises(psycopg.errors.UntranslatableCharacter):
        store.rows("shot_list", production=production)
    with psycopg.connect(address) as connection:
        connection.execute((MIGRATIONS / "0005_control_characters.sql").read_bytes())
    assert store.rows("shot_list", production=production)[0]["name"] == "Ebb\\u0000"
    assert read_shot(store, identity).shot.things == shot.things


def test_what_was_stored_by_an_earlier_version_is_read_edited_and_undone(store: Store, made: UUID) -> None:
    """A version later, the size of titles goes by another name: documents, takes and undo follow."""
    from dreizack.core.document.versions import STEPS, Step
    from dreizack.store import takes

    edit_shot(store, made, 0, [{"op": "replace", "path": "/things/title/setting/size", "value": 0.8}], None)
    takes.save(store, made, "large")
    renamed = (
        "replace(replace({0}::text, '\"size\"', '\"capitals\"'), '/setting/size', '/setting/capitals')::json"
    )
    with store.together() as on:
        on.execute(f"UPDATE shots SET document = {renamed.format('document')}")
        on.execute(f"UPDATE takes SET document = {renamed.format('document')}")
        on.execute(
            f"UPDATE edits SET patch = {renamed.format('patch')}, inverse = {renamed.format('inverse')}"
        )

    def back(tree: dict[str, Any]) -> dict[str, Any]:
        text = json.dumps(tree).replace('"capitals"', '"size"')
        found: dict[str, Any] = json.loads(text)
        return found

    STEPS.append(Step("size", back, lambda one: [one | {"path": one["path"].replace("capitals", "size")}]))
    try:
        assert read_shot(store, made).shot.titles["title"].setting.size == 0.8
        edit_shot(store, made, 1, words("FLOW"), None)
        assert undo(store, made) is not None and undo(store, made) is not None
        assert read_shot(store, made).shot.titles["title"].setting.size == 0.5
        assert (
            redo(store, made) is not None and read_shot(store, made).shot.titles["title"].setting.size == 0.8
        )
        assert undo(store, made) is not None and takes.recall(store, made, "large")
        assert read_shot(store, made).shot.titles["title"].setting.size == 0.8
    finally:
        STEPS.pop()
    with pytest.raises(NewerDocument):
        read_shot(store, made)
