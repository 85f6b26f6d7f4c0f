"""Fine relief, as far as a pixel shows it; what is finer makes the surface rougher instead.

Slopes are filtered, and so are their squares: what the filter takes from the one shows in the other, and
widens the highlight as the relief itself would (Olano & Baker, LEAN Mapping, 2010). How wide a ray has become
is followed from the camera on: Akenine-Möller et al., Texture Level of Detail Strategies for Real-Time Ray
Tracing, 2019; at surfaces that scatter it widens by what the direction stands for (Suykens & Willems, Path
Differentials and Applications, 2001).
"""

from __future__ import annotations

from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...finish import BUMPS, bump_heights
from ..kernel.engine import arrays, engine

mi, dr = engine(), arrays()

SIDE = 256
# Percentage of slopes at either end that are taken for cliffs.
CLIFFS = 1.5
LEVELS = SIDE.bit_length()
# Sharper than one texel a pixel, as the samples of a pixel lie apart.
SHARPER = 0.5
# Cosine that slanting views are held to.
SLANT = 0.02
# Samples that share the light of a pixel among them.
SHARED = 16


def bump_slopes(kind: str) -> list[NDArray[np.float32]]:
    """Slopes along u and along v of heights 0..1, a texel apart, and their squares: (256, 256, 4), (128, 128,
    4) … (1, 1, 4).

    Rows go up, as v does. KeyError for unknown kinds.
    """
    heights = bump_heights(kind)[::-1].astype(np.float64)
    right, up = np.roll(heights, -1, 1), np.roll(heights, -1, 0)
    corner = np.roll(right, -1, 0)
    du, dv = (right - heights + corner - up) / 2, (up - heights + corner - right) / 2
    # Cliffs between facets are few, but would outweigh all else in the squares.
    du, dv = (np.clip(d, *np.percentile(d, [CLIFFS, 100 - CLIFFS])) for d in (du, dv))
    level = np.stack([du, dv, du**2, dv**2], axis=-1)
    found = [level]
    while len(level) > 1:
        level = (level[::2, ::2] + level[1::2, ::2] + level[::2, 1::2] + level[1::2, 1::2]) / 4
        found.append(level)
    return [level.astype(np.float32) for level in found]


@cache
def all_slopes() -> Any:
    """Slopes of all bumps, kind after kind, level after level."""
    return mi.Float(np.concatenate([level.ravel() for kind in BUMPS for level in bump_slopes(kind)]))


def spread_cone(cone_spread: Any, density: Any) -> Any:
    """How fast a ray widens, metres a metre, after a direction was chosen with this density."""
    return dr.maximum(cone_spread, dr.rsqrt(dr.maximum(density, 1e-4) * (dr.pi / 4 * SHARED)))


def lay_relief(slopes: Any, relief: Any, si: Any, ray: Any, wide: Any, sampler: Any, active: Any) -> Any:
    """Give hits their relief, for rays ``wide`` metres across; the normals they had.

    ``relief`` says which relief, how often it repeats over the picture coordinates, and how high it is (0:
    none).
    What is finer than the ray is put down in ``si.duv_dx``, as variances of slopes along u and along v, for
    :class:`.roughness_filter.RoughnessFilter`.
    """
    plain = mi.Normal3f(si.sh_frame.n)
    n = mi.Vector3f(plain)
    there = active & (relief.z != 0)
    along, across = dr.norm(si.dp_du), dr.norm(si.dp_dv)
    there &= (along > 1e-9) & (across > 1e-9)
    texels = relief.y * SIDE
    slant = dr.maximum(dr.abs(dr.dot(ray.d, n)), SLANT)
    seen = wide / dr.sqrt(slant) * texels * dr.rsqrt(along * across)
    # Between two levels, by sampler.
    level = mi.UInt32(dr.clip(dr.log2(dr.maximum(seen, 1e-6)) - SHARPER + sampler.one(), 0, LEVELS - 1))
    side = mi.UInt32(SIDE) >> level
    # Levels before this one hold (4^9 - 4^(9 - level)) / 3 texels.
    start = (
        mi.UInt32(relief.x) * (((1 << (2 * LEVELS)) - 1) // 3) + ((1 << (2 * LEVELS)) - side * side * 4) // 3
    )
    # Slopes of the finest level lie in the corners of the texels of heights.
    at = si.uv * relief.y * mi.Float(side) - (0.5 + 0.5 * mi.Float(side) / SIDE)
    low = mi.Vector2i(dr.floor(at))
    share = at - mi.Vector2f(low)

    def slope(dx: int, dy: int) -> Any:
        x, y = mi.UInt32(low.x + dx) & (side - 1), mi.UInt32(low.y + dy) & (side - 1)
        return dr.gather(mi.Vector4f, slopes, start + y * side + x, there)

    below = dr.lerp(slope(0, 0), slope(1, 0), share.x)
    above = dr.lerp(slope(0, 1), slope(1, 1), share.x)
    moments = dr.lerp(below, above, share.y)
    rise = texels * relief.z
    du, dv = moments.x * rise, moments.y * rise
    # Blinn, Simulation of Wrinkled Surfaces, 1978.
    bent = dr.cross(si.dp_du + n * (du - dr.dot(n, si.dp_du)), si.dp_dv + n * (dv - dr.dot(n, si.dp_dv)))
    length = dr.norm(bent)
    bent = dr.select(there & (length > 1e-12), bent / dr.maximum(length, 1e-12), n)
    bent = dr.select(dr.dot(bent, n) < 0, -bent, bent)
    rest_u = dr.maximum(moments.z * rise * rise - dr.square(du), 0) / dr.square(along)
    rest_v = dr.maximum(moments.w * rise * rise - dr.square(dv), 0) / dr.square(across)
    si.duv_dx = dr.select(there, mi.Vector2f(rest_u, rest_v), 0.0)
    wi = si.to_world(si.wi)
    si.sh_frame = mi.Frame3f(
        dr.select(there, dr.normalize(si.dp_du - bent * dr.dot(bent, si.dp_du)), si.sh_frame.s),
        si.sh_frame.t,
        dr.select(there, bent, n),
    )
    si.sh_frame.t = dr.select(there, dr.cross(si.sh_frame.n, si.sh_frame.s), si.sh_frame.t)
    si.wi = dr.select(there, si.to_local(wi), si.wi)
    return plain
