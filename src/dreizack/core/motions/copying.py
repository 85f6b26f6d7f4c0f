"""The movement of one thing, taken off it and put on another, whatever of it finds a place there."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from pydantic import Field

from ..document import Channel, Coupling, Drift, Lettered, LetterSet, Mark, Pivot, Shot, Span, Title, escaped
from ..document.ground import Section
from ..document.plain_text import Line
from ..document.pointer import keyable

Patch = list[dict[str, Any]]
PARTS = ("channels", "drifts", "couplings")
# Stands, in what a coupling follows, for the thing itself.
SELF = "@"


class KeptMotion(Section):
    """All that moves a thing, by pointers below it; ``size`` is that of its letters in metres, by which
    lengths go."""

    size: float = Field(1.0, gt=0, le=1000)
    span: Span = Field(default_factory=Span)
    sets: list[LetterSet] = Field(default_factory=list, max_length=12)
    channels: dict[Line, Channel] = Field(default_factory=dict, max_length=500)
    drifts: dict[Line, Drift] = Field(default_factory=dict, max_length=200)
    couplings: dict[Line, Coupling] = Field(default_factory=dict, max_length=200)


@dataclass(frozen=True)
class Copied:
    """The edit, and the values (below the thing) that found no place."""

    patch: Patch
    lost: tuple[str, ...]


def motion_of(shot: Shot, name: str) -> KeptMotion:
    """What moves a thing: sets, keys, drift, couplings and span. KeyError where there is no such thing."""
    thing, at = shot.things[name], f"/things/{name}"

    def below(part: str) -> dict[str, Any]:
        return {
            pointer.removeprefix(at): moves.model_dump(mode="json")
            for pointer, moves in getattr(shot, part).items()
            if pointer.startswith(f"{at}/")
        }

    couplings = below("couplings")
    for coupling in couplings.values():
        coupling["source"] = _renamed(coupling["source"], at, SELF)
        coupling["also"] = {key: _renamed(one, at, SELF) for key, one in coupling["also"].items()}
    return KeptMotion(
        size=_size(thing),
        span=Span() if isinstance(thing, Pivot) else thing.span,
        sets=thing.sets if isinstance(thing, Lettered) else [],
        channels=below("channels"),
        drifts=below("drifts"),
        couplings=couplings,
    )


def moved_like(shot: Shot, name: str, motion: KeptMotion) -> Copied:
    """A movement put on a thing in place of its own; lengths go by the size of its letters. KeyError where
    there is no such thing."""
    thing, at = shot.things[name], f"/things/{escaped(name)}"
    patch: Patch = []
    trial = shot.model_copy(deep=True)
    taking = trial.things[name]
    if isinstance(taking, Lettered):
        taking.sets = [one.model_copy(deep=True) for one in motion.sets]
        sets = [one.model_dump(mode="json") for one in motion.sets]
        patch.append({"op": "replace", "path": f"{at}/sets", "value": sets})
    if not isinstance(thing, Pivot):
        patch.append({"op": "replace", "path": f"{at}/span", "value": motion.span.model_dump(mode="json")})
    patch += [
        {"op": "remove", "path": f"/{part}/{escaped(pointer)}"}
        for part in PARTS
        for pointer in getattr(shot, part)
        if pointer.startswith(f"/things/{name}/")
    ]
    share = _size(thing) / motion.size
    lost: list[str] = []
    for part in PARTS:
        for below, moves in getattr(motion, part).items():
            pointer = f"/things/{name}{below}"
            value = _fitted(part, below, moves.model_dump(mode="json"), share, f"/things/{name}")
            followed = [value["source"], *value["also"].values()] if part == "couplings" else []
            reads = all(not one or keyable(trial, one) or trial.hears(one) for one in followed)
            if keyable(trial, pointer) and reads:
                patch.append({"op": "add", "path": f"/{part}/{escaped(pointer)}", "value": value})
            else:
                lost.append(below)
    return Copied(patch, tuple(lost))


def copied_motion(shot: Shot, source: str, target: str) -> Copied:
    """What moves ``source`` put on ``target`` in place of its own movement. KeyError where there is no such
    thing."""
    return moved_like(shot, target, motion_of(shot, source))


def _fitted(part: str, below: str, value: dict[str, Any], share: float, own: str) -> dict[str, Any]:
    """A mover as another thing has it: lengths of sets by the size of letters, its own values by its name."""
    scales = "/sets/" in below and ("/move/" in below or "/scatter/" in below)
    by = share if scales else 1.0
    if part == "channels":
        return {"keys": [{**key, "value": key["value"] * by} for key in value["keys"]]}
    if part == "drifts":
        return {**value, "amplitude": value["amplitude"] * by}
    return {
        **value,
        "gain": value["gain"] * by,
        "offset": value["offset"] * by,
        "source": _renamed(value["source"], SELF, own),
        "also": {key: _renamed(one, SELF, own) for key, one in value["also"].items()},
    }


def _renamed(pointer: str, before: str, after: str) -> str:
    return after + pointer.removeprefix(before) if pointer.startswith(f"{before}/") else pointer


def _size(thing: object) -> float:
    if isinstance(thing, Title):
        return thing.setting.size
    return thing.size if isinstance(thing, Mark) else 1.0
