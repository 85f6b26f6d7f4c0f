"""Looks: saved settings of a title, worn by many, changed in one place. And finishes that are kept the same
way."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any, Literal

from annotated_types import Ge, Le
from pydantic import BaseModel, Field, ValidationError, model_validator

from .by_pointer import without_movers
from .edits import MAX_DEPTH
from .finish import Surface
from .ground import Section
from .plain_text import cleaned
from .pointer import escaped
from .shot import Shot
from .title import Title
from .versions import NewerDocument, current_title, schema_version
from .weight import depth

Patch = list[dict[str, Any]]
SectionName = Literal[
    "setting", "path", "outlines", "body", "shells", "wire", "deformations", "sets", "finish", "visibility"
]
SECTIONS: tuple[SectionName, ...] = (
    "setting",
    "path",
    "outlines",
    "body",
    "shells",
    "wire",
    "deformations",
    "sets",
    "finish",
    "visibility",
)
MAX_BYTES = 2 * 1024 * 1024


class LookFileError(ValueError):
    """A look file that cannot be read; the text says where and why."""


class Look(Section):
    """Whole sections of a title by name; those that are not there are left alone when it is worn.

    ``size`` is the cap height in metres of the title it was taken from: where it ``scales``, lengths go along
    with the letters of whoever wears it. Looks that were kept without one stay as they are.
    """

    sections: dict[SectionName, Any] = Field(min_length=1)
    size: float | None = Field(None, gt=0, le=50)
    scales: bool = True

    @model_validator(mode="after")
    def fits_a_title(self) -> Look:
        whole = Title.model_validate(self.sections)
        self.__dict__["sections"] = {
            name: value for name, value in whole.model_dump(mode="json").items() if name in self.sections
        }
        return self


def look_of(title: Title, sections: list[SectionName]) -> Look:
    """These sections of a title as a look."""
    tree = title.model_dump(mode="json")
    return Look(sections={name: tree[name] for name in sections}, size=title.setting.size)


def worn_by(look: Look, title: Title) -> dict[str, Any]:
    """The sections of a look as a title wears it, by name."""
    if look.size is None or not look.scales or "setting" in look.sections:
        # With its setting a title has the look's own size.
        return {str(name): value for name, value in look.sections.items()}
    whole, share = Title.model_validate(look.sections), title.setting.size / look.size
    return {
        # The surface of a material is as fine on small letters as on large ones.
        name: look.sections[name] if name == "finish" else scaled_lengths(getattr(whole, name), share)
        for name in look.sections
    }


def scaled_lengths(part: Any, share: float) -> Any:
    """A part of a document as plain data, all its lengths in metres times ``share``, within their limits."""
    if isinstance(part, list):
        return [scaled_lengths(one, share) for one in part]
    if isinstance(part, dict):
        return {key: scaled_lengths(one, share) for key, one in part.items()}
    if not isinstance(part, BaseModel):
        return part
    made: dict[str, Any] = {}
    for name, field in type(part).model_fields.items():
        value = getattr(part, name)
        extra = field.json_schema_extra
        if isinstance(extra, dict) and extra.get("unit") == "m" and isinstance(value, int | float):
            low = next((m.ge for m in field.metadata if isinstance(m, Ge)), None)
            high = next((m.le for m in field.metadata if isinstance(m, Le)), None)
            value = round(value * share, 6)
            value = value if low is None else max(float(low), value)  # type: ignore[arg-type]
            value = value if high is None else min(float(high), value)  # type: ignore[arg-type]
            made[name] = value
        else:
            made[name] = scaled_lengths(value, share)
    return made


def with_look(shot: Shot, thing: str, name: str, look: Look) -> Patch:
    """The patch that lets a title wear a look of that name. KeyError where there is no such title."""
    shot.titles[thing]
    return [*_worn(shot, thing, look), {"op": "replace", "path": f"/things/{thing}/look", "value": name}]


def changed_looks(shot: Shot, looks: dict[str, Look]) -> list[str]:
    """Titles that wear a look and have been changed since."""
    return [
        thing
        for thing, title in shot.titles.items()
        if title.look in looks and _differs(title, worn_by(looks[title.look], title))
    ]


def _differs(title: Title, sections: dict[str, Any]) -> bool:
    whole = Title.model_validate(sections)
    return any(getattr(whole, name) != getattr(title, name) for name in sections)


def restyled(shot: Shot, name: str, look: Look) -> Patch:
    """The edit that brings every title that wears a look up to date; empty where none does."""
    return [
        operation
        for thing, title in shot.titles.items()
        if title.look == name
        for operation in _worn(shot, thing, look)
    ]


def _worn(shot: Shot, thing: str, look: Look) -> Patch:
    patch: Patch = []
    for section, value in worn_by(look, shot.titles[thing]).items():
        at = f"/things/{escaped(thing)}/{section}"
        # Keys on places that may be gone in the new section go with them.
        patch += without_movers(shot, f"/things/{thing}/{section}/")
        patch.append({"op": "replace", "path": at, "value": value})
    return patch


def refinished(shot: Shot, name: str, finish: Surface) -> Patch:
    """The edit that brings every surface that follows a finish of the library up to date; what its parts wear
    is left alone."""
    surface = finish.model_dump(mode="json", exclude={"parts"}) | {"named": name}
    patch: Patch = []
    for pointer, worn in _surfaces(shot.model_dump(mode="json")["things"], "/things"):
        if worn.get("named") == name:
            patch += [
                {"op": "replace", "path": f"{pointer}/{term}", "value": value}
                for term, value in surface.items()
                if worn[term] != value
            ]
    return patch


def _surfaces(tree: Any, at: str) -> Iterator[tuple[str, dict[str, Any]]]:
    """Every surface below a part of a document, with its pointer."""
    if isinstance(tree, dict):
        if "named" in tree and "base_colour" in tree:
            yield at, tree
        for key, value in tree.items():
            yield from _surfaces(value, f"{at}/{escaped(key)}")
    elif isinstance(tree, list):
        for index, value in enumerate(tree):
            yield from _surfaces(value, f"{at}/{index}")


def write_look(name: str, look: Look) -> str:
    """The text of a look file."""
    return (
        json.dumps(
            {"dreizack_look": schema_version(), "name": name, **look.model_dump(mode="json")},
            indent=2,
            ensure_ascii=False,
        )
        + "\n"
    )


def read_look(text: str | bytes) -> tuple[str, Look]:
    """Name and look of a look file; raises LookFileError, never anything else, on bad input."""
    if len(text) > MAX_BYTES:
        raise LookFileError(
            f"the file is larger than {MAX_BYTES // 1024 // 1024} MB; a look file is far smaller"
        )
    try:
        tree = json.loads(text)
    except (ValueError, RecursionError):
        raise LookFileError("the file is no readable JSON; export the look anew") from None
    if not isinstance(tree, dict) or "dreizack_look" not in tree:
        raise LookFileError("this is not a look file: the field 'dreizack_look' is missing at the top")
    try:
        current_title({}, tree["dreizack_look"])
    except NewerDocument as why:
        raise LookFileError(str(why)) from None
    name = tree.get("name")
    if not isinstance(name, str) or not 1 <= len(cleaned(name)) <= 60:
        raise LookFileError("the look has no name of 1 to 60 characters")
    if depth(tree, MAX_DEPTH) > MAX_DEPTH:
        raise LookFileError(f"the look is nested more than {MAX_DEPTH} levels deep")
    try:
        # Names are part of addresses.
        sections = tree.get("sections")
        return cleaned(name).replace("/", "-"), Look(
            sections=current_title(sections, tree["dreizack_look"])
            if isinstance(sections, dict)
            else sections,
            **{part: tree[part] for part in ("size", "scales") if part in tree},
        )
    except (ValidationError, RecursionError) as why:
        first = (
            why.errors(include_url=False)[0]
            if isinstance(why, ValidationError)
            else {"loc": (), "msg": "nested too deeply"}
        )
        raise LookFileError(f"at /{'/'.join(str(step) for step in first['loc'])}: {first['msg']}") from None
