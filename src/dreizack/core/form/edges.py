"""Edges of letters: from the outlines along a profile to the rings their faces fill.

Every point of an outline travels inward along its mitre; strips between the rings it passes are
the bevel. Points that meet go on as one, and a letter whose far parts would meet is limited where
they would, point by point: its profile is squeezed there, its rise kept. So every bevel is made of
strips, closed by construction, whatever the reach.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .collapse import advance
from .contours import Contours
from .crossing import crossed
from .fill import fill
from .limits import Paths, calmed
from .profiles import Profile

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
Cap = tuple[Ints, Ints]

# Rounds of drawing back: from which on the guilty stay where they are, and from which on the whole letter is
# drawn back.
STILL, WHOLE, ROUNDS = 5, 9, 14


@dataclass(frozen=True)
class Edges:
    """The edges of all letters of some contours.

    ``flat`` (levels, points, 2): the rings; ``share`` (points,): how much of the profile's reach
    each point goes; ``caps``: for each letter the points of its innermost rings (as indices) and
    the triangles between them, None where the edge failed.
    """

    flat: Floats
    share: Floats
    caps: list[Cap | None]

    @property
    def failed(self) -> list[int]:
        return [letter for letter, cap in enumerate(self.caps) if cap is None]

    def apart(self, contours: Contours) -> Bools:
        """(levels, points): whether a point and the following one are different places."""
        apart: Bools = (self.flat != self.flat[:, contours.following]).any(axis=2)
        return apart


def travel(contours: Contours, shape: Profile, share: Floats, letters: int) -> Edges:
    """All points along a profile, each the whole way; letters on which that cannot be have no cap."""
    mitre = contours.mitre * share[:, None]
    flat = _single(contours.points[None] + shape.inset[:, None, None] * mitre[None])
    bad = np.zeros(letters, bool)
    if not shape.plain:
        along = np.sum((mitre[contours.following] - mitre) * contours.edge_direction, axis=1)
        left = contours.edge_length + shape.inset[-1] * along
        # A squared corner starts with no length and must grow; others must keep a trace of theirs.
        short = left <= np.maximum(1e-3 * contours.edge_length, 1e-9)
        meeting = np.unique(contours.letter[short])
        if len(meeting):
            some = np.isin(contours.letter, meeting)
            chosen = contours.select(meeting)
            flat[:, some] = _single(advance(chosen, shape.inset, share[some]).position)
            folded = _folded(chosen, flat[:, some])
            bad[meeting] = np.bincount(chosen.letter[folded], minlength=len(meeting)) > 0
    caps = [None if bad[i] else _cap(contours, flat[-1], i) for i in range(letters)]
    return Edges(flat, share, caps)


def limited(contours: Contours, shape: Profile, share: Floats, paths: Paths, letters: int) -> Edges:
    """Edges of letters whose points stop where ``paths`` say.

    Where anything is still turned over or crosses, its points stop earlier, in the end right at the
    outline. Only a letter whose outline crosses itself fails.
    """
    flat = _single(paths.at(shape.inset))
    part = share * paths.stop / paths.reach
    caps: list[Cap | None] = [None] * letters
    todo = np.arange(letters)
    for step in range(ROUNDS):
        places = np.flatnonzero(np.isin(contours.letter, todo))
        some = contours.select(todo)
        ring = flat[:, places]
        folded = _folded(some, ring)
        bad = np.bincount(some.letter[folded], minlength=len(todo)) > 0
        made = [None if bad[i] else _cap(some, ring[-1], i) for i in range(len(todo))]
        for letter, cap in zip(todo.tolist(), made, strict=True):
            caps[letter] = None if cap is None else (places[cap[0]], cap[1])
        failed = np.array([cap is None for cap in made])
        if step == 0 and failed.any():
            failed &= ~_hopeless(some, len(todo), failed)
        if not failed.any() or step == ROUNDS - 1:
            break
        back = failed[some.letter]
        places, some, ring, folded = (
            places[back],
            some.select(np.flatnonzero(failed)),
            ring[-1, back],
            folded[back],
        )
        guilty = folded | crossed(some, ring)
        blamed = np.bincount(some.letter[guilty], minlength=int(failed.sum())) > 0
        # First those who are at fault stop earlier, then not at all; the whole letter only where that does
        # not help.
        whole = step >= WHOLE
        earlier = guilty | ~blamed[some.letter] | whole
        back_by = 0.0 if step == ROUNDS - 2 or STILL <= step < WHOLE else 0.35 if whole else 0.75
        stop = np.where(earlier, paths.stop[places] * back_by, paths.stop[places])
        again = calmed(some, paths.only(places), stop)
        paths.stop[places] = again.stop
        flat[:, places], part[places] = (
            _single(again.at(shape.inset)),
            share[places] * again.stop / paths.reach,
        )
        todo = todo[failed]
    return Edges(flat, part, caps)


def _hopeless(contours: Contours, letters: int, failed: Bools) -> Bools:
    """Which of the ``failed`` letters (letters,) have outlines that cross themselves: nothing helps those."""
    outline = contours.select(np.flatnonzero(failed))
    lost = np.zeros(letters, bool)
    lost[np.flatnonzero(failed)[np.unique(outline.letter[crossed(outline, _single(outline.points))])]] = True
    return lost


def _single(places: Floats) -> Floats:
    """In single precision, as bodies are: what is one place there is one place here."""
    return places.astype(np.float32).astype(np.float64)


def _folded(contours: Contours, flat: Floats) -> Bools:
    """Points (points,) at which a triangle of a strip is turned over, or a ring runs back against its
    outline."""
    after = contours.following
    if len(flat) < 2:
        return np.zeros(flat.shape[1], bool)
    a, b, far_b, far_a = flat[:-1], flat[:-1, after], flat[1:, after], flat[1:]
    turned = (np.minimum(_doubled(a, b, far_b), _doubled(a, far_b, far_a)) < -1e-13).any(axis=0)
    side = far_b[-1] - far_a[-1]
    turned |= np.sum(side * contours.edge_direction, axis=1) < 0.05 * np.hypot(side[:, 0], side[:, 1]) - 1e-12
    turned |= _doubled_back(contours, flat)
    around: Bools = turned | turned[contours.previous]
    return around


def _doubled_back(contours: Contours, flat: Floats) -> Bools:
    """Points (points,) that come to where another point of their letter, not beside them, has come to.

    Seen in single precision, as bodies are; places are told apart by a hash of their bits.
    """
    bits = np.ascontiguousarray(flat, np.float32).view(np.uint32).astype(np.uint64)
    with np.errstate(over="ignore"):
        code = bits[..., 0] * np.uint64(0x9E3779B97F4A7C15) ^ bits[..., 1] * np.uint64(0xC2B2AE3D27D4EB4F)
        code = (code ^ (code >> np.uint64(29))) * np.uint64(0xBF58476D1CE4E5B9) + contours.letter.astype(
            np.uint64
        )
    alive = code != code[:, contours.following]
    found = np.zeros(flat.shape[1], bool)
    for level, there in zip(code, alive, strict=True):
        index = np.flatnonzero(there)
        order = index[np.argsort(level[index], kind="stable")]
        same = level[order][1:] == level[order][:-1]
        found[order[1:][same]] = found[order[:-1][same]] = True
    return found


def _doubled(a: Floats, b: Floats, c: Floats) -> Floats:
    """Twice the signed areas of triangles."""
    areas: Floats = (b[..., 0] - a[..., 0]) * (c[..., 1] - a[..., 1]) - (b[..., 1] - a[..., 1]) * (
        c[..., 0] - a[..., 0]
    )
    return areas


def _cap(contours: Contours, flat: Floats, letter: int) -> Cap | None:
    """Points and triangles of a letter's innermost rings; None where rings cross."""
    span = contours.letter_slice(letter)
    if span.start == span.stop:
        return np.empty(0, np.int64), np.empty((0, 3), np.int64)
    alive = span.start + np.flatnonzero((flat[span] != flat[contours.following[span]]).any(axis=1))
    if not len(alive):
        return None
    contour = contours.contour[alive]
    cuts = np.flatnonzero(np.diff(contour)) + 1
    sizes = np.diff(np.concatenate([[0], cuts, [len(alive)]]))
    if sizes.min() < 3 or len(sizes) != contours.contour[span.stop - 1] - contours.contour[span.start] + 1:
        return None
    triangles = fill(flat[alive], sizes)
    return None if triangles is None else (alive, triangles)
