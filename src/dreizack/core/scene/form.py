"""What shapes the letters of a title at one moment, and the pieces it is made of."""

from __future__ import annotations

import hashlib
from collections import OrderedDict
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..document import Body, Edge, Outlines, Shell, Title
from ..form.outlines import moved, touching, united, worked
from ..lettering import Outline, glyph_outline, set_words
from ..lettering.placing import letter_matrices

Floats = NDArray[np.float64]

# Share of the depth that lies before the plane of the words.
FORWARD = {"both": 0.5, "forward": 1.0, "back": 0.0}
# Chords stay within this share of the cap height where nobody has said how large the picture is.
TOLERANCE = 0.0008


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
class Piece:
    """An outline that gets a body: ``key`` names it, ``em`` is metres a unit of it, ``matrix`` (4, 4) its place.

    ``source``, ``word``, ``line`` say where in the words it comes from, ``finish`` which finish it wears.
    """

    key: str
    outline: Outline
    em: float
    matrix: Floats
    source: int
    word: int
    line: int
    finish: int


@dataclass(frozen=True)
class Pieces:
    """All pieces of a form, the characters no typeface has, and those taken from another one."""

    listed: list[Piece]
    missing: str = ""
    borrowed: str = ""


@dataclass(frozen=True)
class Form:
    """A title as far as it shapes bodies; ``tolerance`` in metres, ``camera`` (3,) where letters face it."""

    thing: Title
    tolerance: float = 0.0
    camera: tuple[float, float, float] | None = None

    @cached_property
    def key(self) -> str:
        """A hash of all that shapes the form."""
        shaping = self.thing.model_dump_json(exclude={"name", "place", "finish"})
        return hashlib.blake2b(f"{shaping}/{self.tolerance}/{self.camera}".encode(), digest_size=12).hexdigest()

    @cached_property
    def pieces(self) -> Pieces:
        found = _known.get(self.key)
        if found is None:
            found = title_pieces(self.thing, self.camera)
            _known[self.key] = found
            while len(_known) > 512:
                _known.popitem(last=False)
        return found

    def label(self, piece: Piece) -> str:
        """The character a piece stands for."""
        return self.thing.words[piece.source : piece.source + 1]

    @property
    def chords(self) -> float:
        """How far chords may stray from curves, in metres."""
        return self.tolerance or self.thing.setting.size * TOLERANCE

    @property
    def shapes(self) -> list[tuple[Shape, float, int]]:
        """The body and each shell: shape, place in depth, and which finish it wears (0: that of the piece)."""
        body = Shape.of(self.thing.body)
        middle = (body.forward - 0.5) * body.depth
        own = sum(1 for section in self.thing.ranges if section.own_finish)
        return [(body, 0.0, 0)] + [
            (Shape.of(shell), middle + shell.place, 1 + own + i) for i, shell in enumerate(self.thing.shells)
        ]

    def shelled(self, piece: Piece, finish: int) -> Piece:
        """The outline of a piece as the shell that wears a finish has it."""
        number = finish - (len(self.shapes) - len(self.thing.shells)) - sum(1 for s in self.thing.ranges if s.own_finish)
        shell = self.thing.shells[number]
        return _worked(piece, Outlines(spread=shell.offset))


_known: OrderedDict[str, Pieces] = OrderedDict()


def finishes(title: Title) -> list[str]:
    """Pointers, below the title, of the finishes its bodies wear: its own, those of ranges, those of shells."""
    ranges = [f"/ranges/{i}/finish" for i, section in enumerate(title.ranges) if section.own_finish]
    return ["/finish", *ranges, *(f"/shells/{i}/finish" for i in range(len(title.shells)))]


def title_pieces(title: Title, camera: tuple[float, float, float] | None = None) -> Pieces:
    """The letters of a title, set, placed and worked on."""
    numbers, own = [], 0
    for section in title.ranges:
        own += section.own_finish
        numbers.append(own if section.own_finish else 0)
    layout = set_words(title.words, title.setting, title.ranges, numbers)
    outlines = [glyph_outline(glyph) for glyph in layout.glyphs]
    centres = np.array([_centre(o) * em for o, em in zip(outlines, layout.ems, strict=True)]).reshape(-1, 2)
    matrices = letter_matrices(layout, title.setting, title.path, centres, None if camera is None else np.array(camera))
    listed = [
        Piece(glyph.key, outline, float(em), matrix, int(source), int(word), int(line), int(finish))
        for glyph, outline, em, matrix, source, word, line, finish in zip(
            layout.glyphs, outlines, layout.ems, matrices, layout.sources, layout.word, layout.line, layout.finish, strict=True
        )
        if not outline.empty
    ]
    if title.outlines.weld:
        listed = _welded(listed, [place for place, outline in zip(layout.places, outlines, strict=True) if not outline.empty])
    return Pieces([_worked(piece, title.outlines) for piece in listed], layout.missing, layout.borrowed)


def _works(work: Outlines) -> bool:
    return work.hollow or abs(work.spread) > 1e-7


_outlines: OrderedDict[tuple[str, float, str], Outline] = OrderedDict()


def _worked(piece: Piece, work: Outlines) -> Piece:
    """A piece with its outline spread and hollowed."""
    if not _works(work):
        return piece
    recipe = work.model_dump_json(exclude={"weld"})
    name = (piece.key, piece.em, recipe)
    if name not in _outlines:
        _outlines[name] = worked(piece.outline, piece.em, work)
        while len(_outlines) > 2048:
            _outlines.popitem(last=False)
    return replace(piece, key=f"{piece.key}|{recipe}", outline=_outlines[name])


def _centre(outline: Outline) -> Floats:
    """Middle of the ink, in the outline's units."""
    if outline.empty:
        return np.zeros(2)
    points = outline.controls.reshape(-1, 2)
    middle: Floats = (points.min(axis=0) + points.max(axis=0)) / 2
    return middle


def _welded(listed: list[Piece], places: Sequence[Floats]) -> list[Piece]:
    """Pieces that touch where the words are set straight, at ``places``, joined; they go where the first of them goes."""
    flat = [moved(piece.outline, piece.em, place) for piece, place in zip(listed, places, strict=True)]
    group = touching(flat)
    joined = []
    for first in np.unique(group).tolist():
        members = np.flatnonzero(group == first).tolist()
        if len(members) == 1:
            joined.append(listed[first])
            continue
        whole = moved(united([flat[i] for i in members]), 1.0, -places[first])
        name = "+".join(f"{listed[i].key}@{listed[i].em:.6g},{(places[i] - places[first]).round(6).tolist()}" for i in members)
        lead = listed[first]
        joined.append(Piece(name, whole, 1.0, lead.matrix, lead.source, lead.word, lead.line, lead.finish))
    return joined
