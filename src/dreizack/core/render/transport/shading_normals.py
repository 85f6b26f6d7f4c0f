"""Smooth normals that mirror no ray into the surface they stand on.

Where normals are blended over flat triangles, a slanting view's mirror image may lie below the true surface,
and its light would be lost (Reshetov, Soupikov & Mark, Consistent Normal Interpolation, 2010).
"""

from __future__ import annotations

from typing import Any

from ..kernel.engine import arrays, engine

mi, dr = engine(), arrays()

# Cosine between the true normal and what is mirrored, at least.
LIFTED = 0.01


def adapt_shading_normal(si: Any, ray: Any, active: Any) -> None:
    """Turn normals of hits, as little as is needed, so that the mirror image of ``-ray.d`` lies above the
    true surface."""
    view = -ray.d
    n = mi.Vector3f(si.sh_frame.n)
    flat = dr.select(dr.dot(si.n, view) < 0, -si.n, si.n)
    towards = 2 * dr.dot(n, view) * n - view
    height = dr.dot(flat, towards)
    sinks = active & si.is_valid() & (height < LIFTED)
    lifted = dr.normalize(towards + (LIFTED - height) * flat)
    half = dr.normalize(view + lifted)
    half = dr.select(dr.dot(half, si.n) * dr.dot(n, si.n) < 0, -half, half)
    s = dr.normalize(si.sh_frame.s - half * dr.dot(half, si.sh_frame.s))
    si.sh_frame = mi.Frame3f(
        dr.select(sinks, s, si.sh_frame.s),
        dr.select(sinks, dr.cross(half, s), si.sh_frame.t),
        dr.select(sinks, half, n),
    )
    si.wi = dr.select(sinks, si.to_local(view), si.wi)
