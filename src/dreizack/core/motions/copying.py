"""The movement of one thing put on another, whatever of it finds a place there."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ..document import Mark, Pivot, Shot, Title, escaped
from ..document.pointer import keyable

Patch = list[dict[str, Any]]


@dataclass(frozen=True)
class Copied:
    """The edit, and the values (below the thing) that found no place."""

    patch: Patch
    lost: tuple[str, ...]


def copied_motion(shot: Shot, source: str, target: str) -> Copied:
    """What moves ``source`` - its sets, keys, drift, couplings and span - put on ``target`` in place of its
    own.

    Lengths go by the size of the letters. KeyError where there is no such thing.
    """
    giving, taking = shot.things[source], shot.things[target]
    patch: Patch = []
    trial = shot.model_copy(deep=True)
    moved = trial.things[target]
    if isinstance(giving, Title | Mark) and isinstance(moved, Title | Mark):
        moved.sets = [one.model_copy(deep=True) for one in giving.sets]
        sets = [one.model_dump(mode="json") for one in giving.sets]
        patch.append({"op": "replace", "path": f"/things/{escaped(target)}/sets", "value": sets})
    if not isinstance(giving, Pivot) and not isinstance(taking, Pivot):
        span = giving.span.model_dump(mode="json")
        patch.append({"op": "replace", "path": f"/things/{escaped(target)}/span", "value": span})
    patch += [
        {"op": "remove", "path": f"/{part}/{escaped(pointer)}"}
        for part in ("channels", "drifts", "couplings")
        for pointer in getattr(shot, part)
        if pointer.startswith(f"/things/{target}/")
    ]
    share = _size(taking) / _size(giving)
    lost: list[str] = []
    for part in ("channels", "drifts", "couplings"):
        for pointer, moves in getattr(shot, part).items():
            if not pointer.startswith(f"/things/{source}/"):
                continue
            below = pointer.removeprefix(f"/things/{source}")
            at = f"/things/{target}{below}"
            if not keyable(trial, at):
                lost.append(below)
                continue
            value = moves.model_dump(mode="json")
            if "/sets/" in below and ("/move/" in below or "/scatter/" in below):
                value = _scaled(part, value, share)
            patch.append({"op": "add", "path": f"/{part}/{escaped(at)}", "value": value})
    return Copied(patch, tuple(lost))


def _scaled(part: str, value: dict[str, Any], share: float) -> dict[str, Any]:
    if part == "channels":
        return {"keys": [{**key, "value": key["value"] * share} for key in value["keys"]]}
    if part == "drifts":
        return {**value, "amplitude": value["amplitude"] * share}
    return {**value, "gain": value["gain"] * share, "offset": value["offset"] * share}


def _size(thing: object) -> float:
    if isinstance(thing, Title):
        return thing.setting.size
    return thing.size if isinstance(thing, Mark) else 1.0
