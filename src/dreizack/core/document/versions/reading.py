"""Reading what was written before."""

from __future__ import annotations

from typing import Any

from .steps import STEPS, Operation, Tree, schema_version


class NewerDocument(ValueError):
    """A document of a later version than this program knows; the text says what to do."""


def current_shot(tree: Tree, version: Any) -> Tree:
    """Plain data of a shot of a schema version as that of today; NewerDocument for what comes from a later
    one."""
    for step in STEPS[_number(version) - 1 :]:
        tree = step.shot(tree)
    return tree


def current_patch(patch: list[Operation], version: int) -> list[Operation]:
    """Operations on shots of a schema version as those that do the same to shots of today."""
    for step in STEPS[_number(version) - 1 :]:
        patch = [made for operation in patch for made in step.operation(operation)]
    return patch


def current_title(sections: Tree, version: Any) -> Tree:
    """Sections of a title (plain data) of a schema version as those of today."""
    title: Tree = current_shot({"things": {"one": {"kind": "title", **sections}}}, version)["things"]["one"]
    return {name: value for name, value in title.items() if name != "kind"}


def _number(version: Any) -> int:
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise NewerDocument(
            f"the schema version {str(version)[:40]!r} is none; this Dreizack reads versions 1 to "
            f"{schema_version()}"
        )
    if version > schema_version():
        raise NewerDocument(
            f"it was made by a newer Dreizack (schema version {version}); this one reads versions 1 to "
            f"{schema_version()}: bring it up to date"
        )
    return version
