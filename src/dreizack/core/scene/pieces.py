"""The pieces a form is made of: letters of a title, outlines of a mark, a sheet with its openings."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import pathops
from numpy.typing import NDArray

from ..artwork.path_data import outline_from_data
from ..document import Mark, Outlines, Sheet, Title
from ..form.outlines import combined, moved, rectangle, spread, touching, united, worked
from ..lettering import Layout, Outline, glyph_outline, set_words
from .sets import in_sets

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Piece:
    """An outline that gets a body: ``key`` names it, ``em`` is metres a unit of it.

    ``letter`` is the number of the letter, as the words are set, that it stands where; ``source``, ``word``,
    ``line`` say where in the words it comes from, ``finish`` which finish it wears; ``whole`` is the same
    before it was hollowed, for shells.
    """

    key: str
    outline: Outline
    em: float
    letter: int
    source: int
    word: int
    line: int
    finish: int
    whole: tuple[str, Outline] | None = None


@dataclass(frozen=True)
class Pieces:
    """All pieces of a form, the ``layout`` of a title's words with the middles (letters, 2) of its letters'
    ink in metres, the characters no typeface has, and those taken from another one."""

    listed: list[Piece]
    layout: Layout | None = None
    centres: Floats | None = None
    missing: str = ""
    borrowed: str = ""

    @cached_property
    def origins(self) -> Floats:
        """Where the pieces' own origins lie (pieces, 2), in metres, where the words are set straight."""
        if self.layout is None:
            return np.zeros((len(self.listed), 2))
        letters = np.array([piece.letter for piece in self.listed], np.int64)
        found: Floats = self.layout.places[letters].reshape(-1, 2)
        return found

    @cached_property
    def middles(self) -> Floats:
        """The middles (pieces, 2) of the pieces' ink, in metres, where the words are set straight."""
        own = np.array([_centre(piece.outline) * piece.em for piece in self.listed]).reshape(-1, 2)
        found: Floats = self.origins + own
        return found


def title_pieces(title: Title, shifts: Sequence[Sequence[tuple[str, float]]] | None = None) -> Pieces:
    """The letters of a title, set and worked on; where they stand is a matter of poses. ``shifts`` moves each
    piece along axes of its typeface, (tag, value) pairs; it stays where it is set."""
    numbers, own = [], 0
    for section in title.ranges:
        own += section.own_finish
        numbers.append(own if section.own_finish else 0)
    layout = set_words(title.words, title.setting, title.ranges, numbers)
    outlines = [glyph_outline(glyph) for glyph in layout.glyphs]
    shown = layout.glyphs
    if shifts is not None:
        # Pieces are the glyphs that have an outline.
        own_shifts = iter(shifts)
        shown = [
            glyph if outline.empty else glyph.moved_along(next(own_shifts, ()))
            for glyph, outline in zip(shown, outlines, strict=True)
        ]
        outlines = [glyph_outline(glyph) for glyph in shown]
    centres = np.array([_centre(o) * em for o, em in zip(outlines, layout.ems, strict=True)]).reshape(-1, 2)
    listed = [
        Piece(glyph.key, outline, float(em), number, int(source), int(word), int(line), int(finish))
        for number, (glyph, outline, em, source, word, line, finish) in enumerate(
            zip(
                shown,
                outlines,
                layout.ems,
                layout.sources,
                layout.word,
                layout.line,
                layout.finish,
                strict=True,
            )
        )
        if not outline.empty
    ]
    if title.welds:
        listed = _welded(
            listed,
            [place for place, outline in zip(layout.places, outlines, strict=True) if not outline.empty],
        )
    first = 1 + own + len(title.shells)
    listed = _in_sets([shaped(piece, title.outlines) for piece in listed], title, first)
    return Pieces(listed, layout, centres, layout.missing, layout.borrowed)


def mark_pieces(mark: Mark) -> Pieces:
    """The outlines of a mark, each a letter of its own."""
    outlines = [outline_from_data(piece.path) for piece in mark.pieces]
    centres = np.array([_centre(outline) * mark.size for outline in outlines]).reshape(-1, 2)
    listed = [
        Piece(f"path {piece.path}", outline, mark.size, i, i, i, 0, piece.finish)
        for i, (piece, outline) in enumerate(zip(mark.pieces, outlines, strict=True))
        if not outline.empty
    ]
    if mark.welds:
        listed = _welded(listed, [np.zeros(2)] * len(listed))
    listed = _in_sets(
        [shaped(piece, mark.outlines) for piece in listed], mark, len(mark.finishes) + len(mark.shells)
    )
    return Pieces(listed, None, centres)


def sheet_pieces(sheet: Sheet, cut: Iterable[tuple[Piece, Floats]] = ()) -> Pieces:
    """A sheet with openings: outlines with their matrices (4, 4) in the sheet's space."""
    outline = rectangle(sheet.width, sheet.height, sheet.corner)
    key = f"sheet {sheet.width} {sheet.height} {sheet.corner}"
    for piece, place in cut:
        outline = combined(outline, spread(_flat(piece, place), sheet.gap), pathops.PathOp.DIFFERENCE)
        key += f"-{piece.key}@{piece.em}{place.round(6).tolist()}"
    key += f"~{sheet.gap}" if sheet.cut else ""
    return Pieces([Piece(key, outline, 1.0, 0, 0, 0, 0, 0)] if not outline.empty else [])


def _flat(piece: Piece, place: Floats) -> Outline:
    """A piece's outline where its matrix puts it, seen from the front."""
    outline = piece.outline
    return Outline(
        outline.controls * piece.em @ place[:2, :2].T + place[:2, 3], outline.line, outline.contour
    )


def _in_sets(listed: list[Piece], thing: Title | Mark, first: int) -> list[Piece]:
    """Letters with the finishes of the sets they belong to; ``first`` numbers the finish of the first set
    that has one."""
    for number, letters in enumerate(thing.sets):
        if not letters.own_finish:
            continue
        finish = first + sum(1 for earlier in thing.sets[:number] if earlier.own_finish)
        chosen = in_sets(letters, [piece.source for piece in listed], [piece.word for piece in listed])
        listed = [
            replace(piece, finish=finish) if inside else piece
            for piece, inside in zip(listed, chosen, strict=True)
        ]
    return listed


def works(work: Outlines) -> bool:
    """Whether work on outlines changes them at all."""
    return work.hollow or abs(work.spread) > 1e-7


_outlines: OrderedDict[tuple[str, float, str], Outline] = OrderedDict()


def shaped(piece: Piece, work: Outlines) -> Piece:
    """A piece with its outline spread and hollowed."""
    if not works(work):
        return piece
    if work.hollow:
        full = shaped(piece, work.model_copy(update={"hollow": False}))
        return replace(_once(piece, work), whole=(full.key, full.outline))
    return _once(piece, work)


def shell_of(piece: Piece, offset: float) -> Piece:
    """The outline of a shell around a piece, hollow or not."""
    key, outline = piece.whole or (piece.key, piece.outline)
    return shaped(replace(piece, key=key, outline=outline, whole=None), Outlines(spread=offset))


def _once(piece: Piece, work: Outlines) -> Piece:
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
    """Pieces that touch where the words are set straight, at ``places``, joined; they go where the first of
    them goes."""
    flat = [moved(piece.outline, piece.em, place) for piece, place in zip(listed, places, strict=True)]
    group = touching(flat)
    joined = []
    for first in np.unique(group).tolist():
        members = np.flatnonzero(group == first).tolist()
        if len(members) == 1:
            joined.append(listed[first])
            continue
        whole = moved(united([flat[i] for i in members]), 1.0, -places[first])
        name = "+".join(
            f"{listed[i].key}@{listed[i].em:.6g},{(places[i] - places[first]).round(6).tolist()}"
            for i in members
        )
        lead = listed[first]
        joined.append(Piece(name, whole, 1.0, lead.letter, lead.source, lead.word, lead.line, lead.finish))
    return joined
