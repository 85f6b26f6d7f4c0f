"""The files a shot uses, those it lacks, and putting another one in the place of one everywhere."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel

from ..library import called, find
from .pointer import escaped, split
from .shot import Shot
from .sound import Sound

Patch = list[dict[str, Any]]
# Fields that name a file of the library.
FIELDS = ("file", "picture", "video", "slide", "clip", "solve", "track")


@dataclass(frozen=True)
class LostFile:
    """A file that is used and lies nowhere, and what it was called where it came from; ``thing`` is the name
    of the thing that uses it, if one does."""

    file: str
    name: str
    thing: str
    says: str


def used_files(shot: Shot) -> set[str]:
    """Names of all files a shot uses."""
    return {value for _, value in _used(shot)}


def lost_files(shot: Shot) -> list[LostFile]:
    """Files that a shot's pictures are made of and that are not in the library. Where a choice beside it
    says that a file is not shown, it does not count."""
    moving = {*shot.channels, *shot.drifts, *shot.couplings, *shot.changes}
    found = []
    for at, file in (*_shown(shot, "", moving), *_changed(shot)):
        section, name, *_ = [*split(at), ""]
        if section != "sounds" and find(file) is None:
            thing = name if section == "things" else ""
            found.append(_lost(shot.things[name].name if thing else f"the {section}", file, thing))
    return found


def lost_sounds(sounds: Mapping[str, Sound]) -> list[LostFile]:
    """Sounds that are to be heard and are not in the library."""
    heard = (sound for sound in sounds.values() if sound.on and sound.file)
    return [_lost(sound.name, sound.file) for sound in heard if find(sound.file) is None]


def _lost(of: str, file: str, thing: str = "") -> LostFile:
    name = called(file) or file
    return LostFile(file, name, thing, f"{name} of {of} is not in the library; bring it again")


def _used(shot: Shot) -> Iterator[tuple[str, str]]:
    """Each place that names a file, and the file."""
    yield from _named(shot.model_dump(mode="json"), "")
    yield from _changed(shot)


def _changed(shot: Shot) -> Iterator[tuple[str, str]]:
    for pointer, changes in shot.changes.items():
        if pointer.rpartition("/")[2] in FIELDS:
            yield from ((pointer, str(key.value)) for key in changes.keys if key.value)


def replaced(shot: Shot, old: str, new: str) -> Patch:
    """The edit that uses another file wherever ``old`` is used; empty where it is not."""
    return [
        {"op": "replace", "path": at, "value": new}
        for at, value in _named(shot.model_dump(mode="json"), "")
        if value == old
    ]


def _named(tree: Any, at: str) -> Iterator[tuple[str, str]]:
    inside = tree.items() if isinstance(tree, dict) else enumerate(tree) if isinstance(tree, list) else ()
    for key, value in inside:
        place = f"{at}/{escaped(str(key))}"
        if key in FIELDS and isinstance(value, str) and value:
            yield place, value
        else:
            yield from _named(value, place)


def _shown(tree: Any, at: str, moving: set[str]) -> Iterator[tuple[str, str]]:
    """Places that name a file that is shown, or may be at some frame: as ``when`` of their fields tells."""
    if isinstance(tree, BaseModel):
        for name, field in type(tree).model_fields.items():
            place, value, extra = f"{at}/{name}", getattr(tree, name), field.json_schema_extra
            needs = str(extra.get("when", "")) if isinstance(extra, dict) else ""
            if not value or not all(_holds(tree, one, at, moving) for one in needs.split("&") if one):
                continue
            if name in FIELDS and isinstance(value, str):
                yield place, value
            else:
                yield from _shown(value, place, moving)
    elif isinstance(tree, dict | list):
        for key, value in tree.items() if isinstance(tree, dict) else enumerate(tree):
            yield from _shown(value, f"{at}/{escaped(str(key))}", moving)


def _holds(tree: BaseModel, condition: str, at: str, moving: set[str]) -> bool:
    """Whether a condition (``kind=arc,drawn``, ``displaced!=0``) holds, or may at some frame."""
    name, _, wanted = condition.partition("=")
    if f"{at}/{name.rstrip('!')}" in moving:
        return True
    value = getattr(tree, name.rstrip("!"), "")
    told = f"{value:g}" if isinstance(value, float) else str(value)
    # As the document writes it.
    told = told.lower() if isinstance(value, bool) else told
    return (told in wanted.split(",")) is not name.endswith("!")
