"""The shots of a sequence as they are seen in it: in its format, with cameras that travel between them."""

from __future__ import annotations

from functools import lru_cache

from ..document import Shot
from .bundle import Bundle
from .document import SequencePiece
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
            plains = tuple(self.plain(piece.shot) for piece in pieces)
            one, other = (shot.model_dump_json() for shot in plains)
            out, comes = (piece.model_dump_json() for piece in pieces)
            begins = self.starts[into.number] - self.starts[into.number - 1]
            overlap = moment.transition.overlap
            made = _travelled(one, other, out, comes, begins, overlap)
            # A camera that stays is that of the shot itself.
            first, second = (b if a == b else a for a, b in zip(made, plains, strict=True))
            self._travelled[into.number] = first, second
        return self._travelled[into.number][moment.line.index(showing)]


@lru_cache(maxsize=16)
def _travelled(one: str, other: str, out: str, comes: str, begins: int, overlap: int) -> tuple[Shot, Shot]:
    """:func:`.travelling.travelled` of shots and pieces as JSON: who looks at a sequence asks for the same
    again and again. Nobody changes what comes back."""
    shots = Shot.model_validate_json(one), Shot.model_validate_json(other)
    pieces = SequencePiece.model_validate_json(out), SequencePiece.model_validate_json(comes)
    return travelled(shots, pieces, begins, overlap)


def seen_shots(bundle: Bundle) -> SeenShots:
    """The shots of a bundle in the size of its sequence."""
    return SeenShots(bundle, bundle.sequence.width, bundle.sequence.height)
