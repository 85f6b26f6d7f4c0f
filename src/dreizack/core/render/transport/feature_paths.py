"""What guides the denoiser: the colour and the lie of what is seen, through mirrors too.

Guides follow mirrors to what is seen in them, as the makers of Open Image Denoise advise (documentation, RT
filter, albedo and normal of perfect specular surfaces), and take fine relief into account.
"""

from __future__ import annotations

from typing import Any

from drjit import syntax

from ..kernel.engine import arrays, engine
from .relief import lay_relief
from .shading_normals import adapt_shading_normal
from .shaping import ended, faded, on_plate, unlinked, wanted
from .tables import BLENDS, CAMERA, CATCHES, LAMP, MIRRORED, MULTIPLIES, PASSES, SceneTables

mi, dr = engine(), arrays()

MIRRORS = 4


@syntax
def trace_features(on: SceneTables, ray: Any, sampler: Any, cone_spread: Any) -> tuple[Any, Any, Any, Any]:
    """Albedo and normal of what rays of the camera see, mirrored where they meet a mirror, which share of the
    view is taken up by something, and which by catchers; rays widen by ``cone_spread`` metres a metre."""
    albedo, normal, covered = mi.Vector3f(0.0), mi.Vector3f(0.0), mi.Float(0.0)
    caught = mi.Float(0.0)
    tint, over = mi.Vector3f(1.0), mi.Vector3f(0.0)
    active, bounces, passed = wanted(on, ray.d.z < 2), mi.UInt32(0), mi.UInt32(0)
    way, wide = mi.Ray3f(ray), mi.Float(0.0)
    origin, origin_shape = mi.Point3f(0.0), mi.UInt32(0)
    while dr.hint(active, label="guides", exclude=[on, cone_spread]):
        si = on.scene.ray_intersect(way, mi.RayFlags.All, coherent=(bounces == 0), active=active)
        hits = active & si.is_valid()
        shape = dr.reinterpret_array(mi.UInt32, si.shape)
        flags = dr.gather(mi.UInt32, on.flags, shape, hits)
        if dr.hint(on.kinds.plates, mode="scalar"):
            si.uv = on_plate(on, si, shape)
        needs = dr.select(bounces == 0, mi.UInt32(CAMERA), mi.UInt32(MIRRORED))
        unseen = hits & ((flags & needs) == 0) & (passed < PASSES)
        if dr.hint(on.kinds.fades, mode="scalar"):
            unseen |= (
                hits & (passed < PASSES) & faded(on, sampler, si, shape, flags, origin, origin_shape, bounces)
            )
        if dr.hint(on.kinds.links, mode="scalar"):
            unseen |= unlinked(on, si, flags, origin_shape, hits & (bounces > 0) & (passed < PASSES))
        if dr.hint(on.kinds.nulls, mode="scalar"):
            # As often as light goes straight through.
            clear = dr.mean(si.bsdf(mi.RayDifferential3f(way)).eval_null_transmission(si, hits))
            unseen |= hits & (passed < PASSES) & (sampler.one() < clear)
        if dr.hint(on.kinds.blends, mode="scalar"):
            # What is laid over others shows itself as well as them.
            laid = hits & ((flags & BLENDS) > 0) & (passed < PASSES)
            front = laid & (si.wi.z > 0)
            colour = mi.Vector3f(si.bsdf(mi.RayDifferential3f(way)).eval_diffuse_reflectance(si, front))
            over += dr.select(front & ((flags & MULTIPLIES) == 0), tint * colour, 0)
            tint *= dr.select(front & ((flags & MULTIPLIES) > 0), colour, 1)
            unseen |= laid
        solid = hits & ~unseen
        first = solid & (bounces == 0)
        covered = dr.select(first & ((flags & LAMP) == 0), 1.0, covered)
        if dr.hint(on.kinds.fades, mode="scalar"):
            left = dr.select(first, 1 - ended(on, si, shape), 1.0)
            covered *= left
            tint *= left
        caught = dr.select(first & ((flags & CATCHES) > 0), covered, caught)

        wide = dr.select(hits, wide + cone_spread * si.t, wide)
        if dr.hint(on.kinds.reliefs, mode="scalar"):
            lay_relief(
                on.slopes, dr.gather(mi.Vector3f, on.reliefs, shape, solid), si, way, wide, sampler, solid
            )
        adapt_shading_normal(si, way, solid)
        lean = mi.Vector3f(si.sh_frame.n)
        bsdf = si.bsdf(mi.RayDifferential3f(way))
        mirror = dr.gather(mi.Vector4f, on.mirrors, shape, solid)
        follows = solid & (mirror.w > 0) & (bounces < MIRRORS)
        ends = solid & ~follows
        base = bsdf.eval_diffuse_reflectance(si, ends)
        albedo = dr.select(ends, tint * mi.Vector3f(base.x, base.y, base.z), albedo)
        normal = dr.select(solid, lean, normal)

        # Surroundings in a mirror, pressed into 0..1.
        escapes = active & ~si.is_valid() & (bounces > 0)
        emitter = si.emitter(on.scene, escapes)
        sent = emitter.eval(si, escapes) * mi.Spectrum(
            dr.gather(mi.Vector3f, on.gains, dr.reinterpret_array(mi.UInt32, emitter), escapes)
        )
        seen = mi.Vector3f(sent.x, sent.y, sent.z)
        albedo = dr.select(escapes, tint * seen / (1 + seen), albedo)

        cosine = dr.abs(dr.dot(way.d, lean))
        # Schlick, An Inexpensive BRDF Model for Physically-based Rendering, 1994.
        facing = mi.Vector3f(mirror.x, mirror.y, mirror.z)
        tint = dr.select(
            follows, tint * (facing + (1 - facing) * dr.power(1 - dr.minimum(cosine, 1.0), 5)), tint
        )
        away = dr.normalize(way.d - 2 * dr.dot(way.d, lean) * lean)
        way = dr.select(follows, si.spawn_ray(away), dr.select(unseen, si.spawn_ray(way.d), way))
        origin, origin_shape = dr.select(follows, si.p, origin), dr.select(follows, shape, origin_shape)
        bounces = dr.select(follows, bounces + 1, bounces)
        passed = dr.select(unseen, passed + 1, passed)
        active = unseen | follows
        active = wanted(on, active)
    if dr.hint(on.kinds.blends, mode="scalar"):
        albedo = dr.minimum(albedo + over, 1)
    return albedo, normal, covered, caught
