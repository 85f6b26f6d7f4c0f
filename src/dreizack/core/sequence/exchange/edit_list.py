"""Edit decision lists in the form that every program reads (CMX 3600, after SMPTE ST 258)."""

from __future__ import annotations

import re
from dataclasses import dataclass

from ..bundle import Bundle, SequenceFileError
from ..document import SequencePiece
from . import timecode

# Lists begin at the first hour, as tapes do.
BEGIN_SECONDS = 3600
REEL = 8
MAX_EVENTS = 999
BLACK = "BL"
# What a list can say of a transition; all others are written as dissolves, with a note.
WIPE = "W001"


def write_edit_list(bundle: Bundle) -> str:
    """The line of a sequence as an edit decision list; lanes and sounds are not in it."""
    sequence = bundle.sequence
    rate = sequence.rate.per_second
    begin = BEGIN_SECONDS * round(rate)
    lines = [f"TITLE: {_plain(sequence.name)[:70]}", "FCM: NON-DROP FRAME", ""]
    reels = _reels(bundle)
    before: SequencePiece | None = None
    for number, (start, piece) in enumerate(zip(sequence.starts, sequence.line, strict=True), 1):
        following = sequence.line[number].transition.overlap if number < len(sequence.line) else 0
        overlap = piece.transition.overlap if before is not None else 0
        first, last = round(piece.skip), _source_at(piece, piece.frames)
        at = [timecode.written(frame, rate) for frame in (first, last)]
        record = [timecode.written(begin + frame, rate) for frame in (start, start + piece.frames)]
        if before is not None and overlap:
            # The piece before, standing still at where it gives way.
            out = timecode.written(_source_at(before, before.frames - overlap), rate)
            lines.append(_event(number, reels[_source(before)], "C", 0, (out, out), (record[0], record[0])))
        kind = WIPE if piece.transition.kind == "wipe" else "D"
        # What the next one lies over belongs to its event: this one's record ends where that begins.
        end = timecode.written(begin + start + piece.frames - following, rate)
        until = timecode.written(_source_at(piece, piece.frames - following), rate)
        lines.append(
            _event(
                number,
                reels[_source(piece)],
                kind if overlap else "C",
                overlap,
                (at[0], until),
                (record[0], end),
            )
        )
        if not piece.as_filmed:
            # A list knows no ramps: its speed in the mean.
            lines.append(f"M2   {reels[_source(piece)]:<8} {piece.pace * rate:05.1f} {at[0]}")
        if before is not None and overlap:
            lines.append(f"* FROM CLIP NAME: {_called(before, bundle)}")
            lines.append(f"* TO CLIP NAME: {_called(piece, bundle)}")
            if piece.transition.kind not in ("dissolve", "wipe"):
                lines.append(f"* EFFECT NAME: {piece.transition.kind.upper()}")
        else:
            lines.append(f"* FROM CLIP NAME: {_called(piece, bundle)}")
        before = piece
    return "\r\n".join(lines) + "\r\n"


def _source_at(piece: SequencePiece, index: int) -> int:
    """How far its source has gone by at one of its frames, whichever way it runs."""
    return round(piece.skip + abs(piece.course(float(index)) - piece.skip))


def _event(
    number: int, reel: str, kind: str, over: int, source: tuple[str, str], record: tuple[str, str]
) -> str:
    length = f"{over:03d}" if over else "   "
    return f"{number:03d}  {reel:<8} V     {kind:<4} {length} {source[0]} {source[1]} {record[0]} {record[1]}"


def _source(piece: SequencePiece) -> str:
    return piece.shot if piece.kind == "shot" else ""


def _called(piece: SequencePiece, bundle: Bundle) -> str:
    if piece.kind != "shot":
        return "BLACK"
    return _plain(bundle.shots[piece.shot].name)


def _plain(text: str) -> str:
    return re.sub(r"[^\x20-\x7e]", "_", text)


def _reels(bundle: Bundle) -> dict[str, str]:
    """Names of at most eight letters and digits, no two alike."""
    found = {"": BLACK}
    for name in bundle.sequence.shots:
        plain = re.sub(r"[^A-Z0-9]", "", _plain(bundle.shots[name].name).upper())[:REEL] or "SHOT"
        reel, count = plain, 1
        while reel in found.values():
            count += 1
            reel = f"{plain[: REEL - len(str(count))]}{count}"
        found[name] = reel
    return found


EVENT = re.compile(
    r"^(\d{3,6})\s+(\S+)\s+(\S+)\s+(C|D|W\d{3}|K\s?[BO]?)\s*(\d{0,4})\s+"
    r"(\d\d[:;]\d\d[:;]\d\d[:;]\d\d)\s+(\S+)\s+(\S+)\s+(\S+)\s*$"
)


@dataclass
class Event:
    """A line of a list: reel, kind and length of its transition, frames of the source and the record."""

    line: int
    reel: str
    kind: str
    over: int
    first: int
    last: int
    start: int
    end: int
    name: str = ""


def read_events(text: str, rate: float) -> tuple[str, list[Event]]:
    """Title and picture events of a list; SequenceFileError names the line."""
    title, events = "", []
    for number, line in enumerate(text.splitlines(), 1):
        stripped = line.strip()
        if stripped.upper().startswith("TITLE:"):
            title = stripped[6:].strip()
        elif found := EVENT.match(stripped):
            _, reel, track, kind, over, *times = found.groups()
            if track.upper().startswith("A"):
                continue
            try:
                first, last, start, end = (timecode.read(time, rate) for time in times)
            except ValueError as why:
                raise SequenceFileError(f"line {number}: {why}") from None
            if end < start or last < first:
                raise SequenceFileError(f"line {number}: it ends before it begins")
            events.append(Event(number, reel, kind[0], int(over or 0), first, last, start, end))
        elif (
            events
            and (named := re.match(r"\*\s*(FROM|TO) CLIP NAME:\s*(.+)$", stripped, re.IGNORECASE))
            # Of a transition it is what comes that the event is of.
            and (named[1].upper() == "TO" or not events[-1].over)
        ):
            events[-1].name = named[2].strip()
    if not events:
        raise SequenceFileError("there is no event in this list; export it as an edit decision list")
    if len(events) > MAX_EVENTS:
        raise SequenceFileError(f"the list has {len(events)} events; {MAX_EVENTS} are read at most")
    return title, events


def line_of_events(events: list[Event], found: dict[str, str]) -> list[SequencePiece]:
    """Pieces of a line from events; ``found`` says which shot a name is."""
    shown = [event for event in events if event.end > event.start]
    pieces: list[SequencePiece] = []
    at = shown[0].start if shown else 0
    for event in shown:
        if event.start > at:
            pieces.append(SequencePiece(kind="colour", name="BLACK", frames=event.start - at))
        elif event.start < at:
            raise SequenceFileError(f"line {event.line}: it begins before the event before it has ended")
        black = event.reel.upper() in (BLACK, "BLACK", "BLK")
        piece = SequencePiece(
            kind="colour" if black else "shot",
            shot="" if black else found[event.name or event.reel],
            name=event.name or event.reel,
            skip=0 if black else event.first,
            frames=event.end - event.start,
        )
        if event.over and pieces:
            piece.transition.kind = "wipe" if event.kind == "W" else "dissolve"
            piece.transition.frames = event.over
            # In a list the piece before ends where this one begins to come in; here it goes on beneath it.
            pieces[-1].frames += event.over
        pieces.append(piece)
        at = event.end
    return pieces


def is_edit_list(text: str) -> bool:
    """Whether a text looks like a list."""
    return any(EVENT.match(line.strip()) for line in text.splitlines()[:400])
