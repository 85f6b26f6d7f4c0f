"""Checks of a whole sequence, version by version."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from ..media.order import Order
from ..media.proofing import MOST, WIDE
from ..proof import Finding, Shown, checked, pictures_checked, sound_checked
from .bundle import Bundle
from .document import SequencePiece, Version
from .framing import reframed
from .layout import Layout
from .reel import SequenceReel
from .versions import versioned


@dataclass(frozen=True)
class SequenceFinding:
    """A finding in a piece of the line or of a lane: its shot (empty: none is there), the frame of the
    sequence, and what it is."""

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


def sequence_proofed(
    bundle: Bundle,
    version: Version | None = None,
    first: int = 0,
    last: int | None = None,
    stopped: Callable[[], bool] = lambda: False,
    seen: Callable[[Shown], None] = lambda _: None,
) -> list[SequenceFinding]:
    """Everything that is found in a version (none: the sequence as it is), of its frames ``first`` to
    ``last``: in its pieces, and in the pictures (``seen`` gets each) and the sound of the whole, over cuts
    and transitions."""
    sequence = bundle.sequence
    last = min(sequence.total - 1 if last is None else last, sequence.total - 1, first + MOST - 1)
    found = [
        one for one in sequence_checked(bundle, [version] if version else None) if first <= one.frame <= last
    ]
    if last < first or any(one.finding.kind == "files" for one in found):
        # Where files are missing nothing is to be seen or heard as it will be.
        return found
    shown = version or Version(width=sequence.width, height=sequence.height)
    width = min(WIDE, shown.width)
    height = max(16, round(width * shown.height / shown.width))
    made = versioned(bundle, version) if version else bundle
    reel = SequenceReel(made, Order(first, last, width, height, "draft"))

    def looked() -> Iterator[Shown]:
        for picture in reel.pictures(stopped):
            one = Shown(picture.number, picture.eight, picture.alone.coverage.max(axis=2))
            seen(one)
            yield one

    layout, rate = Layout(sequence), float(reel.rate)
    judged = pictures_checked(looked(), rate)
    samples = reel.sound()
    if samples is not None:
        judged += sound_checked(samples, first, rate)
    name = version.name if version else ""
    return found + [SequenceFinding(name, _shot_at(layout, one.frame), one.frame, one) for one in judged]


def _shot_at(layout: Layout, frame: int) -> str:
    """The shot that is seen on the line at a frame; nothing where there is none."""
    return next((one.piece.shot for one in layout.at(frame).line if one.piece.kind == "shot"), "")
