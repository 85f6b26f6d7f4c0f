"""The shots of a sequence as they are seen in it: in its format, with cameras that travel between them."""

from __future__ import annotations

from ..document import Shot
from .bundle import Bundle
from .framing import reframed
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
        """A shot by itself."""
        if name not in self._plain:
            framing = self.bundle.sequence.framing
            self._plain[name] = reframed(self.bundle.shots[name], self.width, self.height, framing)
        return self._plain[name]

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
