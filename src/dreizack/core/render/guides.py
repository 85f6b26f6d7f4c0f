"""What guides the denoiser: the colour and the lie of what is seen, through mirrors too.

Guides follow mirrors to what is seen in them, as the makers of Open Image Denoise advise (documentation, RT
filter, albedo and normal of perfect specular surfaces), and take fine relief into account.
"""

from __future__ import annotations

from functools import cache
from typing import Any

import numpy as np
from drjit import syntax

from ..finish import BUMPS, bump_heights
from .engine import arrays, engine
from .paths import CAMERA, MIRRORED, PASSES, Scenery, ended, faded, on_plate

mi, dr = engine(), arrays()

MIRRORS = 4
SIDE = 256


@cache
def reliefs() -> Any:
    """Heights of all bumps, one after the other, as the renderer counts rows."""
    return mi.Float(np.concatenate([bump_heights(kind)[::-1].ravel() for kind in BUMPS]))


@syntax
def guides(on: Scenery, ray: Any, chance: Any) -> tuple[Any, Any]:
    """Albedo and normal of what rays of the camera see, mirrored where they meet a mirror."""
    heights = reliefs()
    albedo, normal = mi.Vector3f(0.0), mi.Vector3f(0.0)
    tint = mi.Vector3f(1.0)
    active, bounces, passed = mi.Bool(True), mi.UInt32(0), mi.UInt32(0)
    way = mi.Ray3f(ray)
    previous = dr.zeros(mi.SurfaceInteraction3f)
    while dr.hint(active, label="guides", exclude=[on, heights]):
        si = on.scene.ray_intersect(way, mi.RayFlags.All, coherent=(bounces == 0), active=active)
        hits = active & si.is_valid()
        shape = dr.reinterpret_array(mi.UInt32, si.shape)
        flags = dr.gather(mi.UInt32, on.flags, shape, hits)
        if dr.hint(on.kinds.plates, mode="scalar"):
            si.uv = on_plate(on, si, shape)
        wanted = dr.select(bounces == 0, mi.UInt32(CAMERA), mi.UInt32(MIRRORED))
        unseen = hits & ((flags & wanted) == 0) & (passed < PASSES)
        if dr.hint(on.kinds.fades, mode="scalar"):
            unseen |= hits & (passed < PASSES) & faded(on, chance, si, shape, flags, previous, bounces)
        solid = hits & ~unseen
        if dr.hint(on.kinds.fades, mode="scalar"):
            tint *= dr.select(solid & (bounces == 0), 1 - ended(on, si, shape), 1.0)

        bsdf = si.bsdf(mi.RayDifferential3f(way))
        lean = _leaning(on, heights, si, shape, solid)
        mirror = dr.gather(mi.Vector4f, on.mirrors, shape, solid)
        follows = solid & (mirror.w > 0) & (bounces < MIRRORS)
        ends = solid & ~follows
        base = bsdf.eval_diffuse_reflectance(si, ends)
        albedo = dr.select(ends, tint * mi.Vector3f(base.x, base.y, base.z), albedo)
        normal = dr.select(solid, lean, normal)

        # Surroundings in a mirror, pressed into 0..1.
        escapes = active & ~si.is_valid() & (bounces > 0)
        emitter = si.emitter(on.scene, escapes)
        sent = emitter.eval(si, escapes) * mi.Spectrum(dr.gather(mi.Vector3f, on.gains, dr.reinterpret_array(mi.UInt32, emitter), escapes))
        seen = mi.Vector3f(sent.x, sent.y, sent.z)
        albedo = dr.select(escapes, tint * seen / (1 + seen), albedo)

        cosine = dr.abs(dr.dot(way.d, lean))
        # Schlick, An Inexpensive BRDF Model for Physically-based Rendering, 1994.
        facing = mi.Vector3f(mirror.x, mirror.y, mirror.z)
        tint = dr.select(follows, tint * (facing + (1 - facing) * dr.power(1 - dr.minimum(cosine, 1.0), 5)), tint)
        away = dr.normalize(way.d - 2 * dr.dot(way.d, lean) * lean)
        way = dr.select(follows, si.spawn_ray(away), dr.select(unseen, si.spawn_ray(way.d), way))
        previous = dr.select(follows, si, previous)
        bounces = dr.select(follows, bounces + 1, bounces)
        passed = dr.select(unseen, passed + 1, passed)
        active = unseen | follows
    return albedo, normal


def _leaning(on: Scenery, heights: Any, si: Any, shape: Any, active: Any) -> Any:
    """Normals with the relief of the surface (Blinn, Simulation of Wrinkled Surfaces, 1978)."""
    relief = dr.gather(mi.Vector3f, on.reliefs, shape, active)
    n = si.sh_frame.n
    there = active & (relief.z != 0)
    at = si.uv * relief.y * SIDE - 0.5
    low = mi.Vector2i(dr.floor(at))
    share = at - mi.Vector2f(low)
    start = mi.UInt32(relief.x) * SIDE * SIDE

    def height(dx: int, dy: int) -> Any:
        x, y = mi.UInt32(low.x + dx) & (SIDE - 1), mi.UInt32(low.y + dy) & (SIDE - 1)
        return dr.gather(mi.Float, heights, start + y * SIDE + x, there)

    a, b, c, d = height(0, 0), height(1, 0), height(0, 1), height(1, 1)
    rise = relief.y * SIDE * relief.z
    du = ((b - a) * (1 - share.y) + (d - c) * share.y) * rise
    dv = ((c - a) * (1 - share.x) + (d - b) * share.x) * rise
    along, across = si.dp_du, si.dp_dv
    bent = dr.cross(along + n * (du - dr.dot(n, along)), across + n * (dv - dr.dot(n, across)))
    length = dr.norm(bent)
    bent = dr.select(there & (length > 1e-12), bent / dr.maximum(length, 1e-12), n)
    return dr.select(dr.dot(bent, n) < 0, -bent, bent)
