"""Choices, switches and texts that change at frames."""

from __future__ import annotations

import bisect
import itertools
from typing import TYPE_CHECKING, Any, Literal, get_origin

from pydantic import BaseModel, Field, StrictBool, ValidationError, field_validator

from .cameras import seen_through
from .ground import Section
from .plain_text import Lines
from .pointer import resolve

if TYPE_CHECKING:
    from .shot import Shot


class Change(Section):
    """What a choice, a switch or a text is from a frame on."""

    frame: int = Field(0, ge=0, le=200_000)
    value: StrictBool | Lines = ""


class Changes(Section):
    """The changes of one value, in order of frames; before the first it is as from the first on."""

    keys: list[Change] = Field(min_length=1, max_length=500)

    @field_validator("keys")
    @classmethod
    def in_order(cls, keys: list[Change]) -> list[Change]:
        if any(b.frame <= a.frame for a, b in itertools.pairwise(keys)):
            raise ValueError("changes must stand in order of frames, one a frame")
        return keys

    def at(self, frame: float) -> str | bool:
        """What it is at a frame."""
        place = bisect.bisect_right([key.frame for key in self.keys], frame)
        return self.keys[max(0, place - 1)].value


def changeable(model: BaseModel, pointer: str) -> bool:
    """Whether a pointer leads to a choice, a switch or a text that may change over time."""
    parent, _, last = pointer.rpartition("/")
    try:
        owner = resolve(model, parent)
    except KeyError:
        return False
    field = type(owner).model_fields.get(last) if isinstance(owner, BaseModel) else None
    if field is None:
        return False
    told = isinstance(field.json_schema_extra, dict) or last == "words"
    kind = field.annotation
    return told and (kind is bool or kind is str or get_origin(kind) is Literal)


def fault_of(model: BaseModel, pointer: str, changes: Changes) -> str | None:
    """Why one of the changes cannot be, in words; None where all can."""
    parent, _, last = pointer.rpartition("/")
    owner = resolve(model, parent).model_copy()
    for key in changes.keys:
        try:
            setattr(owner, last, key.value)
        except ValidationError as why:
            return f"at frame {key.frame}: {why.errors(include_url=False)[0]['msg']}"
    return None


def runs(shot: Shot) -> list[int]:
    """Frames at which something changes, the first frame before them."""
    return sorted({0, *(key.frame for changes in shot.changes.values() for key in changes.keys)})


def run_of(shot: Shot, frame: float) -> tuple[int, int]:
    """The first frame of the run without changes that a frame lies in, and the first after it."""
    starts = runs(shot)
    place = max(0, bisect.bisect_right(starts, frame) - 1)
    end = starts[place + 1] if place + 1 < len(starts) else max(shot.format.frames, int(frame) + 1)
    return starts[place], end


def shot_at(shot: Shot, frame: float) -> Shot:
    """The shot with all choices, switches and texts as they are at a frame, and no changes any more; the
    camera that is looked through is its first one."""
    changed = changed_at(shot, frame)
    return seen_through(changed, changed.through) if changed.through else changed


def changed_at(shot: Shot, frame: float) -> Shot:
    """The shot with all choices, switches and texts as they are at a frame; its cameras stay."""
    if not shot.changes:
        return shot
    shown: Any = shot.model_copy(deep=True)
    for pointer, changes in shot.changes.items():
        parent, _, last = pointer.rpartition("/")
        owner = resolve(shown, parent) if parent else shown
        # What is kept was checked when it was set.
        owner.__dict__[last] = changes.at(frame)
    shown.__dict__["changes"] = {}
    return shown  # type: ignore[no-any-return]
