"""The shots of a sequence as they are seen in it: in its format, with cameras that travel between them."""

from __future__ import annotations

from ..document import Shot
from .bundle import Bundle
from .framing import Part, part_of, reframed
from .layout import Moment, Showing
from .travelling import travelled


class SeenShots:
    """The shots of a bundle for pictures ``width`` × ``height``; each is made once."""

    def __init__(self, bundle: Bundle, width: int, height: int) -> None:
        self.bundle, self.width, self.height = bundle, width, height
        self.starts = bundle.sequence.starts
        self._plain: dict[str, Shot] = {}
        self._travelled: dict[int, tuple[Shot, Shot]] = {}

    def plain(self, name: str) -> Shot:
        """A shot by itself, framed by the rule, unless it is framed by hand."""
        if name in self.bundle.sequence.crops:
            return self.bundle.shots[name]
        if name not in self._plain:
            framing = self.bundle.sequence.framing
            self._plain[name] = reframed(self.bundle.shots[name], self.width, self.height, framing)
        return self._plain[name]

    def part(self, name: str, size: tuple[int, int]) -> Part | None:
        """Which part of a shot's picture is seen at a ``size``, where it is framed by hand."""
        crop = self.bundle.sequence.crops.get(name)
        return part_of(self.bundle.shots[name].format.aspect, crop, size) if crop is not None else None

    def at(self, showing: Showing, moment: Moment) -> Shot:
        """What is shown of a shot at a moment of the sequence."""
        plain = self.plain(showing.piece.shot)
        if moment.transition is None or moment.transition.kind != "camera" or showing not in moment.line:
            return plain
        into = moment.line[1]
        pieces = moment.line[0].piece, into.piece
        if any(piece.kind != "shot" for piece in pieces):
            return plain
        if into.number not in self._travelled:
            shots = self.plain(pieces[0].shot), self.plain(pieces[1].shot)
            begins = self.starts[into.number] - self.starts[into.number - 1]
            overlap = moment.transition.overlap
            self._travelled[into.number] = travelled(shots, pieces, begins, overlap)
        return self._travelled[into.number][moment.line.index(showing)]


def seen_shots(bundle: Bundle) -> SeenShots:
    """The shots of a bundle in the size of its sequence."""
    return SeenShots(bundle, bundle.sequence.width, bundle.sequence.height)
