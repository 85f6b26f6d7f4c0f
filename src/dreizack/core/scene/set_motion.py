"""What sets do to where their letters stand: each about its own hinge and at its own time."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..affine import linear_of, moved_about, planes_of
from ..document import LetterSet, Mark, Title
from .pieces import Piece, Pieces
from .sets import in_sets
from .timing import delays, scattered
from .values import Values

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# Hinges in the middle of something larger than a letter.
LARGER = ("word", "line", "title")


def moved_by_sets(
    matrices: Floats, thing: Title | Mark, pieces: Pieces, values: Values, frames: int
) -> Floats:
    """Maps (frames, pieces, 3, 4) of letters moved by the sets they belong to, set after set; ``matrices``
    (frames or 1, pieces, 4, 4) is where they rest."""
    whole = planes_of(matrices)
    for number, letters in enumerate(thing.sets):
        which, late = set_delays(letters, pieces)
        if not len(which):
            continue
        hinges = _hinges(letters, pieces, which)
        sources = [pieces.listed[index].source for index in which]
        every = len(which) == whole.shape[3]
        before = whole if every else whole[..., which]
        moved = _moved(before, letters, f"/sets/{number}", hinges, late, values, sources)
        if every:
            whole = moved
            continue
        if moved.shape[2] > whole.shape[2]:
            whole = np.repeat(whole, moved.shape[2], axis=2)
        whole[..., which] = moved
    rows = np.empty((frames, whole.shape[3], 3, 4))
    rows[...] = np.moveaxis(whole, (0, 1), (-2, -1))
    return rows


def set_delays(letters: LetterSet, pieces: Pieces) -> tuple[Ints, Floats]:
    """Which pieces (n,) belong to a set, and how many frames (n,) each begins later than the first."""
    listed = pieces.listed
    sources, words = [piece.source for piece in listed], [piece.word for piece in listed]
    which = np.flatnonzero(in_sets(letters, sources, words)).astype(np.int64)
    own = [listed[index] for index in which]
    where = np.array([(piece.source, piece.word, piece.line) for piece in own], np.int64).reshape(-1, 3)
    widths = np.array([np.ptp(piece.outline.controls[..., 0]) * piece.em for piece in own])
    middles = pieces.middles[which]
    return which, delays(letters.timing, where[:, 0], where[:, 1], where[:, 2], widths, middles)


def _moved(
    before: Floats,
    letters: LetterSet,
    at: str,
    hinges: Floats,
    late: Floats,
    values: Values,
    sources: list[int],
) -> Floats:
    """Maps (3, 4, frames, n) of letters after what a set does to them about their hinges (n, 3), ``late``
    (n,) frames late."""

    def value(name: str) -> Floats:
        # One row where it stays as it is.
        return values.value_at(f"{at}/{name}", late)

    chance = scattered(letters.scatter_seed, np.array(sources, np.int64))

    def with_chance(name: str, by: str, first: int) -> list[Floats]:
        found = []
        for axis in range(3):
            own, far = value(f"{name}/{'xyz'[axis]}"), value(f"{by}/{'xyz'[axis]}")
            found.append(own + far * chance[:, first + axis] if far.any() else own)
        return found

    linear = linear_of(
        with_chance("turn", "spin", 3), value("scale"), value("stretch"), value("shear"), value("depth")
    )
    move = [one if one.any() else 0.0 for one in with_chance("move", "scatter", 0)]
    return moved_about(before, linear, [hinges[:, axis] for axis in range(3)], move)


def _hinges(letters: LetterSet, pieces: Pieces, which: Ints) -> Floats:
    """The points (n, 3) about which letters turn, each in the space of its own letter."""
    if letters.hinge not in LARGER:
        return np.array([_hinge(pieces.listed[index], letters.hinge) for index in which])
    middles, origins = pieces.middles, pieces.origins
    group = np.array(
        [{"word": p.word, "line": p.line, "title": 0}[letters.hinge] for p in pieces.listed], np.int64
    )
    units, unit = np.unique(group, return_inverse=True)
    unit = unit.reshape(-1)
    centre = np.zeros((len(units), 2))
    for axis in (0, 1):
        low, high = np.full(len(units), np.inf), np.full(len(units), -np.inf)
        np.minimum.at(low, unit, middles[:, axis])
        np.maximum.at(high, unit, middles[:, axis])
        centre[:, axis] = (low + high) / 2
    return np.column_stack([centre[unit[which]] - origins[which], np.zeros(len(which))])


def _hinge(piece: Piece, side: str) -> tuple[float, float, float]:
    """The point about which a letter turns, in its own frame."""
    points = piece.outline.controls.reshape(-1, 2) * piece.em
    (left, bottom), (right, top) = points.min(axis=0).tolist(), points.max(axis=0).tolist()
    x, y = (left + right) / 2, (bottom + top) / 2
    return {
        "left": (left, y, 0.0),
        "right": (right, y, 0.0),
        "top": (x, top, 0.0),
        "bottom": (x, bottom, 0.0),
        "middle": (x, y, 0.0),
        "baseline": (x, 0.0, 0.0),
    }[side]
