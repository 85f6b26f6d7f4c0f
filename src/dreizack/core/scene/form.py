"""What shapes a thing at one moment."""

from __future__ import annotations

import hashlib
from collections import OrderedDict
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..document import Bodied, Body, Edge, Floor, Mark, Mesh, Sheet, Shell, Title, resolve
from ..form import PARTS
from .pieces import Piece, Pieces, mark_pieces, sheet_pieces, shell_of, title_pieces

Floats = NDArray[np.float64]

# Share of the depth that lies before the plane of the words.
FORWARD = {"both": 0.5, "forward": 1.0, "back": 0.0}
# Chords stay within this share of the cap height where nobody has said how large the picture is.
TOLERANCE = 0.0008
NO_EDGE = Edge(profile="none")


@dataclass(frozen=True)
class Shape:
    """Depth and edges of a body, lengths in metres; ``forward`` is the share of the depth before z = 0."""

    depth: float
    forward: float
    front: Edge
    back: Edge

    @cached_property
    def key(self) -> str:
        return f"{self.depth}/{self.forward}/{self.front.model_dump_json()}/{self.back.model_dump_json()}"

    @classmethod
    def of(cls, body: Body | Shell) -> Shape:
        return cls(body.depth, FORWARD[body.direction] if isinstance(body, Body) else 0.5, body.front, body.back)


@dataclass(frozen=True)
class Form:
    """A thing as far as it shapes bodies; ``tolerance`` in metres.

    ``camera`` (3,) is where the camera stands in its space, where letters face it; ``cut`` the title
    that is cut out of a sheet and its matrix (16 numbers) in the space of the sheet.
    """

    thing: Bodied
    tolerance: float = 0.0
    camera: tuple[float, float, float] | None = None
    cut: tuple[Title, tuple[float, ...]] | None = None

    @cached_property
    def key(self) -> str:
        """A hash of all that shapes the form."""
        shaping = self.thing.model_dump_json(exclude={"name", "look", "place", "finish", "fill", "visibility"})
        if self.cut is not None:
            shaping += self.cut[0].model_dump_json(exclude={"name", "look", "place", "finish", "body", "sets", "visibility"}) + repr(self.cut[1])
        return hashlib.blake2b(f"{shaping}/{self.tolerance}/{self.camera}".encode(), digest_size=12).hexdigest()

    @cached_property
    def pieces(self) -> Pieces:
        found = _known.get(self.key)
        if found is None:
            found = _known[self.key] = self._made()
            while len(_known) > 512:
                _known.popitem(last=False)
        return found

    def _made(self) -> Pieces:
        if isinstance(self.thing, Title):
            return title_pieces(self.thing, self.camera)
        if isinstance(self.thing, Mark):
            return mark_pieces(self.thing)
        if isinstance(self.thing, Sheet):
            cut = None if self.cut is None else (self.cut[0], np.array(self.cut[1]).reshape(4, 4))
            return sheet_pieces(self.thing, cut)
        return Pieces([])

    def label(self, piece: Piece) -> str:
        """What a piece stands for: a character of the words, or the name of an outline."""
        if isinstance(self.thing, Title):
            return self.thing.words[piece.source : piece.source + 1]
        return self.thing.pieces[piece.source].name if isinstance(self.thing, Mark) else self.thing.name

    @property
    def chords(self) -> float:
        """How far chords may stray from curves, in metres."""
        return self.tolerance or size_of(self.thing) * TOLERANCE

    def coarser(self, share: float) -> Form:
        """The same where chords may stray from curves by a share of its size, or more if they may anyway."""
        return replace(self, tolerance=max(self.chords, size_of(self.thing) * share))

    @property
    def shapes(self) -> list[tuple[Shape, float, int]]:
        """The body and each shell: shape, place in depth, and which finish it wears (0: that of the piece)."""
        if isinstance(self.thing, Sheet):
            return [(Shape(self.thing.thickness, 0.5, NO_EDGE, NO_EDGE), 0.0, 0)]
        if isinstance(self.thing, Mesh | Floor):
            return []
        body = Shape.of(self.thing.body)
        middle = (body.forward - 0.5) * body.depth
        first = len(own_finishes(self.thing))
        return [(body, 0.0, 0)] + [(Shape.of(shell), middle + shell.place, first + i) for i, shell in enumerate(self.thing.shells)]

    def shelled(self, piece: Piece, finish: int) -> Piece:
        """The outline of a piece as the shell that wears a finish has it."""
        assert isinstance(self.thing, Title | Mark)
        shell = self.thing.shells[finish - len(own_finishes(self.thing))]
        return shell_of(piece, shell.offset)


_known: OrderedDict[str, Pieces] = OrderedDict()


def size_of(thing: Bodied) -> float:
    """How large its letters, or it itself, are about, in metres."""
    if isinstance(thing, Title):
        return thing.setting.size
    if isinstance(thing, Sheet):
        return min(thing.width, thing.height)
    return thing.size if isinstance(thing, Mark) else 1.0


def own_finishes(thing: Bodied) -> list[str]:
    """Pointers, below a thing, of the finishes its pieces wear by themselves."""
    if isinstance(thing, Title):
        return ["/finish", *(f"/ranges/{i}/finish" for i, section in enumerate(thing.ranges) if section.own_finish)]
    return ["/finish"] if isinstance(thing, Sheet | Floor) else [f"/finishes/{i}" for i in range(len(thing.finishes))]


def finishes(thing: Bodied) -> list[str]:
    """Pointers, below a thing, of all finishes its bodies wear by number: pieces, then shells, sets, and the wire."""
    found = own_finishes(thing)
    if isinstance(thing, Title | Mark):
        found += [f"/shells/{i}/finish" for i in range(len(thing.shells))]
        found += [f"/sets/{i}/finish" for i, letters in enumerate(thing.sets) if letters.own_finish]
        found += ["/wire/finish"] if thing.wire.edges != "none" else []
    return found


def surfaces(thing: Bodied) -> tuple[list[str], NDArray[np.int64]]:
    """Pointers, below a thing, of all its surfaces, and which one each part wears (finishes, PARTS)."""
    pointers: list[str] = []
    worn = []
    for at in finishes(thing):
        whole = len(pointers)
        pointers.append(at)
        own = resolve(thing, at).parts
        row = []
        for part in PARTS:
            row.append(len(pointers) if part in own else whole)
            if part in own:
                pointers.append(f"{at}/parts/{part}")
        worn.append(row)
    return pointers, np.array(worn, np.int64)
