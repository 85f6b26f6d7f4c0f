"""What a ready-made movement is, and how it is put on a thing."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

from ..document import (
    Coupling,
    Drift,
    Ease,
    EditRefused,
    Lettered,
    LetterSet,
    Shot,
    Timing,
    escaped,
    resolve,
)

Patch = list[dict[str, Any]]
When = Literal["arrival", "departure", "hold"]
# Moments from 0 to 1 and the value there.
Course = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class LetterMove:
    """What one set does: values by name over the time of one letter, lengths in cap heights.

    ``share`` is how much of the whole time one letter takes; ``eases`` by value, others take ``ease``.
    """

    values: Mapping[str, Course]
    ease: Ease
    timing: Mapping[str, Any] = field(default_factory=dict)
    chosen: Mapping[str, Any] = field(default_factory=dict)
    share: float = 0.5
    eases: Mapping[str, Ease] = field(default_factory=dict)


@dataclass(frozen=True)
class Motion:
    """A ready-made movement for things of some ``kinds``; ``make`` gives the edit that puts it on one of
    them."""

    name: str
    label: str
    tells: str
    kinds: tuple[str, ...]
    when: When
    frames: int
    make: Callable[[Shot, str, int, int], Patch]


def applied(shot: Shot, motion: Motion, thing: str, start: int, length: int) -> Patch:
    """The edit that puts a movement on a thing (a name, or "camera", "surroundings") from frame ``start`` on,
    over ``length`` frames; KeyError where there is no such thing, EditRefused where it is of another kind.
    """
    kind = thing if thing in ("camera", "surroundings") else str(shot.things[thing].kind)
    if kind not in motion.kinds:
        wanted = " or ".join(motion.kinds)
        raise EditRefused(f"/things/{escaped(thing)}", f"'{motion.label}' moves a {wanted}, not a {kind}")
    return motion.make(shot, thing, start, max(2, length))


def letter_moves(*moves: LetterMove, when: When) -> Callable[[Shot, str, int, int], Patch]:
    """Makes the edit that adds a set for each of some moves; arrivals and departures get their time in the
    span."""

    def make(shot: Shot, name: str, start: int, length: int) -> Patch:
        thing = shot.things[name]
        assert isinstance(thing, Lettered)
        size = thing.extent
        most = type(thing).model_fields["sets"].metadata[0].max_length
        if len(thing.sets) + len(moves) > most:
            raise EditRefused(
                f"/things/{escaped(name)}/sets",
                f"'{thing.name}' has {len(thing.sets)} sets already; it may have {most}: remove one",
            )
        patch: Patch = []
        for number, move in enumerate(moves, len(thing.sets)):
            each = max(1.0, length * move.share)
            timing = Timing.model_validate(
                {"order": "reading", "length": "stays", "total": round(length - each, 3), **move.timing}
            )
            made = LetterSet.model_validate({"step": 1, "hinge": "middle", **move.chosen, "timing": timing})
            patch.append(
                {
                    "op": "add",
                    "path": f"/things/{escaped(name)}/sets/-",
                    "value": made.model_dump(mode="json"),
                }
            )
            for value, course in move.values.items():
                scale = size if value.startswith(("move/", "scatter/")) else 1.0
                ease = move.eases.get(value, move.ease).model_dump(mode="json")
                keys = [
                    {"frame": round(start + at * each, 3), "value": round(amount * scale, 6), "ease": ease}
                    for at, amount in course
                ]
                pointer = f"/things/{name}/sets/{number}/{value}"
                patch.append({"op": "add", "path": f"/channels/{escaped(pointer)}", "value": {"keys": keys}})
        if when != "hold" and getattr(thing.span, when) < length:
            patch.append({"op": "replace", "path": f"/things/{escaped(name)}/span/{when}", "value": length})
        return patch

    return make


def keyed(at: str, course: Course, start: int, length: int, ease: Ease) -> dict[str, Any]:
    """The operation that gives a value keys: moments from 0 to 1 over ``length`` frames from ``start`` on."""
    keys = [
        {
            "frame": round(start + moment * length, 3),
            "value": round(value, 6),
            "ease": ease.model_dump(mode="json"),
        }
        for moment, value in course
    ]
    return {"op": "add", "path": f"/channels/{escaped(at)}", "value": {"keys": keys}}


def drifting(at: str, **how: Any) -> dict[str, Any]:
    """The operation that lets a value drift."""
    return {
        "op": "add",
        "path": f"/drifts/{escaped(at)}",
        "value": Drift(**how).model_dump(mode="json"),
    }


def following(at: str, **how: Any) -> dict[str, Any]:
    """The operation that couples a value."""
    return {
        "op": "add",
        "path": f"/couplings/{escaped(at)}",
        "value": Coupling(**how).model_dump(mode="json"),
    }


def number_of(shot: Shot, pointer: str) -> float:
    """A value as it is, or where it has keys, its last."""
    channel = shot.channels.get(pointer)
    return channel.keys[-1].value if channel else float(resolve(shot, pointer))
