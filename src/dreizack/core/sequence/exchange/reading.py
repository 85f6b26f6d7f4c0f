"""A timeline or an edit decision list becomes a sequence of a production's shots."""

from __future__ import annotations

import json
from fractions import Fraction
from typing import Any

from ...document import EditRefused, Format, Rate
from ...sandbox import sandboxed
from ..bundle import SequenceFileError
from ..document import Sequence, Transition, read_sequence
from .edit_list import is_edit_list, line_of_events, read_events
from .timeline import sequence_settings

# Name of a shot, and what it is called in the sequence with its format.
Shots = dict[str, tuple[str, Format]]
MAX_BYTES = 8 * 1024 * 1024
READER = "dreizack.core.readers.timeline:read_timeline"


def read_edit(data: bytes, name: str, shots: Shots) -> Sequence:
    """The sequence of a file; pieces find their shots by name. SequenceFileError or FileRefused say what is
    wrong with it."""
    if len(data) > MAX_BYTES:
        raise SequenceFileError(f"the file is larger than {MAX_BYTES // 1024 // 1024} MB")
    head = data[:400].lstrip()
    if head.startswith(b"{"):
        plain = json.loads(sandboxed(READER, data, what="timeline", seconds=20, megabytes=800))
        return _made(_of_timeline(plain, name, shots))
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = data.decode("latin-1")
    if not is_edit_list(text):
        raise SequenceFileError("this is neither a timeline (OpenTimelineIO) nor an edit decision list")
    formats = [found for _, found in shots.values()]
    first = formats[0] if formats else Format()
    title, events = read_events(text, first.rate.per_second)
    names = {event.name or event.reel for event in events if event.reel.upper() not in ("BL", "BLACK", "BLK")}
    known = {wanted: _found(wanted, shots) for wanted in names}
    line = line_of_events(events, known)
    return _made(
        {
            "name": name or title or "Sequence",
            "width": first.width,
            "height": first.height,
            "rate": first.rate.model_dump(),
            "line": [piece.model_dump(mode="json") for piece in line],
        }
    )


def _made(tree: dict[str, Any]) -> Sequence:
    try:
        return read_sequence(tree)
    except EditRefused as why:
        raise SequenceFileError(f"at {why.where}: {why}") from None


def _found(wanted: str, shots: Shots) -> str:
    """The shot of a name; names in lists are cut and made plain, so that a beginning does."""
    for name, (shot, _) in shots.items():
        if name == wanted:
            return shot
    for name, (shot, _) in shots.items():
        mine, theirs = _plain(name), _plain(wanted)
        if mine == theirs or (len(theirs) >= 4 and mine.startswith(theirs)):
            return shot
    raise SequenceFileError(
        f"there is no shot called “{wanted[:80]}” in this production; name one so, or import it first"
    )


def _plain(text: str) -> str:
    return "".join(c for c in text.upper() if c.isalnum())


def _of_timeline(plain: dict[str, Any], name: str, shots: Shots) -> dict[str, Any]:
    formats = [found for _, found in shots.values()]
    first = formats[0] if formats else Format()
    tree: dict[str, Any] = {
        "width": first.width,
        "height": first.height,
        "rate": _rate(plain["rate"]).model_dump(),
        **sequence_settings(plain),
    }
    tree["name"] = (name or plain["name"] or "Sequence")[:120]
    video = [track for track in plain["tracks"] if track["kind"] == "Video"]
    tree["line"] = _line(video[0]["items"], shots) if video else []
    tree["lanes"] = [_lane(track, shots) for track in video[1:]]
    tree["markers"] = [
        {"frame": max(0, one["frame"]), "name": one["name"][:60], "note": one["note"][:400]}
        for one in plain["markers"]
    ]
    tree["sounds"] = {
        item["meta"]["name"]: item["meta"]["sound"]
        for track in plain["tracks"]
        if track["kind"] == "Audio"
        for item in track["items"]
        if item["type"] == "clip" and {"sound", "name"} <= set(item["meta"])
    }
    return tree


def _rate(per_second: float) -> Rate:
    """The rate as a fraction of the usual ones."""
    whole = round(per_second)
    if abs(per_second - whole) < 1e-3:
        return Rate(num=max(1, whole), den=1)
    if abs(per_second - whole * 1000 / 1001) < 1e-3:
        return Rate(num=whole * 1000, den=1001)
    found = Fraction(per_second).limit_denominator(1001)
    return Rate(num=found.numerator, den=found.denominator)


def _line(items: list[dict[str, Any]], shots: Shots) -> list[dict[str, Any]]:
    pieces: list[dict[str, Any]] = []
    coming: dict[str, Any] | None = None
    for item in items:
        if item["type"] == "transition":
            coming = item
            continue
        piece = _piece(item, shots)
        piece["transition"] = _transition(item, coming)
        if coming is not None and pieces:
            # A timeline cuts within the transition; here both pieces last through it.
            pieces[-1]["frames"] += coming["after"]
            piece["frames"] += coming["before"]
            before, ramp = coming["before"], piece.get("gains", 0.0) / 200
            piece["skip"] = max(0.0, piece["skip"] - before * piece["speed"] - before * before * ramp)
        pieces.append(piece)
        coming = None
    return pieces


def _transition(item: dict[str, Any], coming: dict[str, Any] | None) -> dict[str, Any]:
    ours = item["meta"].get("piece", {}).get("transition", {}) if item.get("meta") else {}
    made = Transition.model_validate(ours if isinstance(ours, dict) else {}).model_dump(mode="json")
    if coming is None:
        return made | ({"kind": "cut"} if made["kind"] != "cut" else {})
    kind = made["kind"] if made["kind"] != "cut" else "dissolve"
    return made | {"kind": kind, "frames": coming["before"] + coming["after"]}


def _piece(item: dict[str, Any], shots: Shots) -> dict[str, Any]:
    """A clip or gap as a piece: what the timeline says of time counts, what only we know is added."""
    ours = item["meta"].get("piece") if item.get("meta") else None
    made: dict[str, Any] = dict(ours) if isinstance(ours, dict) else {}
    if item["type"] == "gap" or made.get("kind") == "colour":
        made["kind"], made["shot"] = "colour", ""
    else:
        there = {shot for shot, _ in shots.values()}
        if made.get("shot") not in there:
            made["shot"] = _found(item["name"], shots)
        made["kind"], made["skip"] = "shot", max(0.0, item["start"])
    made.setdefault("name", item["name"][:120])
    if not _ramps(made, item["speed"]):
        made["speed"], made["gains"] = item["speed"], 0.0
    made["frames"] = max(1, item["frames"])
    made.setdefault("skip", 0.0)
    return made


def _ramps(made: dict[str, Any], pace: float) -> bool:
    """Whether a piece of ours is a ramp that runs at this pace in the mean, so that nobody changed it."""
    gains, speed, frames = (made.get(name) for name in ("gains", "speed", "frames"))
    if not all(isinstance(one, int | float) for one in (gains, speed, frames)) or not gains:
        return False
    return bool(abs(speed + frames * gains / 200 - pace) < 1e-6)


def _lane(track: dict[str, Any], shots: Shots) -> dict[str, Any]:
    at, pieces = 0, []
    for item in track["items"]:
        if item["type"] == "clip":
            fades = item["meta"].get("fades", [0, 0])
            pieces.append({"at": at, "piece": _piece(item, shots), "fade_in": fades[0], "fade_out": fades[1]})
        at += item.get("frames", 0)
    on = track["meta"].get("lane", {}).get("on", True)
    return {"name": track["name"][:60] or "Titles", "on": on, "pieces": pieces}
