"""From travelled outlines to meshes: caps, strips and walls of many letters at once."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from .contours import Contours
from .edges import Edges
from .glyph_body import GlyphBody
from .profiles import Profile

Floats = NDArray[np.float64]
Singles = NDArray[np.float32]
Ints = NDArray[np.int64]
Indices = NDArray[np.uint32]


@dataclass(frozen=True)
class Rim:
    """Points of all outlines, doubled at corners so that each side has its own normal, letter by letter.

    ``point`` (rim,) is the outline point; ``normal`` (rim, 2), ``run`` (rim,); ``tail`` and ``head``
    (points,) are the rim points of each outline edge; ``starts`` (letters + 1,).
    """

    point: Ints
    normal: Floats
    run: Floats
    tail: Ints
    head: Ints
    starts: Ints

    @classmethod
    def of(cls, contours: Contours, letters: int) -> Rim:
        count = len(contours.points)
        index = np.arange(count)
        first = np.zeros(count, dtype=bool)
        first[contours.following[contours.following <= index]] = True
        # The first point of a contour is doubled too, as running lengths begin and end there.
        doubled = np.flatnonzero(contours.corner | first)
        point = np.concatenate([index, doubled])
        order = np.argsort(contours.letter[point], kind="stable")
        place = np.empty_like(order)
        place[order] = np.arange(len(order))
        arriving = index.copy()
        arriving[doubled] = count + np.arange(len(doubled))
        closing = contours.previous[doubled]
        normal = np.concatenate([contours.normal_out, contours.normal_in[doubled]])
        run = np.concatenate([contours.run, contours.run[closing] + contours.edge_length[closing]])
        starts = np.searchsorted(contours.letter[point][order], np.arange(letters + 1))
        return cls(
            point[order], normal[order], run[order], place[index], place[arriving[contours.following]], starts
        )


class Assembly:
    """Puts the bodies of letters together from their two edges; ``z`` are the heights of face and back."""

    def __init__(
        self,
        contours: Contours,
        front: Profile,
        back: Profile,
        fore: Edges,
        aft: Edges,
        z: tuple[float, float],
        limited: bool = False,
    ) -> None:
        self.contours, self.front, self.back, self.fore, self.aft = contours, front, back, fore, aft
        self.z, self.limited = z, limited
        self.letters = len(fore.caps)
        self._known_apart: dict[int, NDArray[np.bool_]] = {}

    @cached_property
    def rim(self) -> Rim:
        return Rim.of(self.contours, self.letters)

    def bodies(self, letters: set[int]) -> dict[int, GlyphBody]:
        """Bodies by letter."""
        if not letters:
            return {}
        rim = self.rim
        bevel = None if self.front.plain else self._bevel(self.front, self.fore)
        same = self.aft is self.fore
        under = None if self.back.plain else bevel if same else self._bevel(self.back, self.aft)
        wall = self._wall()
        made = {}
        for letter in letters:
            span, edges = slice(*rim.starts[letter : letter + 2].tolist()), self.contours.letter_slice(letter)
            made[letter] = self._letter(letter, span, edges, bevel, under, wall)
        return made

    def _bevel(self, shape: Profile, edges: Edges) -> tuple[Singles, Singles, Singles]:
        """Positions, normals (levels, rim, 3) and UVs (levels, rim, 2); heights are those of the profile's
        drop."""
        rim, levels = self.rim, len(shape.inset)
        position = np.empty((levels, len(rim.point), 3), np.float32)
        position[..., :2] = edges.flat[:, rim.point]
        position[..., 2] = -shape.drop[:, None]
        normal = np.empty_like(position)
        share = edges.share[rim.point]
        # A squeezed profile is steeper: its normals lie flatter.
        outward, upward = (
            np.broadcast_to(shape.outward[:, None], position.shape[:2]),
            shape.upward[:, None] * share,
        )
        length = np.hypot(outward, upward)
        # What is level in the profile is nothing where an edge has no reach: there it faces as the wall does.
        outward = np.where(length == 0, 1, outward)
        length[length == 0] = 1
        normal[..., :2] = (outward / length)[..., None] * rim.normal
        normal[..., 2] = upward / length
        uv = np.empty((levels, len(rim.point), 2), np.float32)
        uv[..., 0], uv[..., 1] = rim.run, shape.run[:, None]
        return position, normal, uv

    def _wall(self) -> tuple[Singles, Singles, Singles]:
        rim = self.rim
        flat = self.contours.points[rim.point]
        heights = np.array([self._heights(False)[0], self._heights(True)[0]])
        position = np.empty((2, len(rim.point), 3), np.float32)
        position[..., :2], position[..., 2] = flat, heights[:, None]
        normal = np.zeros_like(position)
        normal[..., :2] = rim.normal
        uv = np.empty((2, len(rim.point), 2), np.float32)
        uv[..., 0], uv[..., 1] = rim.run, heights[:, None]
        return position, normal, uv

    def _letter(
        self,
        letter: int,
        span: slice,
        edges: slice,
        bevel: tuple[Singles, Singles, Singles] | None,
        under: tuple[Singles, Singles, Singles] | None,
        wall: tuple[Singles, Singles, Singles],
    ) -> GlyphBody:
        position: list[Singles] = []
        normal: list[Singles] = []
        uv: list[Singles] = []
        triangles: list[Indices] = []
        ends, base = [0, 0, 0, 0], 0

        def add(part: int, p: Singles, n: Singles, u: Singles, corners: Ints | Indices) -> None:
            nonlocal base
            position.append(p)
            normal.append(n)
            uv.append(u)
            triangles.append(corners.astype(np.uint32, copy=False) + np.uint32(base))
            base += len(p)
            ends[part] += len(corners)

        if span.stop > span.start:
            add(0, *self._cap(letter, self.fore, self.z[0], 1.0))
            strips = None if bevel is None else self._strips(self.fore, self.front, edges, span)
            if bevel is not None and strips is not None:
                add(1, *self._raised(bevel, span, True), strips)
            if under is not None:
                same = (
                    strips
                    if self.aft is self.fore and strips is not None
                    else self._strips(self.aft, self.back, edges, span)
                )
                add(1, *self._raised(under, span, False), same[:, ::-1])
            p, n, u = (array[:, span].reshape(-1, array.shape[2]) for array in wall)
            add(2, p, n, u, self._quads(edges, span, float(wall[0][1, 0, 2] - wall[0][0, 0, 2])))
            p, n, u, corners = self._cap(letter, self.aft, self.z[1], -1.0)
            add(3, p, n, u, corners[:, ::-1])
        if not position:
            none = np.empty((0, 3), np.float32)
            return GlyphBody(none, none, none[:, :2], np.empty((0, 3), np.uint32), (0, 0, 0, 0), False)
        totals = np.cumsum(ends).tolist()
        return GlyphBody(
            np.concatenate(position),
            np.concatenate(normal),
            np.concatenate(uv),
            np.concatenate(triangles),
            (totals[0], totals[1], totals[2], totals[3]),
            self.limited,
        )

    def _heights(self, front: bool) -> Floats:
        """Height of each level; worked out once and rounded once, so that neighbours share their points."""
        return self.z[0] - self.front.drop if front else self.z[1] + self.back.drop

    def _raised(
        self, bevel: tuple[Singles, Singles, Singles], span: slice, front: bool
    ) -> tuple[Singles, Singles, Singles]:
        """One letter's bevel at its heights; the back is a mirror of the front."""
        position, normal, uv = (array[:, span].copy() for array in bevel)
        position[..., 2] = self._heights(front)[:, None]
        if not front:
            normal[..., 2] *= -1
        return position.reshape(-1, 3), normal.reshape(-1, 3), uv.reshape(-1, 2)

    def _cap(self, letter: int, edges: Edges, z: float, up: float) -> tuple[Singles, Singles, Singles, Ints]:
        cap = edges.caps[letter]
        assert cap is not None, "only letters that succeeded are put together"
        flat = edges.flat[-1][cap[0]]
        position = np.empty((len(flat), 3), np.float32)
        position[:, :2], position[:, 2] = flat, z
        normal = np.zeros_like(position)
        normal[:, 2] = up
        return position, normal, flat.astype(np.float32), cap[1]

    def _strips(self, edges: Edges, shape: Profile, at: slice, span: slice) -> Indices:
        """Strips between rings; triangles two of whose points are one are left out."""
        levels, row = len(edges.flat), span.stop - span.start
        tail, head = ((end[at] - span.start).astype(np.uint32) for end in (self.rim.tail, self.rim.head))
        base = np.arange(levels - 1, dtype=np.uint32)[:, None] * np.uint32(row)
        a, b = base + tail, base + head
        has_length = self._apart(edges)[:, at]
        both = np.empty((2, *a.shape, 3), np.uint32)
        both[0, ..., 0] = both[1, ..., 0] = a
        both[0, ..., 1] = b
        both[0, ..., 2] = both[1, ..., 1] = b + row
        both[1, ..., 2] = a + row
        lower, upper = has_length[:-1], has_length[1:]
        level = np.flatnonzero(np.diff(shape.drop) == 0)
        if len(level):
            # On a tread points that go no further stay where they are.
            rings = edges.flat[:, at]
            stays = (rings[level] == rings[level + 1]).all(axis=2)
            lower, upper = lower.copy(), upper.copy()
            lower[level] &= ~stays[:, self.contours.following[at] - at.start]
            upper[level] &= ~stays
        if lower.all() and upper.all():
            return both.reshape(-1, 3)
        return np.concatenate([both[0][lower], both[1][upper]])

    def _apart(self, edges: Edges) -> NDArray[np.bool_]:
        if id(edges) not in self._known_apart:
            self._known_apart[id(edges)] = edges.apart(self.contours)
        return self._known_apart[id(edges)]

    def _quads(self, at: slice, span: slice, height: float) -> Ints:
        if height <= 1e-9:
            return np.empty((0, 3), np.int64)
        real = self.contours.edge_length[at] >= 1e-12
        a, b = self.rim.tail[at][real] - span.start, self.rim.head[at][real] - span.start
        row = span.stop - span.start
        return np.stack([a, b, b + row, a, b + row, a + row], axis=1).reshape(-1, 3)
