"""OpenTimelineIO as plain JSON."""

from __future__ import annotations

import json
from typing import Any

import opentimelineio as otio

from ..sandbox import Unreadable

# Under this name lies what only we know of a timeline.
OURS = "dreizack"


def read_timeline(data: bytes) -> bytes:
    """In the sandbox: a timeline as plain JSON: tracks of clips, gaps and transitions in frames."""
    try:
        timeline = otio.adapters.read_from_string(data.decode("utf-8"), "otio_json")
    except UnicodeDecodeError:
        raise Unreadable("the file is not text in UTF-8") from None
    except Exception as why:
        raise Unreadable(f"this is no OpenTimelineIO, or it is damaged: {str(why)[:200]}") from None
    if not isinstance(timeline, otio.schema.Timeline):
        raise Unreadable("there is no timeline in this file, but something else of that kind")
    rate = _rate(timeline)
    tracks = [
        {
            "name": track.name,
            "kind": track.kind,
            "meta": _ours(track),
            "items": [_item(item, rate) for item in track],
        }
        for track in timeline.tracks
        if isinstance(track, otio.schema.Track)
    ]
    markers = [
        {
            "frame": _frames(marker.marked_range.start_time, rate),
            "name": marker.name,
            "note": str(_ours(marker).get("note", "")),
        }
        for marker in timeline.tracks.markers
    ]
    made = {
        "name": timeline.name,
        "rate": rate,
        "tracks": tracks,
        "markers": markers,
        "meta": _ours(timeline),
    }
    return json.dumps(made).encode()


def _rate(timeline: Any) -> float:
    for track in timeline.tracks:
        for item in track:
            if isinstance(item, otio.schema.Clip | otio.schema.Gap):
                return float(item.trimmed_range().duration.rate)
    return 25.0


def _frames(time: Any, rate: float) -> int:
    frames: int = round(time.rescaled_to(rate).value)
    return frames


def _ours(item: Any) -> Any:
    """Our metadata as plain data."""
    found = item.metadata.get(OURS)
    return json.loads(otio.core.serialize_json_to_string(found)) if found is not None else {}


def _item(item: Any, rate: float) -> dict[str, Any]:
    if isinstance(item, otio.schema.Transition):
        return {
            "type": "transition",
            "name": item.name,
            "kind": item.transition_type,
            "before": _frames(item.in_offset, rate),
            "after": _frames(item.out_offset, rate),
        }
    shown = item.trimmed_range()
    speed = next(
        (float(e.time_scalar) for e in item.effects if isinstance(e, otio.schema.LinearTimeWarp)), 1.0
    )
    return {
        "type": "gap" if isinstance(item, otio.schema.Gap) else "clip",
        "name": item.name,
        "start": shown.start_time.rescaled_to(rate).value,
        "frames": _frames(shown.duration, rate),
        "speed": speed,
        "meta": _ours(item),
    }
