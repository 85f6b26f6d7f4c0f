"""Edits: JSON Patches (RFC 6902) that turn one valid shot into another."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeVar

import jsonpatch
from pydantic import BaseModel, ValidationError

from .pointer import resolve_plain
from .shot import THINGS, Shot
from .weight import depth, weight

# Of a document: bytes as JSON, and how deep its parts lie in one another.
MAX_BYTES = 8 * 1024 * 1024
MAX_DEPTH = 40

Patch = list[dict[str, Any]]
M = TypeVar("M", bound=BaseModel)


class EditRefused(ValueError):
    """An edit that cannot be applied; ``where`` is a JSON Pointer, the text says why."""

    def __init__(self, where: str, why: str) -> None:
        super().__init__(why)
        self.where = where


@dataclass(frozen=True)
class Edit:
    """The shot after an edit, and the patch that takes it back."""

    shot: Shot
    inverse: Patch


def apply_edit(shot: Shot, patch: Patch) -> Edit:
    """Apply a patch; raises EditRefused and changes nothing when the result would not be valid."""
    return Edit(*patched(shot, patch, read_model, "shot"))


def patched(document: M, patch: Patch, read: Callable[[Any], M], what: str) -> tuple[M, Patch]:
    """A document after a patch, and the patch that takes it back; ``read`` makes it of plain data, or raises
    EditRefused, which is also raised for what does not fit or grows without bound."""
    if not patch:
        raise EditRefused("", "an edit without an operation changes nothing")
    _check_size(document, patch, what)
    before, after = document.model_dump(mode="json"), document.model_dump(mode="json")
    try:
        after = jsonpatch.apply_patch(after, patch, in_place=True)
    except RecursionError:
        raise EditRefused("", f"the patch nests parts of the {what} too deeply") from None
    except (
        jsonpatch.JsonPatchException,
        jsonpatch.JsonPointerException,
        AttributeError,
        LookupError,
        TypeError,
        ValueError,
    ) as why:
        # The library's words are about its own objects; what is named is the place.
        raise EditRefused("", f"the patch does not fit this {what}; {_place(patch, why)}") from why
    changed = read(after)
    if len(changed.model_dump_json()) > MAX_BYTES:
        raise EditRefused(
            "",
            f"the {what} would be larger than {MAX_BYTES // 1024 // 1024} MB; remove things or keys that "
            "are not needed",
        )
    inverse: Patch = jsonpatch.make_patch(changed.model_dump(mode="json"), before).patch
    return changed, inverse


def _check_size(document: BaseModel, patch: Patch, what: str) -> None:
    """Refuse, before anything is copied, what would grow or nest without bound: each copy may double the
    document."""
    for number, operation in enumerate(patch):
        if depth(operation.get("value"), MAX_DEPTH) + str(operation.get("path", "")).count("/") > MAX_DEPTH:
            raise EditRefused(
                str(operation.get("path", ""))[:200],
                f"operation {number + 1} nests more than {MAX_DEPTH} levels deep",
            )
    if not any(operation.get("op") == "copy" for operation in patch):
        return
    tree = document.model_dump(mode="json")
    total = weight(tree)
    for number, operation in enumerate(patch):
        if operation.get("op") == "copy":
            source = resolve_plain(tree, str(operation.get("from", "")))
            if depth(source, MAX_DEPTH) + str(operation.get("path", "")).count("/") > MAX_DEPTH:
                raise EditRefused(
                    str(operation["path"])[:200],
                    f"operation {number + 1} nests more than {MAX_DEPTH} levels deep",
                )
            total += weight(source)
        if total > MAX_BYTES:
            raise EditRefused(
                str(operation["path"])[:200],
                f"operation {number + 1} makes the {what} larger than {MAX_BYTES // 1024 // 1024} MB",
            )
        try:
            tree = jsonpatch.apply_patch(tree, [operation], in_place=True)
        except Exception:
            # What does not fit is said where the patch is applied.
            return


def _place(patch: Patch, why: Exception) -> str:
    if isinstance(why, jsonpatch.JsonPatchTestFailed):
        return "a value that it tests for is another one"
    places = ", ".join(str(operation.get("path", ""))[:80] for operation in patch[:3])
    return f"there is no such place, or nothing of this kind can be put there: {places}"


def read_model(tree: Any) -> Shot:
    """A shot from plain JSON data; EditRefused names the first fault and where it is."""
    try:
        return Shot.model_validate(tree)
    except ValidationError as faults:
        first = faults.errors(include_url=False)[0]
        # A discriminated union puts the kind into the location; it is no part of the address.
        steps = [str(step) for i, step in enumerate(first["loc"]) if not (i == 2 and step in THINGS)]
        more = faults.error_count() - 1
        rest = f" ({more} more like this)" if more else ""
        raise EditRefused("/" + "/".join(steps), f"{first['msg']}{rest}") from None
