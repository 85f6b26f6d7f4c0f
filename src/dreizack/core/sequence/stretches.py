"""Stretches of a sequence through which one shot alone stands for the picture: what a live view can play
before frames are kept."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

from .document import Sequence
from .layout import Layout, Moment, Showing


@dataclass(frozen=True)
class Stretch:
    """Frames ``first`` to ``last`` of the sequence (both included), where ``shot`` is at its frame ``frame``
    in the first one and ``speed`` frames of it go by in each, which ``gains`` so many hundredths a frame;
    never before its first frame. Its picture alone lacks the ``transition``, or what is ``over`` it, where
    there is such a thing."""

    first: int
    last: int
    shot: str
    frame: float
    speed: float
    gains: float
    transition: bool
    over: bool


def stretches(sequence: Sequence) -> list[Stretch]:
    """The stretches of a sequence in their order; in a transition whatever has the greater share stands for
    both. Frames that show no shot on the line are in none."""
    layout, found = Layout(sequence), []
    for first, end in itertools.pairwise(_bounds(layout)):
        moment = layout.at(first)
        showing = _greater(moment)
        if showing and showing.piece.shot and showing.piece.kind == "shot":
            over, crossing = bool(moment.over), moment.transition is not None
            piece, since = showing.piece, float(showing.since)
            speed = piece.speed + since * piece.gains / 100
            frame = piece.course(since)
            found.append(Stretch(first, end - 1, piece.shot, frame, speed, piece.gains, crossing, over))
    return found


def _greater(moment: Moment) -> Showing | None:
    if not moment.line:
        return None
    return moment.line[-1] if moment.along >= 0.5 else moment.line[0]


def _bounds(layout: Layout) -> list[int]:
    """Frames at which another piece, or other company, begins."""
    bounds = {0, layout.total}
    for piece, start in zip(layout.sequence.line, layout.starts, strict=True):
        overlap = piece.transition.overlap
        # Eased or not, a transition is half along in its middle.
        bounds |= {start, start + overlap // 2, start + overlap, start + piece.frames}
    for lane in layout.sequence.lanes:
        for laid in lane.pieces:
            bounds |= {laid.at, laid.at + laid.piece.frames}
    return sorted(bound for bound in bounds if 0 <= bound <= layout.total)
