"""Normals that mirror no ray into their own surface."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from dreizack.core.render.kernel.engine import arrays, engine
from dreizack.core.render.transport.shading_normals import LIFTED, adapt_shading_normal

mi, dr = engine(), arrays()
MANY = 5000


def directions(rng: np.random.Generator) -> NDArray[np.float64]:
    found = rng.normal(size=(3, MANY))
    result: NDArray[np.float64] = found / np.linalg.norm(found, axis=0)
    return result


def test_what_is_mirrored_lies_above_the_surface_and_nothing_else_is_turned() -> None:
    rng = np.random.default_rng(5)
    flat, view = directions(rng), directions(rng)
    # Normals up to a right angle away from the true one, views from either side.
    smooth = flat + directions(rng)
    smooth /= np.linalg.norm(smooth, axis=0)
    si = dr.zeros(mi.SurfaceInteraction3f, MANY)
    si.t = mi.Float(np.ones(MANY))
    si.n = mi.Normal3f(flat)
    si.sh_frame = mi.Frame3f(mi.Vector3f(smooth))
    ray = mi.Ray3f(mi.Point3f(0.0), mi.Vector3f(-view))
    si.wi = si.to_local(mi.Vector3f(view))
    adapt_shading_normal(si, ray, mi.Bool(True))

    s, t, n = (np.array(v) for v in (si.sh_frame.s, si.sh_frame.t, si.sh_frame.n))
    side = np.sign((flat * view).sum(0))
    height = side * (flat * (2 * (n * view).sum(0) * n - view)).sum(0)
    assert height.min() > LIFTED / 2
    before = side * (flat * (2 * (smooth * view).sum(0) * smooth - view)).sum(0)
    left = before >= LIFTED + 1e-4
    assert 0.1 < left.mean() < 0.9
    np.testing.assert_allclose(n[:, left], smooth[:, left], atol=1e-6)
    # Outside stays outside, seen sides are seen, and axes stay axes.
    assert ((n * flat).sum(0) > 0).all()
    assert (side * (n * view).sum(0) > 0).all()
    axes = np.stack([s, t, n])
    np.testing.assert_allclose(
        np.einsum("aki,bki->iab", axes, axes), np.broadcast_to(np.eye(3), (MANY, 3, 3)), atol=1e-4
    )
    np.testing.assert_allclose(np.array(si.wi)[2], (n * view).sum(0), atol=1e-5)
