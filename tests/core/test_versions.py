"""Documents outlive versions: what was written by any of them is read by this one, and newer ones are refused
in words."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from dreizack.core.document import (
    LookFileError,
    NewerDocument,
    Shot,
    ShotFileError,
    read_look,
    read_shot,
    schema_version,
    write_look,
    write_shot,
)
from dreizack.core.document.stored import stored_finish, stored_look, stored_shot
from dreizack.core.document.versions import STEPS, Step, current_patch

FIRST = Path(__file__).parents[1] / "data" / "version-1"


@pytest.fixture
def second() -> Iterator[None]:
    """As if, from version 1 on, sizes of titles had been written in centimetres under another name."""

    def shot(tree: dict[str, Any]) -> dict[str, Any]:
        for thing in tree.get("things", {}).values():
            if thing["kind"] == "title" and "capitals" in thing.get("setting", {}):
                thing["setting"]["size"] = thing["setting"].pop("capitals") / 100
        return tree

    def operation(one: dict[str, Any]) -> list[dict[str, Any]]:
        if not one["path"].endswith("/setting/capitals"):
            return [one]
        return [one | {"path": one["path"].replace("capitals", "size"), "value": one["value"] / 100}]

    STEPS.append(Step("Sizes in metres", shot, operation))
    yield
    STEPS.pop()


def old(shot: Shot) -> str:
    """A shot as version 1 would have written it."""
    tree = shot.model_dump(mode="json")
    tree["things"]["title"]["setting"]["capitals"] = tree["things"]["title"]["setting"].pop("size") * 100
    return json.dumps(tree)


@pytest.mark.parametrize("file", sorted(FIRST.glob("[!.]*.json")), ids=lambda file: file.stem)
def test_files_of_the_first_version_are_read(file: Path) -> None:
    if file.stem.endswith(".look"):
        name, look = read_look(file.read_bytes())
        assert (
            name == "Flood" and look.sections["shells"] and read_look(write_look(name, look)) == (name, look)
        )
        return
    shot, tree = read_shot(file.read_bytes()), json.loads(file.read_text())
    assert (
        tree["dreizack_shot"] == 1
        and list(shot.things) == list(tree["things"])
        and set(shot.channels) == set(tree["channels"])
    )
    assert read_shot(write_shot(shot)) == shot


def test_steps_are_taken_on_reading(shot: Shot, second: None) -> None:
    assert schema_version() == 2
    assert stored_shot(old(shot), 1) == shot and stored_shot(shot.model_dump_json(), 2) == shot
    assert read_shot(json.dumps({"dreizack_shot": 1, **json.loads(old(shot))})) == shot
    assert json.loads(write_shot(shot))["dreizack_shot"] == 2
    setting = json.loads(old(shot))["things"]["title"]["setting"]
    assert (
        stored_look(json.dumps({"sections": {"setting": setting}}), 1).sections["setting"]["size"]
        == shot.titles["title"].setting.size
    )


def test_patches_of_before_mean_the_same(second: None) -> None:
    patch = [
        {"op": "replace", "path": "/things/title/setting/capitals", "value": 80},
        {"op": "remove", "path": "/things/key"},
    ]
    assert current_patch(patch, 1) == [
        {"op": "replace", "path": "/things/title/setting/size", "value": 0.8},
        {"op": "remove", "path": "/things/key"},
    ]
    assert current_patch(patch, 2) == patch


@pytest.mark.parametrize("version", [2, 99, 0, -1, "1", None, True, 1.5, [1]])
def test_other_versions_are_refused_in_words(shot: Shot, version: Any) -> None:
    tree = {**json.loads(write_shot(shot)), "dreizack_shot": version}
    with pytest.raises(ShotFileError, match="version"):
        read_shot(json.dumps(tree))
    with pytest.raises(LookFileError, match="version"):
        read_look(json.dumps({"dreizack_look": version, "name": "A", "sections": {"finish": {}}}))
    if isinstance(version, int) and version > 1:
        with pytest.raises(NewerDocument, match=r"newer Dreizack.*bring it up to date"):
            stored_shot(shot.model_dump_json(), version)


def test_what_is_no_longer_let_in_is_still_read(shot: Shot) -> None:
    tree = shot.model_dump(mode="json")
    tree["things"]["title"]["words"], tree["things"]["title"]["name"], tree["name"] = (
        "EBB\nFLOW\u0007",
        "a\nb",
        "x\u0000y",
    )
    found = stored_shot(json.dumps(tree), 1)
    assert (
        found.titles["title"].words == "EBB\nFLOW"
        and found.titles["title"].name == "a b"
        and found.name == "xy"
    )
    assert stored_finish('{"named": "a\\u0001b"}', 1).named == "ab"
