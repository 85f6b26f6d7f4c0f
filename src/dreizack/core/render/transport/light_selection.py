"""Which light to try from a place: by what each may bring there.

The sum of what lights bring is estimated best when each is tried as often as its share of it (Shirley, Wang &
Zimmerman, Monte Carlo Techniques for Direct Lighting Calculations, 1996). Shares are guessed from where a
light stands and faces, how large it looks, and how far it is from where the surface mirrors.
"""

from __future__ import annotations

from typing import Any

from ..kernel.engine import arrays, engine
from .roughness_filter import MEDIAN

mi, dr = engine(), arrays()

# Lights that are weighed place by place; more are chosen by what they bring on the whole.
WEIGHED = 12
# Share of the tries that goes to all alike, whatever is expected of them.
ALIKE = 0.08
# By how much variances of slopes add to the squares of microfacets' widths.
FACETS = 2 * MEDIAN
# How much of what a surface mirrors of its surroundings is left to lights, as its own directions find most of
# it.
MIRRORED = 0.5


def light_pdfs(lamps: Any, count: int, gloss: Any, si: Any, view: Any) -> list[Any]:
    """How probable each of ``count`` lights is to be tried from a hit that is seen from ``view``.

    ``lamps`` holds eight numbers a light: its middle and radiance, the way it faces (0 if every way) and its
    area, which is 0 for surroundings. ``gloss`` is which share of its light the surface scatters, and the
    squares of its microfacets' width along u and along v.
    """
    weights = []
    p, n, matte = si.p, si.sh_frame.n, gloss.x
    rough_u, rough_v = gloss.y + FACETS * si.duv_dx.x, gloss.z + FACETS * si.duv_dx.y
    for number in range(count):
        middle = dr.gather(mi.Vector4f, lamps, mi.UInt32(number * 2))
        facing = dr.gather(mi.Vector4f, lamps, mi.UInt32(number * 2 + 1))
        to = mi.Vector3f(middle.x, middle.y, middle.z) - p
        area = facing.w
        square = dr.maximum(dr.squared_norm(to), dr.maximum(area / 6, 1e-6))
        way = to * dr.rsqrt(square)
        ahead = mi.Vector3f(facing.x, facing.y, facing.z)
        sends = dr.select(dr.squared_norm(ahead) > 0, dr.maximum(-dr.dot(ahead, way), 0.02), 1.0)
        seen = dr.minimum(area * sends / square, dr.two_pi)
        # Part of a large light is above the horizon though its middle is not.
        spread = dr.minimum(dr.sqrt(seen / dr.pi), 1.0)
        side = dr.select(dr.dot(n, view) < 0, -1.0, 1.0)
        falls = dr.maximum((dr.dot(n, way) * side + spread) / (1 + spread), 0.002)
        # Burley, Physically Based Shading at Disney, 2012, eq. 13, widened by the size of the light.
        half = si.to_local(dr.normalize(way + view + mi.Vector3f(1e-6)))
        u, v = rough_u + seen / (4 * dr.pi), rough_v + seen / (4 * dr.pi)
        mirrors = (
            dr.rsqrt(u * v)
            / (4 * dr.pi)
            / dr.square(dr.square(half.x) / u + dr.square(half.y) / v + dr.square(half.z))
        )
        brings = (
            middle.w
            * seen
            * falls
            * (matte / dr.pi + (1 - matte) * dr.minimum(mirrors, 1 / dr.maximum(seen, 1e-6)))
        )
        around = middle.w * (matte + (1 - matte) * MIRRORED)
        weights.append(dr.select(area > 0, brings, around))
    total = sum(weights[1:], weights[0])
    scale = dr.select(total > 0, (1 - ALIKE) / dr.maximum(total, 1e-20), 0.0)
    alike = dr.select(total > 0, ALIKE, 1.0) / count
    return [dr.fma(weight, scale, alike) for weight in weights]


def chosen(shares: list[Any], pick: Any) -> tuple[Any, Any]:
    """The light whose share a number from 0 to 1 falls into, and that share."""
    number, found, sum_ = mi.UInt32(0), mi.Float(shares[0]), mi.Float(shares[0])
    for place in range(1, len(shares)):
        later = pick >= sum_
        number, found = dr.select(later, place, number), dr.select(later, shares[place], found)
        sum_ = sum_ + shares[place]
    return number, found


def share_of(shares: list[Any], number: Any) -> Any:
    """The share of a light by its number."""
    found = mi.Float(shares[0])
    for place in range(1, len(shares)):
        found = dr.select(number == place, shares[place], found)
    return found


def renewed(where: Any, now: list[Any], before: list[Any]) -> list[Any]:
    """Shares of now where a new direction was chosen, those of before elsewhere."""
    return [dr.select(where, a, b) for a, b in zip(now, before, strict=True)]
