"""Sequences within sequences, laid out as one: what is rendered, heard, checked and handed over."""

from __future__ import annotations

import itertools
from collections.abc import Mapping

from ..document import EditRefused
from .bundle import SequenceFileError
from .document import HeardSound, Laid, Lane, Level, Sequence, SequencePiece, Transition, read_sequence

# Sequences hold one another so deep at most.
DEEPEST = 6
SILENT, QUIETEST, LOUDEST = -60.0, -60.0, 12.0


def flattened(sequence: Sequence, others: Mapping[str, Sequence], above: tuple[str, ...] = ()) -> Sequence:
    """The sequence with the pieces, titles and sounds of ``others`` (by name) in the place of pieces that
    stand for them; each frame shows what it showed.

    A stretch that begins or ends within a transition of theirs begins or ends with the piece that is there
    whole. How loud they are to be as a whole is not asked for here. SequenceFileError where one is missing,
    or holds itself.
    """
    if not sequence.sequences:
        return sequence
    line: list[SequencePiece] = []
    lanes: list[Lane] = []
    sounds = dict(sequence.sounds)
    crops = dict(sequence.crops)
    starts, pieces = sequence.starts, [one.model_copy(deep=True) for one in sequence.line]
    for place, (start, piece) in enumerate(zip(starts, pieces, strict=True)):
        if piece.kind != "sequence":
            line.append(piece)
            continue
        inner = _inner(piece, others, above)
        begin, end = round(piece.skip), round(piece.skip) + piece.frames
        after = pieces[place + 1].transition if place + 1 < len(pieces) else Transition()
        line += _joined(_stretch(inner, begin, end, piece), piece.transition, after)
        crops = inner.crops | crops
        overlap = piece.transition.overlap if place else 0
        for index, lane in enumerate(one for one in inner.lanes if one.on):
            if index == len(lanes):
                lanes.append(Lane(name=f"within {index + 1}"))
            lanes[index].pieces += _laid(lane, begin, end, start, overlap)
        if piece.heard:
            sounds |= _sounds(inner, begin, end, start, piece, sounds)
    made = {"line": line, "lanes": [*lanes, *sequence.lanes], "sounds": sounds, "crops": crops}
    try:
        return read_sequence(sequence.model_dump() | {k: _plain(v) for k, v in made.items()})
    except EditRefused as why:
        raise SequenceFileError(
            f"with what is within it this sequence is more than one may be: {why}"
        ) from None


def _plain(value: object) -> object:
    if isinstance(value, dict):
        return {name: one.model_dump() for name, one in value.items()}
    assert isinstance(value, list)
    return [one.model_dump() for one in value]


def _inner(piece: SequencePiece, others: Mapping[str, Sequence], above: tuple[str, ...]) -> Sequence:
    found = others.get(piece.sequence)
    called = piece.name or piece.sequence[:80]
    if found is None:
        raise SequenceFileError(f"the sequence '{called}' within this one is not there")
    if piece.sequence in above or len(above) >= DEEPEST:
        raise SequenceFileError(f"the sequence '{called}' would hold itself; take it off the line")
    return flattened(found, others, (*above, piece.sequence))


def _stretch(inner: Sequence, begin: int, end: int, piece: SequencePiece) -> list[SequencePiece]:
    """Pieces of the frames ``begin`` to ``end`` (not included) of a sequence; what is beyond its last one is
    black."""
    found: list[SequencePiece] = []
    starts = inner.starts
    for index, (start, one) in enumerate(zip(starts, inner.line, strict=True)):
        following = starts[index + 1] if index + 1 < len(starts) else None
        overlap = one.transition.overlap if index else 0
        first, last = max(start, begin), min(start + one.frames, end)
        gone = following is not None and following < begin
        coming = found and start < end < start + overlap
        if last <= first or gone or coming:
            continue
        heard, gain = one.heard and piece.heard, _level(one.gain + piece.gain)
        made = one.model_copy(update={"frames": last - first, "heard": heard, "gain": gain}, deep=True)
        made.__dict__.update(one.begun(first - start) if one.kind == "shot" else {"skip": 0.0})
        found.append(made)
    length = sum(one.frames for one in found) - sum(one.transition.overlap for one in found[1:])
    if length < piece.frames:
        found.append(SequencePiece(kind="colour", name="Black", frames=piece.frames - length))
    found[0].transition = Transition()
    return found


def _joined(found: list[SequencePiece], before: Transition, after: Transition) -> list[SequencePiece]:
    """Pieces that come in and go by the transitions of what they stand for. Where three would be there at
    once, the first (or last) of them gives way, and the transition is shorter."""
    before = before.model_copy(deep=True)
    while len(found) > 1 and before.overlap + found[1].transition.overlap > found[0].frames:
        _shorten(before, found[0].frames - found[1].transition.overlap)
        found = found[1:]
    while len(found) > 1 and found[-1].transition.overlap + after.overlap > found[-1].frames:
        _shorten(after, found[-1].frames - found[-1].transition.overlap)
        found = found[:-1]
    found[0].transition = before
    return found


def _shorten(transition: Transition, by: int) -> None:
    transition.frames = max(0, transition.frames - by)
    if not transition.frames:
        transition.kind = "cut"


def _laid(lane: Lane, begin: int, end: int, start: int, overlap: int) -> list[Laid]:
    """What of a lane is seen between two frames, moved to where they are now; it comes and goes with the
    transition of the line."""
    found = []
    for one in lane.pieces:
        first, last = max(one.at, begin), min(one.at + one.piece.frames, end)
        if last <= first:
            continue
        piece = one.piece.model_copy(update={"frames": last - first}, deep=True)
        piece.__dict__.update(one.piece.begun(first - one.at))
        fade_in = one.fade_in if first == one.at else 0
        fade_in = max(fade_in, overlap) if first == begin else fade_in
        fade_out = one.fade_out if last == one.at + one.piece.frames else 0
        found.append(Laid(at=start + first - begin, piece=piece, fade_in=fade_in, fade_out=fade_out))
    return found


def _sounds(
    inner: Sequence, begin: int, end: int, start: int, piece: SequencePiece, taken: Mapping[str, object]
) -> dict[str, HeardSound]:
    """Sounds of a sequence between two frames, moved to where they are now."""
    rate = inner.rate.per_second
    found: dict[str, HeardSound] = {}
    for name, sound in inner.sounds.items():
        cut = max(0.0, begin - sound.start)
        at = start + sound.start + cut - begin
        if sound.start >= end:
            continue
        levels = [(level.frame - cut, level.gain) for level in sound.levels]
        lasts = start + piece.frames - at
        moved = HeardSound(
            **sound.model_dump(exclude={"start", "skip", "gain", "levels", "fade_in"}),
            start=at,
            skip=min(3600.0, sound.skip + cut / rate),
            gain=_level(sound.gain + piece.gain),
            fade_in=max(0.0, sound.fade_in - cut),
            levels=_ended(levels, lasts),
        )
        free = next(one for n in itertools.count(1) if (one := f"{name}-{n}") not in taken | found.keys())
        found[free] = moved
    return found


def _ended(levels: list[tuple[float, float]], lasts: float) -> list[Level]:
    """Levels that begin with the sound, and are silent from where the stretch it is heard in ends."""

    def at(frame: float) -> float:
        if not levels:
            return 0.0
        for (a, low), (b, high) in itertools.pairwise(levels):
            if a <= frame <= b:
                return low + (high - low) * (frame - a) / (b - a)
        return levels[0][1] if frame < levels[0][0] else levels[-1][1]

    step = min(0.25, lasts / 2)
    within = [one for one in levels if 0 < one[0] < lasts - step]
    kept = [(0.0, at(0.0)), *within, (lasts - step, at(lasts - step)), (lasts, SILENT)]
    return [Level(frame=frame, gain=_level(gain)) for frame, gain in kept]


def _level(gain: float) -> float:
    return min(LOUDEST, max(QUIETEST, gain))
