"""Keys moved in time so that what they move goes at an even speed."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..document import Channel, Ease, Key, Shot
from ..document.pointer import escaped
from .bake import Motion

Floats = NDArray[np.float64]
Patch = list[dict[str, Any]]

# Looks at each way between two keys, and rounds in which frames and the curve through them settle.
STEPS, ROUNDS = 32, 8


def evened_keys(shot: Shot, chosen: dict[str, list[float]]) -> Patch:
    """The patch that moves chosen keys, between the first and the last of them, to where the speed is even
    all the way, in one smooth curve through all. The axes of a place go together: its speed is that along the
    path. KeyError where there is none of these keys any more."""
    groups: dict[str, list[str]] = {}
    for pointer in chosen:
        if pointer not in shot.channels:
            raise KeyError(pointer)
        base, _, last = pointer.rpartition("/")
        groups.setdefault(base if last in ("x", "y", "z") else pointer, []).append(pointer)
    patch: Patch = []
    for pointers in groups.values():
        frames = [frame for pointer in pointers for frame in chosen[pointer]]
        patch += _evened(shot, pointers, min(frames), max(frames))
    return patch


def _evened(shot: Shot, pointers: list[str], first: float, last: float) -> Patch:
    channels = {pointer: shot.channels[pointer].keys for pointer in pointers}
    within = sorted({k.frame for keys in channels.values() for k in keys if first <= k.frame <= last})
    if len(within) < 2:
        return []
    frames = np.array(within)
    for _ in range(ROUNDS):
        made = {pointer: _moved(keys, within, frames) for pointer, keys in channels.items()}
        share = np.linspace(0, 1, STEPS + 1)
        moments = frames[:-1, None] + np.diff(frames)[:, None] * share
        trial = shot.model_copy(
            update={"channels": shot.channels | {p: Channel(keys=keys) for p, keys in made.items()}}
        )
        motion = Motion(trial, moments.ravel())
        path = np.stack([motion.value(pointer) for pointer in pointers], axis=-1)
        ways = np.linalg.norm(np.diff(path.reshape(*moments.shape, -1), axis=1), axis=2).sum(axis=1)
        if ways.sum() <= 1e-12:
            return []
        # What stands still on its way keeps a moment of it.
        ways = np.maximum(ways, ways.sum() * 1e-4)
        frames = first + (last - first) * np.concatenate([[0], np.cumsum(ways)]) / ways.sum()
    return [
        {
            "op": "replace",
            "path": f"/channels/{escaped(pointer)}/keys",
            "value": [key.model_dump(mode="json") for key in _moved(keys, within, frames)],
        }
        for pointer, keys in channels.items()
    ]


def _moved(keys: list[Key], within: list[float], frames: Floats) -> list[Key]:
    """Keys at other frames, those that lie ``within`` in one curve."""
    at = dict(zip(within, frames.tolist(), strict=True))
    inner = [key for key in keys if key.frame in at]
    moments = np.array([round(at[key.frame], 4) for key in inner])
    eases = _curve(moments, np.array([key.value for key in inner]))
    # On from the last one it goes as it did.
    new = {
        key.frame: key.model_copy(update={"frame": float(moment), "ease": ease or key.ease})
        for key, moment, ease in zip(inner, moments, [*eases, None], strict=True)
    }
    return [new.get(key.frame, key) for key in keys]


def _curve(frames: Floats, values: Floats) -> list[Ease]:
    """Eases from each key (n,) to the next along a cubic spline whose slopes at keys are those of the
    parabola through three of them (Catmull & Rom, A Class of Local Interpolating Splines, 1974), its ends
    free."""
    gaps, ways = np.diff(frames), np.diff(values)
    rise = ways / np.maximum(gaps, 1e-9)
    if len(rise) == 1:
        return [Ease(kind="linear")]
    slopes = np.zeros(len(values))
    slopes[1:-1] = (gaps[:-1] * rise[1:] + gaps[1:] * rise[:-1]) / (gaps[:-1] + gaps[1:])
    slopes[0], slopes[-1] = 1.5 * rise[0] - 0.5 * slopes[1], 1.5 * rise[-1] - 0.5 * slopes[-2]
    return [
        Ease(kind="handles", x1=1 / 3, x2=2 / 3, out=gap * start / 3, back=-gap * end / 3)
        for gap, start, end in zip(gaps.tolist(), slopes[:-1].tolist(), slopes[1:].tolist(), strict=True)
    ]
