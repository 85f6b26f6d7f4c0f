"""Air between the camera and what it sees: it takes light, and lights up where lights shine into it.

Single scattering in even air (Novák et al., Monte Carlo Methods for Volumetric Light Transport Simulation,
2018, section 2.2), looked at in one place a sample; lights are tried there as on surfaces. Light comes to air
and to surfaces unweakened: what air takes, more scattering would bring back in part.
"""

from __future__ import annotations

from typing import Any

from ..kernel.engine import arrays, engine
from .letter_glow import glow_of_sample
from .paths import first_met, unblocked
from .shaping import cone, reach, slide
from .tables import CATCHES, SLOTS, SceneTables

mi, dr = engine(), arrays()


def through_air(on: SceneTables, ray: Any, sampler: Any) -> tuple[Any, Any]:
    """Along rays of the camera: which share of light comes through, and the light of the air itself; all and
    none where there is no air: before a backdrop that has its own."""
    density, forward, far, before, *tint = (dr.gather(mi.Float, on.air, mi.UInt32(k)) for k in range(7))
    si = first_met(on, ray)
    seen = si.is_valid()
    if on.kinds.catches:
        # What a catcher stands for is backdrop, too.
        flags = dr.gather(mi.UInt32, on.flags, dr.reinterpret_array(mi.UInt32, si.shape), seen)
        seen &= (before > 0) | ((flags & CATCHES) == 0)
    there = seen | (before > 0)
    length = dr.minimum(dr.select(seen, dr.norm(si.p - ray.o), far), far)
    slot = dr.gather(mi.UInt32, on.slots, mi.UInt32(sampler.one() * SLOTS), there)
    number = dr.gather(
        mi.UInt32,
        on.places,
        dr.reinterpret_array(mi.UInt32, dr.gather(mi.EmitterPtr, on.emitters, slot, there)),
        there,
    )
    glows = mi.Spectrum(0.0)
    for away, worth in _places(on, ray, number, length, density, (sampler.one(), sampler.one())):
        glows += worth * _light_at(on, ray, away, slot, sampler.two(), forward, there)
    left = dr.exp(-density * length)
    if on.kinds.ambient:
        glows += mi.Spectrum(on.ambient) * (1 - left)
    return dr.select(there, left, 1.0), dr.select(there, mi.Spectrum(*tint) * glows, 0)


def _light_at(on: SceneTables, ray: Any, away: Any, slot: Any, spot: Any, forward: Any, active: Any) -> Any:
    """Light that air sends back along rays from so far away, of the light in a ``slot``, by its odds."""
    kinds, place = on.kinds, dr.zeros(mi.Interaction3f)
    place.p, place.t = ray(away), away
    place.time, place.wavelengths = ray.time, ray.wavelengths
    light = dr.gather(mi.EmitterPtr, on.emitters, slot, active)
    which = dr.reinterpret_array(mi.UInt32, light)
    odds = dr.gather(mi.Float, on.odds, which, active)
    way, power = light.sample_direction(place, spot, active)
    lit = active & (way.pdf > 0) & (odds > 0)
    power *= mi.Spectrum(dr.gather(mi.Vector3f, on.gains, which, lit)) / dr.maximum(odds, 1e-9)
    if kinds.by_letter:
        power *= glow_of_sample(on, which, spot, lit)
    if kinds.cones:
        power *= cone(on.cones, which, -way.d, lit)
    if kinds.slides:
        power *= mi.Spectrum(slide(on.slides, on.cones, which, -way.d, lit))
    if kinds.reach:
        power *= reach(on.falloffs, which, way.dist, lit)
    power *= scattered(dr.dot(way.d, ray.d), forward) * unblocked(on, place, way.p, lit, mi.Bool(False))
    return dr.select(lit, power, 0)


def _places(
    on: SceneTables, ray: Any, number: Any, length: Any, density: Any, picks: tuple[Any, Any]
) -> list[tuple[Any, Any]]:
    """Two places along rays that are looked at for a light by its ``number``, and what light that comes back
    there counts: one as the light is seen from there (Kulla & Fajardo, Importance Sampling Techniques for
    Path Tracing in Participating Media, 2012, section 4.1), one as often as air scatters, weighed by both
    (balance heuristic)."""
    middle = dr.gather(mi.Vector4f, on.lamps, number * 2)
    area = dr.gather(mi.Vector4f, on.lamps, number * 2 + 1).w
    toward = mi.Vector3f(middle.x, middle.y, middle.z) - ray.o
    nearest = dr.dot(toward, ray.d)
    aside = dr.norm(toward - nearest * ray.d)
    # Within a lamp it looks no larger.
    aside = dr.maximum(aside, dr.maximum(0.3 * dr.sqrt(area), 0.02))
    first, last = dr.atan2(-nearest, aside), dr.atan2(length - nearest, aside)
    met = dr.maximum(1 - dr.exp(-density * length), 1e-9)
    scatters = -dr.log(1 - picks[1] * met) / dr.maximum(density, 1e-9)
    # Surroundings are nowhere: there every part of the way is alike.
    sees = dr.select(area > 0, nearest + aside * dr.tan(dr.lerp(first, last, picks[0])), length * picks[0])

    def counted(away: Any) -> tuple[Any, Any]:
        away = dr.clip(away, 0, length)
        often = density * dr.exp(-density * away)
        turn = aside / dr.maximum((last - first) * (aside * aside + dr.square(away - nearest)), 1e-9)
        faces = dr.select(area > 0, turn, 1 / dr.maximum(length, 1e-9))
        return away, often / (often / met + faces)

    return [counted(sees), counted(scatters)]


def left_of_backdrop(on: SceneTables) -> Any:
    """Which share of the backdrop's light comes through the air."""
    density, _, far, before = (dr.gather(mi.Float, on.air, mi.UInt32(k)) for k in range(4))
    return dr.select(before > 0, dr.exp(-density * far), 1.0)


def scattered(cosine: Any, forward: Any) -> Any:
    """Share of light a steradian that goes on at an angle from its way (Henyey & Greenstein, Diffuse
    radiation in the galaxy, 1941)."""
    square = forward * forward
    return (1 - square) / (4 * dr.pi * dr.power(1 + square - 2 * forward * cosine, 1.5))
