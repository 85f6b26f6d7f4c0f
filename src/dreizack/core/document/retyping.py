"""What follows when words are typed anew: ranges, gaps and poses stay with the letters they belong to."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from .by_pointer import BY_POINTER
from .pointer import escaped
from .shot import Shot
from .title import Title

Patch = list[dict[str, Any]]
WORDS = re.compile(r"/things/([^/]+)/words")


@dataclass(frozen=True)
class Replacement:
    """Of two rows of items: from ``start`` on ``removed`` of them gave way to ``added``."""

    start: int
    removed: int
    added: int

    @classmethod
    def between(cls, before: Sequence[str], after: Sequence[str]) -> Replacement:
        """The shortest one that makes one row of the other: what both begin and end with stays.

        >>> Replacement.between("WATER", "WAITER")
        Replacement(start=2, removed=0, added=1)
        """
        most = min(len(before), len(after))
        start = next((n for n in range(most) if before[n] != after[n]), most)
        end = next((n for n in range(most - start) if before[-1 - n] != after[-1 - n]), most - start)
        return cls(start, len(before) - start - end, len(after) - start - end)

    def place(self, place: int) -> int | None:
        """Where an item goes; None where it was taken away and nothing took its place."""
        if place < self.start:
            return place
        if place >= self.start + self.removed:
            return place + self.added - self.removed
        return place if place - self.start < self.added else None

    def span(self, start: int, end: int) -> tuple[int, int]:
        """Where a run of items goes, from ``start`` up to but not including ``end``: it grows and shrinks
        with what is put into it."""
        gone, shift = self.start + self.removed, self.added - self.removed
        full = self.start + self.added
        first = start if start < self.start else start + shift if start >= gone else min(start, full)
        last = end if end <= self.start else end + shift if end >= gone else min(end, full)
        return min(first, last), max(first, last)


def followed(shot: Shot, patch: Patch) -> Patch:
    """A patch with all that follows from the words it sets; places that it changes itself are left to it."""
    told = [str(operation.get("path", "")) for operation in patch]
    made = list(patch)
    for operation in patch:
        found = WORDS.fullmatch(str(operation.get("path", "")))
        words = operation.get("value")
        if not found or operation.get("op") not in ("add", "replace") or not isinstance(words, str):
            continue
        title, at = shot.things.get(found[1]), f"/things/{found[1]}"
        touched = any(path == at or path.startswith((f"{at}/ranges", f"{at}/setting")) for path in told)
        if isinstance(title, Title) and title.words != words and not touched:
            made += retyped(shot, found[1], words)
    return made


def retyped(shot: Shot, name: str, words: str) -> Patch:
    """What follows when the title of that name says ``words``, without the words themselves: its ranges, gaps
    and single poses, and what moves them."""
    title = shot.titles[name]
    letters = Replacement.between(title.words, words)
    rows = {
        "letter": letters,
        "word": Replacement.between(title.words.split(), words.split()),
        "line": Replacement.between(title.words.split("\n"), words.split("\n")),
    }
    patch: Patch = []
    ranges = [
        one.model_copy(update=dict(zip(("start", "end"), letters.span(one.start, one.end), strict=True)))
        for one in title.ranges
    ]
    if ranges != title.ranges:
        value = [one.model_dump(mode="json") for one in ranges]
        patch.append({"op": "replace", "path": f"/things/{name}/ranges", "value": value})

    def gap(key: str) -> str | None:
        place = letters.place(int(key))
        return None if place is None else str(place)

    def pose(key: str) -> str | None:
        unit, _, place = key.partition("-")
        to = rows[unit].place(int(place))
        return None if to is None else f"{unit}-{to}"

    patch += _renamed(shot, name, "gaps", gap)
    patch += _renamed(shot, name, "poses", pose)
    return patch


def _renamed(shot: Shot, name: str, what: str, to: Callable[[str], str | None]) -> Patch:
    """Moves the values of a table of a title's setting, and all that moves them, to other keys."""
    values = getattr(shot.titles[name].setting, what)
    places = {key: to(key) for key in values}
    if all(key == place for key, place in places.items()):
        return []
    next_ = {place: values[key].model_dump(mode="json") for key, place in places.items() if place is not None}
    patch: Patch = [
        {"op": "replace", "path": f"/things/{name}/setting/{what}", "value": next_},
    ]
    below = f"/things/{name}/setting/{what}/"
    gone: Patch = []
    back: Patch = []
    for part in BY_POINTER:
        for pointer, value in getattr(shot, part).items():
            if not pointer.startswith(below):
                continue
            key, _, rest = pointer.removeprefix(below).partition("/")
            gone.append({"op": "remove", "path": f"/{part}/{escaped(pointer)}"})
            if places.get(key) is not None:
                moved = escaped(f"{below}{places[key]}/{rest}")
                value = value.model_dump(mode="json")
                back.append({"op": "add", "path": f"/{part}/{moved}", "value": value})
    # First all away, then all back: one may move onto the place of another.
    return patch + gone + back
