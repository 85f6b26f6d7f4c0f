"""Movements of the words themselves: told, resolved, counted."""

from __future__ import annotations

from collections.abc import Callable

from ..document import Ease, Shot, Title, escaped
from ..document.operations import replaced
from .applying import Course, Motion, Patch, keyed

TITLE = ("title",)
EVEN = Ease(kind="linear")
LAND = Ease(kind="cubic-bezier", x1=0.16, y1=0.84, x2=0.3, y2=1)


def _told(kind: str, value: str, course: Course, ease: Ease) -> Callable[[Shot, str, int, int], Patch]:
    def make(shot: Shot, name: str, start: int, length: int) -> Patch:
        title, at = shot.things[name], f"/things/{escaped(name)}"
        assert isinstance(title, Title)
        patch = [
            replaced(f"{at}/telling/kind", kind),
            keyed(f"/things/{name}/telling/{value}", course, start, length, ease),
        ]
        if value == "progress" and title.span.arrival < length:
            patch.append(replaced(f"{at}/span/arrival", length))
        return patch

    return make


WORDS = (
    Motion(
        "letter-by-letter",
        "Letter by letter",
        "Words grow as they are told.",
        TITLE,
        "arrival",
        40,
        _told("letter by letter", "progress", ((0, 0), (1, 1)), EVEN),
    ),
    Motion(
        "resolve",
        "Resolve",
        "Random characters become the words.",
        TITLE,
        "arrival",
        50,
        _told("resolving", "progress", ((0, 0), (0.15, 0), (1, 1)), EVEN),
    ),
    Motion(
        "count-up",
        "Count up",
        "A number runs up to 100 where # stands in the words.",
        TITLE,
        "hold",
        75,
        _told("count", "value", ((0, 0), (1, 100)), LAND),
    ),
    Motion(
        "clock-runs",
        "A clock runs",
        "Minutes and seconds run where # stands in the words.",
        TITLE,
        "hold",
        100,
        _told("clock", "value", ((0, 0), (1, 240)), EVEN),
    ),
)
