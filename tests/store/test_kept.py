"""Finishes and looks in the real database: saved, followed everywhere, taken back by undo."""

from __future__ import annotations

from uuid import UUID

import pytest

from dreizack.core.document import (
    Backdrop,
    Channel,
    Colour,
    Finish,
    Key,
    Look,
    Shot,
    Surface,
    Title,
    look_of,
    used_files,
)
from dreizack.core.document.finish import SurfacePicture
from dreizack.store import NotThere, Store
from dreizack.store.saved import forget, read_look, replace_source, save_finish, save_look, saved_finishes
from dreizack.store.shots import create_shot, read_shot, undo

LACQUER = Finish(base_colour=Colour(r=0.4, g=0.02, b=0.02), metallic=0, roughness=0.2)


@pytest.fixture
def production(store: Store) -> UUID:
    row = store.row("production_create", name="SLACK WATER")
    assert row is not None
    made: UUID = row["id"]
    return made


def title_of(store: Store, shot: UUID) -> Title:
    title = read_shot(store, shot).shot.things["title"]
    assert isinstance(title, Title)
    return title


def test_a_finish_changes_wherever_it_is_followed_and_nowhere_else(
    store: Store, production: UUID, shot: Shot
) -> None:
    title = shot.things["title"]
    assert isinstance(title, Title)
    title.finish.parts = {"face": Surface(**LACQUER.model_dump(exclude={"parts"}) | {"named": 'hull "red"'})}
    following = create_shot(store, production, shot)
    title.finish.parts = {}
    other = create_shot(store, production, shot)
    assert save_finish(store, 'hull "red"', LACQUER) == 0
    darker = LACQUER.model_copy(update={"roughness": 0.7})
    assert save_finish(store, 'hull "red"', darker) == 1
    assert title_of(store, following).finish.parts["face"].roughness == 0.7
    assert title_of(store, following).finish.roughness == shot.things["title"].finish.roughness  # type: ignore[union-attr]
    assert read_shot(store, other).revision == 0
    undo(store, following)
    assert title_of(store, following).finish.parts["face"].roughness == 0.2


def test_a_look_changes_every_title_that_wears_it(store: Store, production: UUID, shot: Shot) -> None:
    title = shot.things["title"]
    assert isinstance(title, Title)
    look = look_of(title, ["body", "finish"])
    title.look = "heavy"
    shot.channels["/things/title/body/depth"] = Channel(keys=[Key(frame=0, value=0.1)])
    made = create_shot(store, production, shot)
    save_look(store, "heavy", look)
    look.sections["body"]["depth"] = 0.77
    assert save_look(store, "heavy", look) == 1
    after = read_shot(store, made).shot
    assert after.things["title"].body.depth == 0.77  # type: ignore[union-attr]
    # Keys on what the look sets would hide it.
    assert "/things/title/body/depth" not in after.channels
    assert after.things["title"].words == title.words  # type: ignore[union-attr]


def test_what_was_saved_can_be_listed_read_and_forgotten(store: Store) -> None:
    save_finish(store, "b", LACQUER)
    save_finish(store, "A", LACQUER)
    save_look(store, "A", Look(sections={"finish": LACQUER.model_dump()}))
    assert list(saved_finishes(store)) == ["A", "b"]
    forget(store, "finish", "A")
    assert list(saved_finishes(store)) == ["b"]
    assert read_look(store, "A").sections["finish"]["roughness"] == 0.2
    for name in ("nowhere", "\x00"):
        with pytest.raises(NotThere):
            forget(store, "finish", name)
        with pytest.raises(NotThere):
            read_look(store, name)


def test_a_source_is_replaced_wherever_it_is_used(store: Store, production: UUID, shot: Shot) -> None:
    title = shot.things["title"]
    assert isinstance(title, Title)
    title.finish.picture = SurfacePicture(fill="picture", file="picture-one.png")
    shot.backdrop = Backdrop(kind="picture", picture="picture-one.png")
    using = create_shot(store, production, shot)
    title.finish.picture.file = shot.backdrop.picture = "picture-two.png"
    other = create_shot(store, production, shot)
    assert used_files(shot) == {"picture-two.png"}
    assert replace_source(store, "picture-one.png", "picture-three.png") == 1
    now = read_shot(store, using).shot
    assert now.backdrop.picture == title_of(store, using).finish.picture.file == "picture-three.png"
    assert used_files(read_shot(store, other).shot) == {"picture-two.png"}
    undo(store, using)
    assert used_files(read_shot(store, using).shot) == {"picture-one.png"}
