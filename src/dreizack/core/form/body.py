"""Glyph bodies: face, front bevel, wall, back bevel and back as one closed mesh."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..lettering.outlines import Outline
from .collapse import advance
from .contours import Contours, flatten
from .edges import LetterEdge, Part, Surface, merging_edge, strip_edge
from .fill import fill
from .insets import holds
from .profiles import Profile

PARTS = ("face", "bevel", "wall", "back")


@dataclass(frozen=True)
class GlyphBody:
    """A letter's mesh in metres, its origin on the baseline.

    ``position``, ``normal`` (vertices, 3) and ``uv`` (vertices, 2) are float32; ``triangles``
    (count, 3) uint32 stand in the order of :data:`PARTS`, ``ends`` (4,) being the end of each part.
    ``limited`` says that an edge had to stop short because strokes or counters would have closed.
    """

    position: NDArray[np.float32]
    normal: NDArray[np.float32]
    uv: NDArray[np.float32]
    triangles: NDArray[np.uint32]
    ends: tuple[int, int, int, int]
    limited: bool

    @property
    def empty(self) -> bool:
        return len(self.triangles) == 0

    def part(self, name: str) -> NDArray[np.uint32]:
        """Triangles of one part."""
        index = PARTS.index(name)
        return self.triangles[self.ends[index - 1] if index else 0 : self.ends[index]]


def build_bodies(
    outlines: Sequence[Outline], em: float, depth: float, front: Profile, back: Profile, tolerance: float,
    forward: float = 0.5,
) -> list[GlyphBody]:
    """Bodies of many outlines at once; lengths in metres, ``em`` metres an em.

    ``forward`` is the share of the depth that lies before z = 0.

    Where both rises together exceed the depth they are scaled to fit it.
    """
    rises = float(front.drop[0] + back.drop[0])
    if rises > depth:
        front, back = front.scaled_drop(depth / rises), back.scaled_drop(depth / rises)
    contours = flatten(outlines, em, tolerance)
    front_holds = holds(contours, float(front.inset[-1]))
    same = float(front.inset[-1]) == float(back.inset[-1])
    back_holds = front_holds if same else holds(contours, float(back.inset[-1]))
    fore = _edges(contours, front, front_holds, len(outlines))
    aft = fore if back is front or _same(front, back) else _edges(contours, back, back_holds, len(outlines))
    bodies = []
    for letter in range(len(outlines)):
        a, b = fore[letter], aft[letter]
        if a is None or b is None:
            bodies.append(_assemble([], False))
            continue
        body = _body(contours, contours.letter_slice(letter), depth, front, back, a, b)
        body.position[:, 2] += np.float32((forward - 0.5) * depth)
        bodies.append(body)
    return bodies


def _same(a: Profile, b: Profile) -> bool:
    return np.array_equal(a.inset, b.inset) and np.array_equal(a.drop, b.drop)


def _edges(contours: Contours, shape: Profile, plain: NDArray[np.bool_], letters: int) -> list[LetterEdge | None]:
    """The edges of all letters along one profile; None for letters without an outline."""
    found: list[LetterEdge | None] = [None] * letters
    hard = []
    for letter in range(letters):
        span = contours.letter_slice(letter)
        if span.start == span.stop:
            continue
        if shape.plain or plain[letter]:
            found[letter] = strip_edge(contours, span, shape)
        else:
            hard.append(letter)
    if hard:
        some = contours.select(np.array(hard))
        rings = advance(some, shape.inset)
        for place, letter in enumerate(hard):
            found[letter] = merging_edge(some, place, shape, rings)
    return found


def _body(
    contours: Contours, span: slice, depth: float, front: Profile, back: Profile, fore: LetterEdge, aft: LetterEdge
) -> GlyphBody:
    half = depth / 2
    face = _cap(fore.face_rings)
    pieces = [
        (0, _front(face, half)),
        (2, _wall(contours, span, half - float(front.drop[0]), -half + float(back.drop[0]))),
        (3, _back(face if aft is fore else _cap(aft.face_rings), half)),
    ]
    if fore.bevel is not None:
        pieces.append((1, _front(fore.bevel, half)))
    if aft.bevel is not None:
        pieces.append((1, _back(aft.bevel, half)))
    return _assemble(sorted(pieces, key=lambda piece: piece[0]), fore.limited or aft.limited)


def _cap(rings: list[NDArray[np.float64]]) -> Surface:
    if not rings:
        return Surface(np.empty((0, 3)), np.empty((0, 3)), np.empty((0, 2)), np.empty((0, 3), np.int64))
    flat = np.concatenate(rings)
    position = np.column_stack([flat, np.zeros(len(flat))])
    return Surface(position, np.tile([0.0, 0.0, 1.0], (len(flat), 1)), flat, fill(rings))


def _front(surface: Surface, half: float) -> Surface:
    return Surface(surface.position + np.array([0.0, 0.0, half]), surface.normal, surface.uv, surface.triangles)


def _back(surface: Surface, half: float) -> Surface:
    """Mirror a surface to the back; winding turns round with it."""
    mirror = np.array([1.0, 1.0, -1.0])
    return Surface(
        surface.position * mirror - np.array([0.0, 0.0, half]), surface.normal * mirror, surface.uv, surface.triangles[:, ::-1]
    )


def _wall(contours: Contours, span: slice, top: float, bottom: float) -> Surface:
    part = Part.of(contours, span)
    flat = contours.points[span][part.point]
    count = len(flat)
    position = np.concatenate([
        np.column_stack([flat, np.full(count, bottom)]), np.column_stack([flat, np.full(count, top)])
    ])
    normal = np.tile(np.column_stack([part.normal, np.zeros(count)]), (2, 1))
    run = np.tile(part.run, 2)
    uv = np.column_stack([run, np.repeat([bottom, top], count)])
    real = ~part.squared
    a, b = part.tail[real], part.head[real]
    if top - bottom <= 1e-9:
        return Surface(position, normal, uv, np.empty((0, 3), np.int64))
    quads = np.stack([a, b, b + count, a, b + count, a + count], axis=1).reshape(-1, 3)
    return Surface(position, normal, uv, quads)


def _assemble(pieces: list[tuple[int, Surface]], limited: bool) -> GlyphBody:
    ends, triangles, base = [0, 0, 0, 0], [], 0
    for part, surface in pieces:
        triangles.append(surface.triangles + base)
        base += len(surface.position)
        ends[part] += len(surface.triangles)
    ends = np.cumsum(ends).tolist()

    def joined(name: str, width: int) -> NDArray[np.float32]:
        parts = [getattr(surface, name) for _, surface in pieces]
        return np.concatenate(parts).astype(np.float32) if parts else np.empty((0, width), np.float32)

    flat = np.concatenate(triangles).astype(np.uint32) if triangles else np.empty((0, 3), np.uint32)
    return GlyphBody(
        joined("position", 3), joined("normal", 3), joined("uv", 2), flat, (ends[0], ends[1], ends[2], ends[3]), limited
    )
