"""Glyph bodies: face, front bevel, wall, back bevel and back as one closed mesh."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from manifold3d import CrossSection, FillRule, JoinType
from numpy.typing import NDArray

from ..lettering.outlines import Outline
from .assembly import Assembly
from .contours import Contours, flatten, polygons
from .edges import limited, travel
from .fronts import Fronts
from .glyph_body import GlyphBody
from .limits import Paths, needless, paths
from .profiles import Profile, profile

Floats = NDArray[np.float64]

# Distance of points on the edges of letters that are limited, in ems.
CLOSE_POINTS = 0.02
# How far parts of an outline that touch are parted, in ems: as little as will do.
HAIRS = (2e-4, 6e-4, 2e-3)
NOTHING = GlyphBody(
    np.empty((0, 3), np.float32),
    np.empty((0, 3), np.float32),
    np.empty((0, 2), np.float32),
    np.empty((0, 3), np.uint32),
    (0, 0, 0, 0),
    True,
)


def build_bodies(
    outlines: Sequence[Outline],
    em: float,
    depth: float,
    front: Profile,
    back: Profile,
    tolerance: float,
    forward: float = 0.5,
    counters: tuple[float, float] = (1.0, 1.0),
) -> list[GlyphBody]:
    """Bodies of many outlines at once; lengths in metres, ``em`` metres an em.

    ``forward`` is the share of the depth that lies before z = 0, ``counters`` the reach of the front
    and the back edge at counters as multiples of their reach elsewhere. Where both rises together
    exceed the depth they are scaled to fit it.
    """
    rises = float(front.drop[0] + back.drop[0])
    if rises > depth:
        front, back = front.scaled_drop(depth / rises), back.scaled_drop(depth / rises)
    contours = flatten(outlines, em, tolerance)
    letters = len(outlines)
    alike = back is front or (_same(front, back) and counters[0] == counters[1])
    share, fore_shape = _shares(contours, front, counters[0])
    fore = travel(contours, fore_shape, share, letters)
    aft_share, aft_shape = (share, fore_shape) if alike else _shares(contours, back, counters[1])
    aft = fore if alike else travel(contours, aft_shape, aft_share, letters)
    z = (forward * depth, (forward - 1) * depth)
    # Where an outline touches itself, four faces would share an edge: its parts are parted by a hair.
    pinched = contours.pinched()
    hard = sorted({*fore.failed, *aft.failed, *pinched})
    bodies = Assembly(contours, fore_shape, aft_shape, fore, aft, z).bodies(set(range(letters)) - set(hard))
    if hard:
        wish = (fore_shape, aft_shape, counters, alike, z, em)
        made, failed = _limited_bodies(contours.select(np.array(hard)), *wish)
        failed = sorted({*failed, *(place for place, letter in enumerate(hard) if letter in pinched)})
        if failed:
            made |= _rescued(contours, hard, failed, wish)
        bodies.update({hard[place]: body for place, body in made.items()})
    return [bodies.get(i, NOTHING) for i in range(letters)]


def _rescued(contours: Contours, hard: list[int], failed: list[int], wish: Any) -> dict[int, GlyphBody]:
    """Bodies, by their place among the hard ones, of letters whose outlines touch or cross themselves: parted
    by ever more, and in the end without an edge. A letter that has an outline has a body."""
    z, em = wish[-2:]
    made: dict[int, GlyphBody] = {}
    for hair in HAIRS:
        clean = _cleaned(contours, [hard[i] for i in failed], em, hair)
        again, _ = _limited_bodies(clean, *wish)
        made |= {failed[place]: body for place, body in again.items() if not body.empty}
        failed = [place for place in failed if place not in made]
        if not failed:
            return made
    clean = _cleaned(contours, [hard[i] for i in failed], em, HAIRS[-1])
    plain = profile("none", 0, 0, em)
    share = np.ones(len(clean.points))
    edges = travel(clean, plain, share, len(failed))
    sound = {i for i in range(len(failed)) if edges.caps[i] is not None}
    bare = Assembly(clean, plain, plain, edges, edges, z, limited=True).bodies(sound)
    return made | {failed[place]: body for place, body in bare.items()}


def _limited_bodies(
    plain: Contours,
    front: Profile,
    back: Profile,
    counters: tuple[float, float],
    alike: bool,
    z: tuple[float, float],
    em: float,
) -> tuple[dict[int, GlyphBody], list[int]]:
    """Bodies of letters whose edges are limited point by point, and the letters that have none even so."""
    letters = int(plain.letter.max()) + 1 if len(plain.letter) else 0
    some = plain.between(CLOSE_POINTS * em)

    def found(shape: Profile, counter: float) -> tuple[Floats, Paths]:
        sparse, share = _shares(plain, shape, counter)[0], _shares(some, shape, counter)[0]
        return share, paths(
            some, shape.inset, share, em, [Fronts.of(plain, letter, sparse) for letter in range(letters)]
        )

    share, fore_paths = found(front, counters[0])
    aft_share, aft_paths = (share, fore_paths) if alike else found(back, counters[1])
    keep = ~needless(some, np.stack([fore_paths.stop, aft_paths.stop]))
    lean = some.without(~keep)
    fore = limited(lean, front, share[keep], fore_paths.only(keep), letters)
    aft = fore if alike else limited(lean, back, aft_share[keep], aft_paths.only(keep), letters)
    failed = sorted({*fore.failed, *aft.failed})
    sound = set(range(letters)) - set(failed)
    return Assembly(lean, front, back, fore, aft, z, limited=True).bodies(sound), failed


def _cleaned(contours: Contours, letters: list[int], em: float, hair: float) -> Contours:
    """Letters whose outlines touch or cross themselves as polygons, made sound: united, and parted by a hair
    (in ems)."""
    rings, owners = [], []
    for place, letter in enumerate(letters):
        span = contours.letter_slice(letter)
        cuts = np.flatnonzero(np.diff(contours.contour[span])) + 1
        area = CrossSection(np.split(contours.points[span] / em, cuts), FillRule.Positive).offset(
            -hair, JoinType.Miter, 2.0
        )
        # Offsetting leaves points next to one another that are no corners of anything.
        for ring in area.simplify(hair / 8).to_polygons():
            if len(ring) >= 3:
                rings.append(np.asarray(ring, np.float64) * em)
                owners.append(place)
    return polygons(rings, owners)


def _same(a: Profile, b: Profile) -> bool:
    return np.array_equal(a.inset, b.inset) and np.array_equal(a.drop, b.drop)


def _shares(contours: Contours, shape: Profile, counter: float) -> tuple[Floats, Profile]:
    """Shares of the larger of an outer and a counter reach, and the profile of that reach."""
    if counter == 1 or shape.plain:
        return np.ones(len(contours.points)), shape
    most = max(1.0, counter)
    return np.where(contours.holes(), counter / most, 1 / most), shape.scaled_inset(most)
