"""Edits: JSON Patches (RFC 6902) that turn one valid shot into another."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import jsonpatch
from pydantic import ValidationError

from .shot import Shot

MAX_OPERATIONS = 500

Patch = list[dict[str, Any]]


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
    if not 1 <= len(patch) <= MAX_OPERATIONS:
        raise EditRefused("", f"an edit has 1 to {MAX_OPERATIONS} operations, this one has {len(patch)}")
    before = shot.model_dump(mode="json")
    try:
        after = jsonpatch.apply_patch(before, patch, in_place=False)
    except (jsonpatch.JsonPatchException, jsonpatch.JsonPointerException, KeyError, TypeError, ValueError) as why:
        raise EditRefused("", f"the patch does not fit this shot: {why}") from why
    changed = read_model(after)
    inverse: Patch = jsonpatch.make_patch(changed.model_dump(mode="json"), before).patch
    return Edit(changed, inverse)


def read_model(tree: Any) -> Shot:
    """A shot from plain JSON data; EditRefused names the first fault and where it is."""
    try:
        return Shot.model_validate(tree)
    except ValidationError as faults:
        first = faults.errors(include_url=False)[0]
        # A discriminated union puts the kind into the location; it is no part of the address.
        steps = [str(step) for i, step in enumerate(first["loc"]) if not (i == 2 and step in ("title", "mark", "sheet", "mesh", "floor", "light"))]
        more = faults.error_count() - 1
        rest = f" ({more} more like this)" if more else ""
        raise EditRefused("/" + "/".join(steps), f"{first['msg']}{rest}") from None
