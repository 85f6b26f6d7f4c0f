"""New things where one would want them, copies with all that moves them, and looks on letters of any size."""

from __future__ import annotations

from typing import Any

import pytest

from dreizack.core.document import Shot, Title, apply_edit, changed_looks, with_copy, with_look, with_new
from dreizack.core.document.adding import NEW
from dreizack.core.document.looks import Look, look_of, read_look, worn_by, write_look


def edited(shot: Shot, patch: Any) -> Shot:
    return apply_edit(shot, patch).shot


@pytest.mark.parametrize("kind", sorted(NEW))
def test_one_of_each_kind_is_added_to_any_shot(kind: str) -> None:
    for shot in (Shot(), Shot.model_validate({"things": {"title": {"kind": "title"}}})):
        name, patch = with_new(shot, kind)
        made = edited(shot, patch)
        assert made.things[name].kind == kind and len(made.things) == len(shot.things) + 1
        again, patch = with_new(made, kind)
        assert again != name and again in edited(made, patch).things


def test_a_second_title_stands_below_and_is_smaller_in_all_its_lengths() -> None:
    shot = Shot.model_validate({"things": {"title": {"kind": "title"}}})
    name, patch = with_new(shot, "title")
    first, second = shot.titles["title"], edited(shot, patch).titles[name]
    share = second.setting.size / first.setting.size
    assert share == 0.5 and second.place.position.y < first.place.position.y
    assert second.body.depth == pytest.approx(first.body.depth * share)
    assert second.body.front.reach == pytest.approx(first.body.front.reach * share)
    assert second.body.front.profile == first.body.front.profile


def test_a_second_title_is_not_hidden_by_a_floor() -> None:
    shot = Shot.model_validate({"things": {"title": {"kind": "title"}}})
    shot = edited(shot, with_new(shot, "floor")[1])
    name, patch = with_new(shot, "title")
    first, second = shot.titles["title"].place.position, edited(shot, patch).titles[name].place.position
    assert second.y == shot.things["floor"].place.position.y and second.z > first.z
    # A floor far below is in nobody's way.
    shot.things["floor"].place.position.y = -3
    assert edited(shot, with_new(shot, "title")[1]).titles[name].place.position.y < first.y


def test_a_copy_has_all_that_moves_the_original_and_stands_aside() -> None:
    key = {"keys": [{"frame": 0, "value": 1}, {"frame": 9, "value": 3}]}
    shot = Shot.model_validate(
        {
            "things": {"title": {"kind": "title"}, "title-a": {"kind": "title"}},
            "channels": {"/things/title/place/position/x": key, "/things/title-a/body/depth": key},
            "drifts": {"/things/title/place/rotation/y": {"amplitude": 2}},
            "changes": {"/things/title/words": {"keys": [{"frame": 0, "value": "A"}]}},
        }
    )
    name, patch = with_copy(shot, "title")
    made = edited(shot, patch)
    assert [k.value for k in made.channels[f"/things/{name}/place/position/x"].keys] == [1.3, 3.3]
    assert f"/things/{name}/place/rotation/y" in made.drifts
    assert f"/things/{name}/words" in made.changes
    # What only begins alike is another thing.
    assert f"/things/{name}-a/body/depth" not in made.channels and len(made.channels) == 3


def test_a_light_is_mirrored_about_what_it_aims_at() -> None:
    light = {"kind": "light", "position": {"x": 3, "y": 1, "z": 2}, "aim": {"x": 1, "y": 0, "z": 0}}
    key = {"keys": [{"frame": 0, "value": 3}, {"frame": 9, "value": 0}]}
    shot = Shot.model_validate({"things": {"key": light}, "channels": {"/things/key/position/x": key}})
    name, patch = with_copy(shot, "key", mirrored=True)
    made = edited(shot, patch)
    assert made.lights[name].position.x == -1
    assert [k.value for k in made.channels[f"/things/{name}/position/x"].keys] == [-1, 2]
    with pytest.raises(KeyError):
        with_copy(edited(shot, with_new(shot, "pivot")[1]), "pivot", mirrored=True)


def worn(look: Look, size: float) -> Title:
    shot = Shot.model_validate({"things": {"t": {"kind": "title", "setting": {"size": size}}}})
    return edited(shot, with_look(shot, "t", "mine", look)).titles["t"]


def test_lengths_of_a_look_go_along_with_the_letters() -> None:
    title = Title.model_validate({"setting": {"size": 0.5}, "body": {"depth": 0.3}})
    title.body.front.reach = 0.04
    title.finish.bump_size = 0.01
    look = look_of(title, ["body", "finish"])
    half = worn(look, 0.25)
    assert half.body.depth == pytest.approx(0.15) and half.body.front.reach == pytest.approx(0.02)
    # The surface is that of the same material.
    assert half.finish.bump_size == 0.01
    assert worn(look, 0.5).body == title.body
    for still in (look.model_copy(update={"scales": False}), look.model_copy(update={"size": None})):
        assert worn(still, 0.25).body == title.body
    # With its setting a title has the size of the look.
    whole = worn(look_of(title, ["setting", "body"]), 2.0)
    assert whole.setting.size == 0.5 and whole.body == title.body
    # Limits hold.
    assert worn(look, 0.01).body.depth >= 0.001


def test_a_look_says_where_it_was_changed() -> None:
    look = look_of(Title(), ["body"])
    shot = Shot.model_validate(
        {"things": {name: {"kind": "title", "setting": {"size": 0.2}} for name in ("a", "b")}}
    )
    for name in ("a", "b"):
        shot = edited(shot, with_look(shot, name, "mine", look))
    assert changed_looks(shot, {"mine": look}) == []
    shot.titles["b"].body.depth += 0.01
    assert changed_looks(shot, {"mine": look}) == ["b"]
    assert changed_looks(shot, {}) == []


def test_files_of_looks_keep_their_size_and_older_ones_are_read() -> None:
    look = look_of(Title(), ["body"])
    assert read_look(write_look("mine", look)) == ("mine", look)
    old = write_look("mine", look.model_copy(update={"size": None}))
    name, read = read_look(old.replace('  "scales": true,\n', "").replace('  "size": null,\n', ""))
    assert name == "mine" and read.size is None
    assert worn_by(read, Title()) == {"body": look.sections["body"]}
