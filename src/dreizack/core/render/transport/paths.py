"""The light that reaches the camera along a ray.

Path tracing with next event estimation and multiple importance sampling (Veach, Robust Monte Carlo Methods,
1997, chapters 8 to 10; power heuristic). Beside that, what a stage needs: things that only some rays meet,
lights that reach only some things, cones of light, glass that takes colour with depth, and what is seen
through glass left to the backdrop.
"""

from __future__ import annotations

from typing import Any

from drjit import syntax

from ..kernel.engine import arrays, engine
from .caught_shadow import lowered, rippled
from .letter_glow import glow_of_sample, glow_of_triangle
from .light_selection import chosen, light_pdfs, renewed, share_of
from .relief import lay_relief, spread_cone
from .shading_normals import adapt_shading_normal
from .shaping import (
    cone,
    ended,
    faded,
    on_plate,
    reach,
    seen_at,
    seen_behind,
    slide,
    unlinked,
    wanted,
)
from .tables import (
    BLENDS,
    CAMERA,
    CASTS,
    CATCHES,
    EVERYTHING,
    LAMP,
    MIRRORED,
    MULTIPLIES,
    PASSES,
    RECEIVES,
    SCREENS,
    SLOTS,
    TURNS,
    SceneTables,
)

mi, dr = engine(), arrays()

# Light below which shadows are looked after by sampler, and what a path must carry to be sure to go on.
FAINT, WEAK = 0.02, 0.3


@syntax
def radiance(
    on: SceneTables, ray: Any, sampler: Any, cone_spread: Any
) -> tuple[Any, Any, Any, Any, Any, Any]:
    """Radiance along rays that widen by ``cone_spread`` metres a metre, which share of the view is taken up
    by something: 0 where only the backdrop is, and how many stretches their paths had.

    Then, where there are catchers: which share of the view they take up, and the luminance that lights bring
    there as if nothing but catchers were, and as it is (Debevec, Rendering Synthetic Objects into Real
    Scenes, 1998, section 5: what differs is what things do to the place). Their radiance is only what comes
    from things.
    """
    kinds = on.kinds
    ctx = mi.BSDFContext()
    found, beta = mi.Spectrum(0.0), mi.Spectrum(1.0)
    depth, passed = mi.UInt32(0), mi.UInt32(0)
    active, met, clear = wanted(on, ray.d.z < 2), mi.Bool(False), mi.Bool(True)
    through = mi.Float(0.0)
    # Where the last direction was chosen, on which shape, and how probable each light was to be tried there.
    origin, origin_shape = mi.Point3f(0.0), mi.UInt32(0)
    shares = [mi.Float(0.0) for _ in range(kinds.weighed)]
    # Probability with which the last direction was chosen; 0 where lights were counted there in full.
    density, certain = mi.Float(1.0), mi.Bool(True)
    left, lit = mi.UInt32(0), mi.UInt32(EVERYTHING)
    wide, turns, stretches = mi.Float(0.0), mi.UInt32(0), mi.UInt32(0)
    caught, unshaded, shaded = mi.Float(0.0), mi.Float(0.0), mi.Float(0.0)
    # Whether the last surface was a catcher that the camera sees.
    off_catcher = mi.Bool(False)
    while dr.hint(active, label="path", exclude=[on, kinds, ctx]):
        si = on.scene.ray_intersect(ray, mi.RayFlags.All, coherent=(depth == 0), active=active)
        stretches = dr.select(active, stretches + 1, stretches)
        shape = dr.reinterpret_array(mi.UInt32, si.shape)
        flags = dr.gather(mi.UInt32, on.flags, shape, active & si.is_valid())
        if dr.hint(kinds.plates, mode="scalar"):
            si.uv = on_plate(on, si, shape)
        needs = dr.select(depth == 0, mi.UInt32(CAMERA), mi.UInt32(MIRRORED))
        unseen = active & si.is_valid() & ((flags & needs) == 0) & (passed < PASSES)
        if dr.hint(kinds.fades, mode="scalar"):
            unseen |= (
                active
                & si.is_valid()
                & (passed < PASSES)
                & faded(on, sampler, si, shape, flags, origin, origin_shape, depth)
            )
        if dr.hint(kinds.links, mode="scalar"):
            unseen |= unlinked(on, si, flags, origin_shape, active & (depth > 0) & (passed < PASSES))
        here = active & ~unseen
        if dr.hint(kinds.fades, mode="scalar"):
            # Towards its end a floor goes over into the backdrop.
            gone = dr.select(here & si.is_valid() & (depth == 0), ended(on, si, shape), 0.0)
            beta *= 1 - gone
            through += gone

        if dr.hint(kinds.catches, mode="scalar"):
            stands_for = here & si.is_valid() & ((flags & CATCHES) > 0)
            catcher = stands_for & (depth == 0)
            caught = dr.select(catcher, dr.mean(beta), caught)
            # What things see of the place is the plate itself.
            place = stands_for & (depth > 0)
            found = dr.select(
                place & ~off_catcher, dr.fma(beta, mi.Spectrum(seen_at(on, si.p, place)), found), found
            )
            here &= ~place

        if dr.hint(kinds.absorbs, mode="scalar"):
            # Bouguer, Lambert, Beer: what lies between two points inside of a body takes its colour.
            inside = here & si.is_valid() & (left > 0)
            sigma = dr.gather(mi.Vector3f, on.absorbs, left, inside)
            stretch = mi.Float(si.t)
            if dr.hint(kinds.scatters, mode="scalar"):
                # Cloudy bodies turn light after a stretch that is as long as sampler has it (Novák et al.,
                # Monte Carlo Methods for Volumetric Light Transport Simulation, 2018, 3.2).
                often = dr.gather(mi.Float, on.scatters, left, inside)
                free = -dr.log(1 - sampler.one()) / dr.maximum(often, 1e-6)
                around = mi.warp.square_to_uniform_sphere(sampler.two())
                turned = inside & (often > 0) & (free < si.t) & (turns < TURNS)
                stretch = dr.select(turned, free, stretch)
                onward = mi.Ray3f(ray(stretch), around)
                here &= ~turned
                turns = dr.select(turned, turns + 1, turns)
                clear &= ~turned
                met |= turned
            beta = dr.select(inside, beta * mi.Spectrum(dr.exp(-sigma * stretch)), beta)

        # Light that was met by following the surface.
        emitter = si.emitter(on.scene)
        glows = here & (emitter != None) & ((depth > 0) | met | si.is_valid())  # noqa: E711
        number = dr.reinterpret_array(mi.UInt32, emitter)
        reference = dr.zeros(mi.Interaction3f)
        reference.p = origin
        toward = mi.DirectionSample3f(on.scene, si, reference)
        if dr.hint(kinds.weighed > 0, mode="scalar"):
            share = share_of(shares, dr.gather(mi.UInt32, on.places, number, glows))
        else:
            share = dr.gather(mi.Float, on.odds, number, glows)
        tried = emitter.pdf_direction(reference, toward, glows & ~certain) * share
        weight = dr.select(certain, 1.0, density * density / (density * density + tried * tried))
        sent = emitter.eval(si, glows) * mi.Spectrum(dr.gather(mi.Vector3f, on.gains, number, glows))
        if dr.hint(kinds.by_letter, mode="scalar"):
            sent *= glow_of_triangle(on, number, si.prim_index, glows & si.is_valid())
        if dr.hint(kinds.cones, mode="scalar"):
            sent *= cone(on.cones, number, -ray.d, glows)
        if dr.hint(kinds.slides, mode="scalar"):
            sent *= mi.Spectrum(slide(on.slides, on.cones, number, -ray.d, glows))
        if dr.hint(kinds.reach, mode="scalar"):
            sent *= dr.select(
                depth > 0, reach(on.falloffs, number, dr.norm(si.p - origin), glows & si.is_valid()), 1.0
            )
        if dr.hint(kinds.links, mode="scalar"):
            link = dr.gather(mi.Float, on.links, origin_shape * on.stride + number, glows & (depth > 0))
            # The camera sees every light.
            sent *= dr.select(depth > 0, link, 1.0)
        if dr.hint(kinds.departs, mode="scalar"):
            partly = dr.gather(mi.Float, on.shadows, number * 6 + 3, glows) < 1
            weight = dr.select(~certain & (partly | ((lit & RECEIVES) == 0)), 0.0, weight)
        escapes = here & ~si.is_valid()
        # Through glass one sees the backdrop, not the surroundings, unless they are the backdrop.
        sees = glows & ~(escapes & clear & (~met | (kinds.bends != "around")))
        if dr.hint(kinds.catches, mode="scalar"):
            # What lights do to the place is in the plate already.
            sees &= ~(off_catcher & (dr.gather(mi.UInt32, on.own, number, glows) == 0))
        if dr.hint(kinds.blends, mode="scalar"):
            # What is laid over things behind it neither hides nor scatters: only its own light is looked for.
            over = here & si.is_valid() & ((flags & BLENDS) > 0) & (passed < PASSES)
            outside = si.wi.z > 0
            sees &= ~(over & ((flags & MULTIPLIES) > 0))
            own = dr.select(over & sees, sent * weight, 0)
        found = dr.select(sees, dr.fma(beta, sent * weight, found), found)
        if dr.hint(kinds.ambient, mode="scalar"):
            found = dr.select(
                escapes & ~clear & ~off_catcher, dr.fma(beta, mi.Spectrum(on.ambient), found), found
            )
        if dr.hint(kinds.bends == "picture", mode="scalar"):
            # What is seen through glass lies where its rays go.
            bent_light = escapes & clear & met
            found = dr.select(
                bent_light, dr.fma(beta, mi.Spectrum(seen_behind(on, ray, bent_light)), found), found
            )
        elif dr.hint(kinds.bends == "", mode="scalar"):
            through = dr.select(escapes & clear, through + dr.mean(beta), through)

        go = here & si.is_valid() & (depth + 1 < on.depth) & ((flags & LAMP) == 0)
        if dr.hint(kinds.reliefs, mode="scalar"):
            wide = dr.select(active & si.is_valid(), wide + cone_spread * si.t, wide)
            plain = lay_relief(
                on.slopes, dr.gather(mi.Vector3f, on.reliefs, shape, go), si, ray, wide, sampler, go
            )
        adapt_shading_normal(si, ray, go)
        bsdf = si.bsdf(mi.RayDifferential3f(ray))
        pick, spot = sampler.one(), sampler.two()
        lobe, turn = sampler.one(), sampler.two()

        # Light that was chosen.
        try_light = mi.Bool(go)
        if dr.hint(kinds.weighed > 0, mode="scalar"):
            gloss = dr.gather(mi.Vector3f, on.gloss, shape, try_light)
            weighed = light_pdfs(on.lamps, kinds.weighed, gloss, si, -ray.d)
            slot, odds = chosen(weighed, pick)
        else:
            slot = dr.gather(mi.UInt32, on.slots, mi.UInt32(pick * SLOTS), try_light)
        light = dr.gather(mi.EmitterPtr, on.emitters, slot, try_light)
        which = dr.reinterpret_array(mi.UInt32, light)
        if dr.hint(kinds.weighed == 0, mode="scalar"):
            odds = dr.gather(mi.Float, on.odds, which, try_light)
        way, power = light.sample_direction(si, spot, try_light)
        try_light &= way.pdf > 0
        power *= mi.Spectrum(dr.gather(mi.Vector3f, on.gains, which, try_light)) / odds
        if dr.hint(kinds.by_letter, mode="scalar"):
            power *= glow_of_sample(on, which, spot, try_light)
        if dr.hint(kinds.cones, mode="scalar"):
            power *= cone(on.cones, which, -way.d, try_light)
        if dr.hint(kinds.slides, mode="scalar"):
            power *= mi.Spectrum(slide(on.slides, on.cones, which, -way.d, try_light))
        if dr.hint(kinds.reach, mode="scalar"):
            power *= reach(on.falloffs, which, way.dist, try_light)
        if dr.hint(kinds.links, mode="scalar"):
            power *= dr.gather(mi.Float, on.links, shape * on.stride + which, try_light)
        wo = si.to_local(way.d)
        value, other, bent, carried = bsdf.eval_pdf_sample(ctx, si, wo, lobe, turn, go)
        if dr.hint(kinds.reliefs, mode="scalar"):
            # Nothing comes through a surface because of its relief.
            value = dr.select(dr.dot(plain, way.d) * wo.z > 0, value, 0)
            carried = dr.select(dr.dot(plain, si.to_world(bent.wo)) * bent.wo.z > 0, carried, 0)
        # Little light is looked after seldom, and then counted for more (Russian roulette).
        power *= value
        worth = dr.max(beta * power)
        kept = dr.minimum(worth / FAINT, 1.0)
        try_light &= sampler.one() < kept
        power /= dr.maximum(kept, 1e-9)
        to_place = mi.Bool(False)
        if dr.hint(kinds.catches, mode="scalar"):
            to_place = catcher & (dr.gather(mi.UInt32, on.own, which, try_light) == 0)
        # Catchers shade one another in the plate already.
        target = mi.Point3f(way.p)
        if dr.hint(kinds.stretches, mode="scalar"):
            lamp = ~mi.has_flag(light.flags(), mi.EmitterFlags.Infinite)
            target = dr.select(to_place & lamp, lowered(on, target), target)
        open_way = unblocked(on, si, target, try_light, to_place)
        sure = way.pdf * odds
        counted = dr.select(way.delta, 1.0, sure * sure / (sure * sure + other * other))
        if dr.hint(kinds.departs, mode="scalar"):
            tone = dr.gather(mi.Vector3f, on.shadows, which * 2, try_light)
            dense = dr.gather(mi.Float, on.shadows, which * 6 + 3, try_light)
            takes = (flags & RECEIVES) > 0
            counted = dr.select((dense < 1) | ~takes, 1.0, counted)
            open_way = dr.select(takes, open_way, 1.0)
            reaches = open_way + (1 - open_way) * ((1 - dense) + mi.Spectrum(tone) * dense)
        else:
            reaches = mi.Spectrum(open_way)
        if dr.hint(kinds.blends, mode="scalar"):
            # No direction is followed from there: lights count in full.
            counted = dr.select(over, 1.0, counted)
            try_light &= ~(over & ((flags & MULTIPLIES) > 0))
            own += dr.select(try_light, power * counted * reaches, 0)
        found = dr.select(try_light & ~to_place, dr.fma(beta, power * counted * reaches, found), found)
        if dr.hint(kinds.catches, mode="scalar"):
            # Lights are not met by following a catcher: they count in full here.
            shining = try_light & to_place
            unshaded = dr.select(shining, unshaded + mi.luminance(beta * power), unshaded)
            shaded = dr.select(shining, shaded + mi.luminance(beta * power * reaches), shaded)

        # The next stretch.
        straight = mi.has_flag(bent.sampled_type, mi.BSDFFlags.Null)
        onto = dr.select(unseen, ray.d, si.to_world(bent.wo))
        enters = go & mi.has_flag(bent.sampled_type, mi.BSDFFlags.Transmission)
        if dr.hint(kinds.blends, mode="scalar"):
            straight |= over
            enters &= ~over
            onto = dr.select(over, ray.d, onto)
            carried = dr.select(over, let_through(si, bsdf, flags, own, over & outside), carried)
        ahead = si.spawn_ray(onto)
        beta = dr.select(go, beta * carried, beta)
        ray = dr.select(go | unseen, ahead, ray)
        if dr.hint(kinds.scatters, mode="scalar"):
            ray = dr.select(turned, onward, ray)
        bounced = go & ~straight
        met |= bounced
        if dr.hint(kinds.blends, mode="scalar"):
            met |= over & ((flags & (SCREENS | MULTIPLIES)) > 0)
        clear &= ~bounced | enters
        if dr.hint(kinds.absorbs, mode="scalar"):
            left = dr.select(
                enters, dr.select(bent.wo.z < 0, shape, 0), dr.select(bounced & (bent.wo.z > 0), 0, left)
            )
        lit = dr.select(bounced, flags, lit)
        if dr.hint(kinds.catches, mode="scalar"):
            off_catcher = dr.select(bounced, catcher, off_catcher)
        origin, origin_shape = dr.select(bounced, si.p, origin), dr.select(bounced, shape, origin_shape)
        if dr.hint(kinds.weighed > 0, mode="scalar"):
            shares = renewed(bounced, weighed, shares)
        density = dr.select(bounced, bent.pdf, density)
        certain = dr.select(bounced, mi.has_flag(bent.sampled_type, mi.BSDFFlags.Delta), certain)
        cone_spread = dr.select(bounced & ~certain, spread_cone(cone_spread, bent.pdf), cone_spread)
        depth = dr.select(bounced, depth + 1, depth)
        passed = dr.select(unseen | (go & straight), passed + 1, passed)
        # Paths that carry little end early, others are counted for more (Arvo & Kirk, Particle Transport,
        # 1990).
        carries = dr.select(depth > 1, dr.clip(dr.max(beta) / WEAK, 0.05, 1.0), 1.0)
        lives = sampler.one() < carries
        beta = dr.select(go & bounced, beta / carries, beta)
        active = (go & (lives | ~bounced) & (dr.max(beta) > 0) & (passed < PASSES)) | unseen
        if dr.hint(kinds.scatters, mode="scalar"):
            active |= turned & (dr.max(beta) > 1e-3)
        active = wanted(on, active)
    covered = dr.select(met, 1.0 - dr.clip(through, 0.0, 1.0), 0.0)
    return found, covered, stretches, caught, unshaded, shaded


def let_through(si: Any, bsdf: Any, flags: Any, own: Any, active: Any) -> Any:
    """What comes through a surface that is laid over what is behind it, ``own`` being the light it sends
    itself: 1 where it adds, 1 - own where it screens, its colour where it multiplies."""
    nothing = bsdf.eval_null_transmission(si, active)
    colour = mi.Spectrum(bsdf.eval_diffuse_reflectance(si, active))
    found = dr.select((flags & SCREENS) > 0, 1 - dr.clip(own, 0, 1), mi.Spectrum(1.0))
    found = dr.select((flags & MULTIPLIES) > 0, nothing + (1 - nothing) * colour, found)
    return dr.select(active, found, mi.Spectrum(1.0))


@syntax
def unblocked(on: SceneTables, si: Any, target: Any, active: Any, to_place: Any) -> Any:
    """Share of the light that reaches a point from ``target``; catchers let it through ``to_place``, where
    shadows may weaken with the distance from what throws them."""
    if dr.hint(on.kinds.ripples, mode="scalar"):
        si = rippled(on, si, to_place)
    ray = si.spawn_ray_to(target)
    if dr.hint(not (on.kinds.nulls or on.kinds.hidden or on.kinds.catches or on.kinds.blends), mode="scalar"):
        return dr.select(on.scene.ray_test(ray, active), 0.0, 1.0)
    clear, passed, going = mi.Float(1.0), mi.UInt32(0), mi.Bool(active)
    while dr.hint(going, label="shadow", exclude=[on]):
        meets = on.scene.ray_intersect(ray, mi.RayFlags.All, coherent=False, active=going)
        shape = dr.reinterpret_array(mi.UInt32, meets.shape)
        flags = dr.gather(mi.UInt32, on.flags, shape, going & meets.is_valid())
        hits = going & meets.is_valid()
        casts = hits & ((flags & CASTS) > 0) & ~(to_place & ((flags & CATCHES) > 0))
        bsdf = meets.bsdf(mi.RayDifferential3f(ray))
        passes = dr.mean(bsdf.eval_null_transmission(meets, casts))
        if dr.hint(on.kinds.blends, mode="scalar"):
            laid = casts & ((flags & BLENDS) > 0)
            through = let_through(meets, bsdf, flags, mi.Spectrum(0.0), laid & (meets.wi.z > 0))
            passes = dr.select(laid, dr.mean(through), passes)
        if dr.hint(on.kinds.weakens, mode="scalar"):
            strength = dr.clip(1 - dr.norm(meets.p - si.p) / dr.gather(mi.Float, on.caught, 0), 0, 1)
            passes = dr.select(to_place, 1 - (1 - passes) * strength, passes)
        clear = dr.select(casts, clear * passes, clear)
        passed += 1
        ray = dr.select(hits, meets.spawn_ray_to(target), ray)
        going = hits & (clear > 1e-3) & (passed < PASSES)
    return clear


@syntax
def first_met(on: SceneTables, ray: Any) -> Any:
    """What rays of the camera meet first: a surface interaction, invalid where there is nothing."""
    si = on.scene.ray_intersect(ray, mi.RayFlags.All, coherent=True, active=mi.Bool(True))
    passed, way = mi.UInt32(0), mi.Ray3f(ray)
    flags = dr.gather(mi.UInt32, on.flags, dr.reinterpret_array(mi.UInt32, si.shape), si.is_valid())
    unseen = si.is_valid() & ((flags & CAMERA) == 0)
    while dr.hint(unseen, label="first", exclude=[on, ray]):
        way = dr.select(unseen, si.spawn_ray(ray.d), way)
        si = dr.select(unseen, on.scene.ray_intersect(way, mi.RayFlags.All, coherent=True, active=unseen), si)
        flags = dr.gather(
            mi.UInt32, on.flags, dr.reinterpret_array(mi.UInt32, si.shape), unseen & si.is_valid()
        )
        passed += 1
        unseen = unseen & si.is_valid() & ((flags & CAMERA) == 0) & (passed < PASSES)
    return si
