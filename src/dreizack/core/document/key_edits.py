"""What one does with chosen keys: turned round, mirrored, stretched, repeated, put elsewhere."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from .keys import Channel, Ease, Key
from .pointer import escaped, keyable, resolve
from .shot import Shot

Patch = list[dict[str, Any]]
# Chosen keys: pointers of values, each with frames at which keys of it are chosen.
Chosen = dict[str, list[float]]


@dataclass(frozen=True)
class Pasted:
    """The edit, and the values that found no place."""

    patch: Patch
    lost: tuple[str, ...]


def reversed_keys(shot: Shot, chosen: Chosen) -> Patch:
    """Chosen keys in the other order, between the same first and last frame; eases go back as they went."""
    first, last = _extent(shot, chosen)

    def turned(keys: list[Key]) -> list[Key]:
        # The ease of a way belongs to the key it leaves: going back, to the one it reached.
        ways = [*(key.ease for key in keys[:-1][::-1]), keys[-1].ease]
        return [
            key.model_copy(update={"frame": first + last - key.frame, "ease": _backward(way)})
            for key, way in zip(keys[::-1], ways, strict=True)
        ]

    return _changed(shot, chosen, turned)


def mirrored_keys(shot: Shot, chosen: Chosen) -> Patch:
    """Chosen keys with their values on the other side of the first one's."""
    return _changed(
        shot,
        chosen,
        lambda keys: [
            key.model_copy(update={"value": 2 * keys[0].value - key.value, "ease": _upside_down(key.ease)})
            for key in keys
        ],
    )


def stretched_keys(shot: Shot, chosen: Chosen, share: float, about: float) -> Patch:
    """Chosen keys ``share`` times as far from the frame ``about``; parts of frames stay exact."""
    return _changed(
        shot,
        chosen,
        lambda keys: [
            key.model_copy(update={"frame": max(0.0, round(about + (key.frame - about) * share, 4))})
            for key in keys
        ],
    )


def repeated_keys(shot: Shot, chosen: Chosen, times: int) -> Patch:
    """Chosen keys again, ``times`` times, each time beginning where the last one ended."""
    first, last = _extent(shot, chosen)
    long = max(last - first, 1.0)

    def again(keys: list[Key]) -> list[Key]:
        more = [
            key.model_copy(update={"frame": key.frame + long * (turn + 1)})
            for turn in range(times)
            # One at the very beginning would stand where the last one does.
            for key in keys
            if key.frame > first or len(keys) == 1
        ]
        # On from the last key as from the first.
        ends = [key.model_copy(update={"ease": keys[0].ease}) if key is keys[-1] else key for key in keys]
        return [*ends, *more]

    return _changed(shot, chosen, again)


def pasted_keys(shot: Shot, chosen: Chosen, frame: float, onto: str = "") -> Pasted:
    """Chosen keys once more, the first of them at ``frame``; on the thing called ``onto`` instead of their
    own, where that has values of the same meaning."""
    first, _ = _extent(shot, chosen)
    patch: Patch = []
    lost: list[str] = []
    for pointer, frames in chosen.items():
        target = pointer
        if onto and pointer.startswith("/things/"):
            target = f"/things/{onto}/" + pointer.split("/", 3)[3]
        if not keyable(shot, target):
            lost.append(target)
            continue
        keys = [key for key in shot.channels[pointer].keys if key.frame in frames]
        moved = [key.model_copy(update={"frame": round(key.frame - first + frame, 4)}) for key in keys]
        there = shot.channels[target].keys if target in shot.channels else []
        patch.append(_written(target, [*there, *moved]))
    return Pasted(patch, tuple(lost))


def _backward(ease: Ease) -> Ease:
    times = {"x1": 1 - ease.x2, "x2": 1 - ease.x1}
    if ease.kind == "cubic-bezier":
        return ease.model_copy(update=times | {"y1": 1 - ease.y2, "y2": 1 - ease.y1})
    if ease.kind == "handles":
        return ease.model_copy(update=times | {"out": ease.back, "back": ease.out})
    return ease


def _upside_down(ease: Ease) -> Ease:
    return ease.model_copy(update={"out": -ease.out, "back": -ease.back})


def _extent(shot: Shot, chosen: Chosen) -> tuple[float, float]:
    frames = [frame for frames in chosen.values() for frame in frames]
    for pointer in chosen:
        resolve(shot, pointer)
        if pointer not in shot.channels:
            raise KeyError(pointer)
    if not frames:
        raise KeyError("no key is chosen")
    return min(frames), max(frames)


def _changed(shot: Shot, chosen: Chosen, change: Callable[[list[Key]], list[Key]]) -> Patch:
    _extent(shot, chosen)
    patch = []
    for pointer, frames in chosen.items():
        keys = shot.channels[pointer].keys
        own = [key for key in keys if key.frame in frames]
        if own:
            patch.append(_written(pointer, [*(key for key in keys if key.frame not in frames), *change(own)]))
    return patch


def _written(pointer: str, keys: list[Key]) -> dict[str, Any]:
    """A channel with these keys in order; of two on one frame the later one in the list wins."""
    by_frame = {key.frame: key for key in keys}
    channel = Channel(keys=[by_frame[frame] for frame in sorted(by_frame)])
    return {"op": "add", "path": f"/channels/{escaped(pointer)}", "value": channel.model_dump(mode="json")}
