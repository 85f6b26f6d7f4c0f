"""What of a sequence is seen when."""

from __future__ import annotations

from dataclasses import dataclass

from .document import Sequence, SequencePiece, Transition


@dataclass(frozen=True)
class Showing:
    """A piece at a frame: which one, its frame within the shot, how much of it is there (lanes fade), and
    how many frames it has been there."""

    number: int
    piece: SequencePiece
    frame: float
    share: float = 1.0
    since: int = 0


@dataclass(frozen=True)
class Moment:
    """A frame of the sequence: what is on the line (nothing, one piece, or two in a transition that is so far
    along), and what lies over it, the lowest lane first."""

    line: tuple[Showing, ...]
    transition: Transition | None
    along: float
    over: tuple[Showing, ...]


class Layout:
    """A sequence laid out in time. Pieces are numbered: those of the line, then those of the lanes."""

    def __init__(self, sequence: Sequence) -> None:
        self.sequence, self.starts, self.total = sequence, sequence.starts, sequence.total

    def at(self, frame: int) -> Moment:
        """What is seen at a frame."""
        shown = [
            (number, piece, frame - start)
            for number, (piece, start) in enumerate(zip(self.sequence.line, self.starts, strict=True))
            if start <= frame < start + piece.frames
        ][-2:]
        line = tuple(
            Showing(number, piece, piece.shot_frame(index), since=index) for number, piece, index in shown
        )
        transition, along = None, 1.0
        if len(shown) == 2:
            transition = shown[1][1].transition
            # Neither end is a frame of its own: it would be seen twice.
            along = (shown[1][2] + 1) / (transition.overlap + 1)
            if transition.ease == "soft":
                along = along * along * (3 - 2 * along)
        return Moment(line, transition, along, self._over(frame))

    def _over(self, frame: int) -> tuple[Showing, ...]:
        found, number = [], len(self.sequence.line)
        for lane in self.sequence.lanes:
            for laid in lane.pieces:
                index = frame - laid.at
                if lane.on and 0 <= index < laid.piece.frames:
                    share = 1.0
                    if laid.fade_in:
                        share = min(share, (index + 1) / (laid.fade_in + 1))
                    if laid.fade_out:
                        share = min(share, (laid.piece.frames - index) / (laid.fade_out + 1))
                    found.append(Showing(number, laid.piece, laid.piece.shot_frame(index), share, index))
                number += 1
        return tuple(found)
