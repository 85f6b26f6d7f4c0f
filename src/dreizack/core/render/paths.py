"""The light that reaches the camera along a ray.

Path tracing with next event estimation and multiple importance sampling (Veach, Robust Monte Carlo Methods,
1997, chapters 8 to 10; power heuristic). Beside that, what a stage needs: things that only some rays meet,
lights that reach only some things, cones of light, glass that takes colour with depth, and what is seen
through glass left to the backdrop.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from drjit import syntax

from .engine import arrays, engine

mi, dr = engine(), arrays()

# What may happen to a thing, by bits of its entry in ``Scenery.flags``.
CAMERA, MIRRORED, CASTS, RECEIVES, LAMP = 1, 2, 4, 8, 16
EVERYTHING = CAMERA | MIRRORED | CASTS | RECEIVES
# Pixels on a side of the slides that spots throw.
SLIDE = 256
SLOTS = 1024
# Light below which shadows are looked after by chance, and what a path must carry to be sure to go on.
FAINT, WEAK = 0.02, 0.3
# Surfaces one ray may pass without being bent.
PASSES = 24


@dataclass(frozen=True)
class Kinds:
    """What occurs in a scene; a kernel is compiled for what does, and nothing else."""

    nulls: bool = False
    hidden: bool = False
    cones: bool = False
    links: bool = False
    absorbs: bool = False
    departs: bool = False
    ambient: bool = False
    slides: bool = False
    reach: bool = False
    fades: bool = False
    plates: bool = False
    # How glass shows what lies behind it: left to what comes after, from a picture, or from the surroundings.
    bends: str = ""


@dataclass(frozen=True)
class Scenery:
    """A scene and the tables that go with it, by the numbers the renderer gives shapes and emitters.

    ``slots`` (SLOTS,) choose an emitter, ``odds`` says how probable each is; ``gains`` scales what each sends,
    channel by channel: numbers that are data cost no new kernel when they change. ``mirrors`` says what a shape
    reflects straight on and whether guides go on there, ``reliefs`` which bump it has, how often and how high.
    ``slides`` holds the pictures that spots throw, ``falloffs`` the power of distance that makes up for how their light
    weakens, ``fades`` how far floors mirror and where they end,
    ``plates`` how pictures fill the frame, ``behind`` the backdrop as ``view`` sees it.
    """

    scene: Any
    kinds: Kinds
    emitters: Any
    slots: Any
    odds: Any
    gains: Any
    flags: Any
    cones: Any
    links: Any
    stride: Any
    absorbs: Any
    shadows: Any
    ambient: Any
    depth: Any
    mirrors: Any
    reliefs: Any
    slides: Any
    falloffs: Any
    fades: Any
    plates: Any
    view: Any
    behind: Any


@syntax
def radiance(on: Scenery, ray: Any, chance: Any) -> tuple[Any, Any]:
    """Radiance along rays, and which share of the view is taken up by something: 0 where only the backdrop is."""
    kinds = on.kinds
    ctx = mi.BSDFContext()
    found, beta = mi.Spectrum(0.0), mi.Spectrum(1.0)
    depth, passed = mi.UInt32(0), mi.UInt32(0)
    active, met, clear = mi.Bool(True), mi.Bool(False), mi.Bool(True)
    through = mi.Float(0.0)
    previous = dr.zeros(mi.SurfaceInteraction3f)
    # Probability with which the last direction was chosen; 0 where lights were counted there in full.
    density, certain = mi.Float(1.0), mi.Bool(True)
    left, lit = mi.UInt32(0), mi.UInt32(EVERYTHING)
    while dr.hint(active, label="path", exclude=[on, kinds, ctx]):
        si = on.scene.ray_intersect(ray, mi.RayFlags.All, coherent=(depth == 0), active=active)
        shape = dr.reinterpret_array(mi.UInt32, si.shape)
        flags = dr.gather(mi.UInt32, on.flags, shape, active & si.is_valid())
        if dr.hint(kinds.plates, mode="scalar"):
            si.uv = on_plate(on, si, shape)
        wanted = dr.select(depth == 0, mi.UInt32(CAMERA), mi.UInt32(MIRRORED))
        unseen = active & si.is_valid() & ((flags & wanted) == 0) & (passed < PASSES)
        if dr.hint(kinds.fades, mode="scalar"):
            unseen |= active & si.is_valid() & (passed < PASSES) & faded(on, chance, si, shape, flags, previous, depth)
        here = active & ~unseen
        if dr.hint(kinds.fades, mode="scalar"):
            # Towards its end a floor goes over into the backdrop.
            gone = dr.select(here & si.is_valid() & (depth == 0), ended(on, si, shape), 0.0)
            beta *= 1 - gone
            through += gone

        if dr.hint(kinds.absorbs, mode="scalar"):
            # Bouguer, Lambert, Beer: what lies between two points inside of a body takes its colour.
            inside = here & si.is_valid() & (left > 0)
            sigma = dr.gather(mi.Vector3f, on.absorbs, left, inside)
            beta = dr.select(inside, beta * mi.Spectrum(dr.exp(-sigma * si.t)), beta)

        # Light that was met by following the surface.
        emitter = si.emitter(on.scene)
        glows = here & (emitter != None) & ((depth > 0) | si.is_valid())  # noqa: E711
        number = dr.reinterpret_array(mi.UInt32, emitter)
        toward = mi.DirectionSample3f(on.scene, si, previous)
        chosen = emitter.pdf_direction(previous, toward, glows & ~certain) * dr.gather(mi.Float, on.odds, number, glows)
        weight = dr.select(certain, 1.0, density * density / (density * density + chosen * chosen))
        sent = emitter.eval(si, glows) * mi.Spectrum(dr.gather(mi.Vector3f, on.gains, number, glows))
        if dr.hint(kinds.cones, mode="scalar"):
            sent *= _cone(on.cones, number, -ray.d, glows)
        if dr.hint(kinds.slides, mode="scalar"):
            sent *= mi.Spectrum(_slide(on.slides, on.cones, number, -ray.d, glows))
        if dr.hint(kinds.reach, mode="scalar"):
            sent *= dr.select(depth > 0, _reach(on.falloffs, number, dr.norm(si.p - previous.p), glows & si.is_valid()), 1.0)
        if dr.hint(kinds.links, mode="scalar"):
            sent *= dr.gather(mi.Float, on.links, left_shape(previous) * on.stride + number, glows & (depth > 0))
        if dr.hint(kinds.departs, mode="scalar"):
            partly = dr.gather(mi.Float, on.shadows, number * 6 + 3, glows) < 1
            weight = dr.select(~certain & (partly | ((lit & RECEIVES) == 0)), 0.0, weight)
        escapes = here & ~si.is_valid()
        # Through glass one sees the backdrop, not the surroundings, unless they are the backdrop.
        sees = glows & ~(escapes & clear & (~met | (kinds.bends != "around")))
        found = dr.select(sees, dr.fma(beta, sent * weight, found), found)
        if dr.hint(kinds.ambient, mode="scalar"):
            found = dr.select(escapes & ~clear, dr.fma(beta, mi.Spectrum(on.ambient), found), found)
        if dr.hint(kinds.bends == "picture", mode="scalar"):
            # What is seen through glass lies where its rays go.
            bent_light = escapes & clear & met
            found = dr.select(bent_light, dr.fma(beta, mi.Spectrum(_backdrop(on, ray, bent_light)), found), found)
        elif dr.hint(kinds.bends == "", mode="scalar"):
            through = dr.select(escapes & clear, through + dr.mean(beta), through)

        go = here & si.is_valid() & (depth + 1 < on.depth)
        bsdf = si.bsdf(mi.RayDifferential3f(ray))
        pick, spot = chance.one(), chance.two()
        lobe, turn = chance.one(), chance.two()

        # Light that was chosen.
        try_light = go & mi.has_flag(bsdf.flags(), mi.BSDFFlags.Smooth)
        slot = dr.gather(mi.UInt32, on.slots, mi.UInt32(pick * SLOTS), try_light)
        light = dr.gather(mi.EmitterPtr, on.emitters, slot, try_light)
        which = dr.reinterpret_array(mi.UInt32, light)
        odds = dr.gather(mi.Float, on.odds, which, try_light)
        way, power = light.sample_direction(si, spot, try_light)
        try_light &= way.pdf > 0
        power *= mi.Spectrum(dr.gather(mi.Vector3f, on.gains, which, try_light)) / odds
        if dr.hint(kinds.cones, mode="scalar"):
            power *= _cone(on.cones, which, -way.d, try_light)
        if dr.hint(kinds.slides, mode="scalar"):
            power *= mi.Spectrum(_slide(on.slides, on.cones, which, -way.d, try_light))
        if dr.hint(kinds.reach, mode="scalar"):
            power *= _reach(on.falloffs, which, way.dist, try_light)
        if dr.hint(kinds.links, mode="scalar"):
            power *= dr.gather(mi.Float, on.links, shape * on.stride + which, try_light)
        wo = si.to_local(way.d)
        value, other, bent, share = bsdf.eval_pdf_sample(ctx, si, wo, lobe, turn, go)
        # Little light is looked after seldom, and then counted for more (Russian roulette).
        power *= value
        worth = dr.max(beta * power)
        kept = dr.minimum(worth / FAINT, 1.0)
        try_light &= chance.one() < kept
        power /= dr.maximum(kept, 1e-9)
        open_way = _unblocked(on, si, way.p, try_light)
        sure = way.pdf * odds
        counted = dr.select(way.delta, 1.0, sure * sure / (sure * sure + other * other))
        if dr.hint(kinds.departs, mode="scalar"):
            tone = dr.gather(mi.Vector3f, on.shadows, which * 2, try_light)
            dense = dr.gather(mi.Float, on.shadows, which * 6 + 3, try_light)
            takes = (flags & RECEIVES) > 0
            counted = dr.select((dense < 1) | ~takes, 1.0, counted)
            open_way = dr.select(takes, open_way, 1.0)
            reaches = open_way + (1 - open_way) * ((1 - dense) + mi.Spectrum(tone) * dense)
            found = dr.select(try_light, dr.fma(beta, power * counted * reaches, found), found)
        else:
            found = dr.select(try_light, dr.fma(beta, power * counted * open_way, found), found)

        # The next stretch.
        straight = mi.has_flag(bent.sampled_type, mi.BSDFFlags.Null)
        ahead = si.spawn_ray(dr.select(unseen, ray.d, si.to_world(bent.wo)))
        enters = go & mi.has_flag(bent.sampled_type, mi.BSDFFlags.Transmission)
        beta = dr.select(go, beta * share, beta)
        ray = dr.select(go | unseen, ahead, ray)
        bounced = go & ~straight
        met |= bounced
        clear &= ~bounced | enters
        if dr.hint(kinds.absorbs, mode="scalar"):
            left = dr.select(enters, dr.select(bent.wo.z < 0, shape, 0), dr.select(bounced & (bent.wo.z > 0), 0, left))
        lit = dr.select(bounced, flags, lit)
        previous = dr.select(bounced, si, previous)
        density = dr.select(bounced, bent.pdf, density)
        certain = dr.select(bounced, mi.has_flag(bent.sampled_type, mi.BSDFFlags.Delta), certain)
        depth = dr.select(bounced, depth + 1, depth)
        passed = dr.select(unseen | (go & straight), passed + 1, passed)
        # Paths that carry little end early, others are counted for more (Arvo & Kirk, Particle Transport, 1990).
        carries = dr.select(depth > 1, dr.clip(dr.max(beta) / WEAK, 0.05, 1.0), 1.0)
        lives = chance.one() < carries
        beta = dr.select(go & bounced, beta / carries, beta)
        active = (go & (lives | ~bounced) & (dr.max(beta) > 0) & (passed < PASSES)) | unseen
    return found, dr.select(met, 1.0 - dr.clip(through, 0.0, 1.0), 0.0)


def ended(on: Scenery, si: Any, shape: Any) -> Any:
    """How far a floor has gone over into what lies behind it, 0..1."""
    floor = dr.gather(mi.Vector4f, on.fades, shape, si.is_valid())
    away = dr.sqrt(dr.square(si.p.x - floor.z) + dr.square(si.p.z - floor.w))
    share = dr.clip((away / dr.maximum(floor.y, 1e-3) - 0.3) / 0.7, 0, 1)
    return dr.select(floor.y > 0, share * share * (3 - 2 * share), 0.0)


def faded(on: Scenery, chance: Any, si: Any, shape: Any, flags: Any, previous: Any, depth: Any) -> Any:
    """Where, by chance, what is mirrored is a floor beyond its end, or something too far away for the floor that mirrors it."""
    ends = (depth > 0) & (chance.one() < ended(on, si, shape))
    mirrored = dr.gather(mi.Vector4f, on.fades, left_shape(previous), depth > 0)
    left = dr.exp(-dr.norm(si.p - previous.p) / dr.maximum(mirrored.x, 1e-3))
    out_of_reach = (depth > 0) & (mirrored.x > 0) & ((flags & LAMP) == 0) & (chance.one() > left)
    return ends | out_of_reach


def _reach(falloffs: Any, number: Any, distance: Any, active: Any) -> Any:
    """What makes light weaken less than it does, alike three metres from its light."""
    power = dr.gather(mi.Float, falloffs, number, active)
    return dr.select(power > 0, dr.power(distance / 3, power), 1.0)


def _slide(slides: Any, cones: Any, number: Any, away: Any, active: Any) -> Any:
    """What a slide lets through in a direction ``away`` from its light (white where there is none)."""
    up = dr.gather(mi.Vector3f, cones, number * 4 + 2, active)
    wide = dr.gather(mi.Vector3f, cones, number * 4 + 3, active)
    axis = dr.gather(mi.Vector3f, cones, number * 4, active)
    there = active & (wide.x > 0)
    scale = 0.5 / dr.maximum(dr.dot(axis, away) * wide.x, 1e-6)
    x, y = 0.5 + dr.dot(dr.cross(axis, up), away) * scale, 0.5 - dr.dot(up, away) * scale
    return dr.select(there, _looked_up(slides, mi.UInt32(wide.y) * SLIDE * SLIDE, mi.UInt32(SLIDE), mi.UInt32(SLIDE), x, y, there), 1.0)


def _backdrop(on: Scenery, ray: Any, active: Any) -> Any:
    """The backdrop where a ray meets the plane it lies in; its outermost pixels go on beyond it."""
    right, up, forward, eye, size, grid = (dr.gather(mi.Vector3f, on.view, mi.UInt32(k)) for k in range(6))
    ahead = dr.dot(ray.d, forward)
    distance = (size.z - dr.dot(ray.o - eye, forward)) / dr.maximum(ahead, 1e-3)
    point = ray.o + ray.d * dr.maximum(distance, 0) - eye
    x, y = 0.5 + dr.dot(point, right) / (2 * size.x * size.z), 0.5 - dr.dot(point, up) / (2 * size.y * size.z)
    return _looked_up(on.behind, mi.UInt32(0), mi.UInt32(grid.x), mi.UInt32(grid.y), x, y, active)


def on_plate(on: Scenery, si: Any, shape: Any) -> Any:
    """Picture coordinates of hits: where the camera sees them, on shapes whose picture fills the frame; else their own."""
    plate = dr.gather(mi.Vector4f, on.plates, shape, si.is_valid())
    right, up, forward, eye, size = (dr.gather(mi.Vector3f, on.view, mi.UInt32(k)) for k in range(5))
    away = si.p - eye
    ahead = dr.maximum(dr.dot(away, forward), 1e-6) * 2
    x, y = dr.dot(away, right) / (ahead * size.x), dr.dot(away, up) / (ahead * size.y)
    seen = mi.Point2f(0.5 + plate.z + x / dr.maximum(plate.x, 1e-6), 0.5 + plate.w + y / dr.maximum(plate.y, 1e-6))
    return dr.select(plate.x > 0, seen, si.uv)


def _looked_up(pictures: Any, start: Any, columns: Any, rows: Any, x: Any, y: Any, active: Any) -> Any:
    """Bilinear values of a picture that begins at pixel ``start``; x and y from 0 to 1 from the top left, held at its edge."""
    across = dr.clip(x * mi.Float(columns) - 0.5, 0, mi.Float(columns) - 1.001)
    down = dr.clip(y * mi.Float(rows) - 0.5, 0, mi.Float(rows) - 1.001)
    left, top = mi.UInt32(across), mi.UInt32(down)
    fx, fy = across - mi.Float(left), down - mi.Float(top)

    def at(dx: int, dy: int) -> Any:
        return dr.gather(mi.Vector3f, pictures, start + (top + dy) * columns + left + dx, active)

    above, below = at(0, 0) * (1 - fx) + at(1, 0) * fx, at(0, 1) * (1 - fx) + at(1, 1) * fx
    return above * (1 - fy) + below * fy


def left_shape(previous: Any) -> Any:
    return dr.reinterpret_array(mi.UInt32, previous.shape)


def _cone(cones: Any, number: Any, away: Any, active: Any) -> Any:
    """What a cone lets through in a direction ``away`` from its light (2 where there is none)."""
    axis = dr.gather(mi.Vector3f, cones, number * 4, active)
    edge = dr.gather(mi.Vector3f, cones, number * 4 + 1, active)
    cosine = dr.dot(axis, away)
    share = dr.clip((cosine - edge.x) / dr.maximum(edge.y - edge.x, 1e-6), 0, 1)
    # Even within the cone, whatever a flat opening would do.
    shaped = share * share * (3 - 2 * share) / dr.maximum(cosine, 1e-3)
    return dr.select(edge.z > 0, shaped, 1.0)


@syntax
def _unblocked(on: Scenery, si: Any, target: Any, active: Any) -> Any:
    """Share of the light that reaches a point from ``target``."""
    ray = si.spawn_ray_to(target)
    if dr.hint(not (on.kinds.nulls or on.kinds.hidden), mode="scalar"):
        return dr.select(on.scene.ray_test(ray, active), 0.0, 1.0)
    clear, passed, going = mi.Float(1.0), mi.UInt32(0), mi.Bool(active)
    while dr.hint(going, label="shadow", exclude=[on]):
        meets = on.scene.ray_intersect(ray, mi.RayFlags.All, coherent=False, active=going)
        shape = dr.reinterpret_array(mi.UInt32, meets.shape)
        flags = dr.gather(mi.UInt32, on.flags, shape, going & meets.is_valid())
        hits = going & meets.is_valid()
        casts = hits & ((flags & CASTS) > 0)
        bsdf = meets.bsdf(mi.RayDifferential3f(ray))
        passes = dr.mean(bsdf.eval_null_transmission(meets, casts))
        clear = dr.select(casts, clear * passes, clear)
        passed += 1
        ray = dr.select(hits, meets.spawn_ray_to(target), ray)
        going = hits & (clear > 1e-3) & (passed < PASSES)
    return clear


@syntax
def first_met(on: Scenery, ray: Any) -> Any:
    """What rays of the camera meet first: a surface interaction, invalid where there is nothing."""
    si = on.scene.ray_intersect(ray, mi.RayFlags.All, coherent=True, active=mi.Bool(True))
    passed, way = mi.UInt32(0), mi.Ray3f(ray)
    flags = dr.gather(mi.UInt32, on.flags, dr.reinterpret_array(mi.UInt32, si.shape), si.is_valid())
    unseen = si.is_valid() & ((flags & CAMERA) == 0)
    while dr.hint(unseen, label="first", exclude=[on, ray]):
        way = dr.select(unseen, si.spawn_ray(ray.d), way)
        si = dr.select(unseen, on.scene.ray_intersect(way, mi.RayFlags.All, coherent=True, active=unseen), si)
        flags = dr.gather(mi.UInt32, on.flags, dr.reinterpret_array(mi.UInt32, si.shape), unseen & si.is_valid())
        passed += 1
        unseen = unseen & si.is_valid() & ((flags & CAMERA) == 0) & (passed < PASSES)
    return si
