"""Spans moved and stretched: keys go along with what they belong to."""

from __future__ import annotations

from typing import Any

from ...document import Channel, EditRefused, Key, Shot, Span, escaped

Patch = list[dict[str, Any]]


def respanned(shot: Shot, name: str, start: int, end: int, ripple: bool = False) -> Patch:
    """The patch that lets a thing be there from ``start`` up to ``end``: keys in its arrival go along with
    its beginning, those in its departure with its end, all of them where both move alike; the hold takes up
    what is left. With ``ripple`` things that come after it, and their keys, move as its end does.

    KeyError where there is no such thing, EditRefused where the span is none.
    """
    frames = shot.format.frames
    if not 0 <= start < end:
        raise EditRefused(
            f"/things/{escaped(name)}/span", f"a thing cannot be there from frame {start} up to frame {end}"
        )
    before = _of(shot, name)
    was_end = frames if before.whole else before.end
    was_start = 0 if before.whole else before.start
    patch = _moved(shot, name, start - was_start, end - was_end)
    after = {"whole": start == 0 and end == frames, "start": start, "end": end}
    patch.append(
        {
            "op": "replace",
            "path": f"/things/{escaped(name)}/span",
            "value": {**before.model_dump(mode="json"), **after},
        }
    )
    if ripple:
        for other in shot.things:
            span = _spanned(shot, other)
            if other == name or span is None or span.whole or span.start < was_end:
                continue
            by = max(end - was_end, -span.start)
            patch += _moved(shot, other, by, by)
            moved = {**span.model_dump(mode="json"), "start": span.start + by, "end": span.end + by}
            patch.append({"op": "replace", "path": f"/things/{escaped(other)}/span", "value": moved})
    return patch


def _spanned(shot: Shot, name: str) -> Span | None:
    return getattr(shot.things[name], "span", None)


def _of(shot: Shot, name: str) -> Span:
    span = _spanned(shot, name)
    if span is None:
        raise KeyError(name)
    return span


def _moved(shot: Shot, name: str, first: int, last: int) -> Patch:
    """Keys of a thing moved: those of its arrival by ``first`` frames, of its departure by ``last``."""
    span = _of(shot, name)
    start, end = (0, shot.format.frames) if span.whole else (span.start, span.end)
    patch = []
    for pointer, channel in shot.channels.items():
        if not pointer.startswith(f"/things/{name}/"):
            continue
        moved: dict[float, Key] = {}
        for key in channel.keys:
            arrives = start <= key.frame <= start + span.arrival
            leaves = end - span.departure <= key.frame <= end
            # Moved as a whole, all of it moves; else what is neither of the beginning nor of the end stays.
            by = first if arrives or first == last else last if leaves else 0
            moved[max(0.0, key.frame + by)] = key
        if [*moved] == [key.frame for key in channel.keys]:
            continue
        keys = [key.model_copy(update={"frame": frame}) for frame, key in sorted(moved.items())]
        patch.append(
            {
                "op": "replace",
                "path": f"/channels/{escaped(pointer)}",
                "value": Channel(keys=keys).model_dump(mode="json"),
            }
        )
    return patch
