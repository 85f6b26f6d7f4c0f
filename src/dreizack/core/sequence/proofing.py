"""Checks of a whole sequence, version by version."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ..proof import Finding, checked
from .bundle import Bundle
from .document import SequencePiece, Version
from .framing import reframed
from .versions import versioned


@dataclass(frozen=True)
class SequenceFinding:
    """A finding in a piece of the line or of a lane: its shot, the frame of the sequence, and what it is."""

    version: str
    shot: str
    frame: int
    finding: Finding


def sequence_checked(bundle: Bundle, versions: list[Version] | None = None) -> list[SequenceFinding]:
    """Findings of each piece in each version; of the sequence as it is where none are given. A shot that
    appears alike in several pieces or versions is judged once."""
    sequence = bundle.sequence
    original = Version(width=sequence.width, height=sequence.height)
    judged: dict[tuple[str, int, int], list[Finding]] = {}
    found = []
    for version in versions or [original]:
        made = versioned(bundle, version)
        for start, piece in _placed(bundle):
            if piece.kind != "shot":
                continue
            shot = made.shots[piece.shot]
            if piece.shot not in made.sequence.crops:
                shot = reframed(shot, version.width, version.height, sequence.framing)
            first = round(piece.skip)
            last = min(shot.format.frames, first + piece.frames) - 1
            key = (shot.model_dump_json(), first, last)
            if key not in judged:
                judged[key] = checked(shot, first, last)
            found += [
                SequenceFinding(version.name if versions else "", piece.shot, start + one.frame - first, one)
                for one in judged[key]
            ]
    return found


def _placed(bundle: Bundle) -> Iterator[tuple[int, SequencePiece]]:
    """Pieces and where they begin."""
    sequence = bundle.sequence
    yield from zip(sequence.starts, sequence.line, strict=True)
    for lane in sequence.lanes:
        if lane.on:
            yield from ((laid.at, laid.piece) for laid in lane.pieces)
