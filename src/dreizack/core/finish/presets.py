"""Finishes to start from."""

from __future__ import annotations

from typing import Any

from ..document import Colour, Finish, Surface
from .metals import metal_colour


def _of(r: float, g: float, b: float, roughness: float, **terms: Any) -> Finish:
    return Finish(base_colour=Colour(r=r, g=g, b=b), roughness=roughness, **{"metallic": 0.0, **terms})


def _metal(name: str, roughness: float, darker: float = 1.0, **terms: Any) -> Finish:
    """Bare metal as measured, or ``darker`` where it has tarnished."""
    r, g, b = (round(channel * darker, 4) for channel in metal_colour(name))
    return _of(r, g, b, roughness, metallic=1.0, **terms)


def _glass(roughness: float, colour: tuple[float, float, float], distance: float, **terms: Any) -> Finish:
    """Solid glass that has a colour where light has gone through it for ``distance`` metres."""
    return _of(
        1,
        1,
        1,
        roughness,
        transmission=1.0,
        attenuation_colour=_colour(*colour),
        attenuation_distance=distance,
        **terms,
    )


def _glow(r: float, g: float, b: float, emission: float) -> Finish:
    return _of(0.02, 0.02, 0.02, 0.3, emission=emission, emission_colour=_colour(r, g, b))


def _colour(r: float, g: float, b: float) -> Colour:
    return Colour(r=r, g=g, b=b)


def _faced(whole: Finish, **parts: Finish) -> Finish:
    """A finish of which some parts differ."""
    return whole.model_copy(
        update={
            "parts": {name: Surface(**part.model_dump(exclude={"parts"})) for name, part in parts.items()}
        }
    )


PRESETS: dict[str, Finish] = {
    # Metals
    "worn brass": _of(0.78, 0.57, 0.24, 0.28, metallic=1.0),
    "polished brass": _metal("brass", 0.08),
    "polished steel": _of(0.66, 0.67, 0.69, 0.12, metallic=1.0),
    "brushed steel": _of(
        0.66, 0.67, 0.69, 0.36, metallic=1.0, anisotropy=0.8, bump="brushed", bump_size=0.01, bump_depth=0.05
    ),
    "cast iron": _of(0.26, 0.255, 0.25, 0.55, metallic=1.0, bump="grain", bump_size=0.012, bump_depth=0.35),
    "gold": _metal("gold", 0.1),
    "gold leaf": _metal("gold", 0.34),
    "silver": _metal("silver", 0.1),
    "old silver": _metal("silver", 0.4, darker=0.62),
    "copper": _metal("copper", 0.16),
    "hammered copper": _metal("copper", 0.2, bump="hammered", bump_size=0.05, bump_depth=0.5),
    "aluminium": _metal("aluminium", 0.24),
    "brushed aluminium": _metal(
        "aluminium", 0.34, anisotropy=0.85, bump="brushed", bump_size=0.01, bump_depth=0.05
    ),
    "chromium": _metal("chromium", 0.04),
    "nickel": _metal("nickel", 0.18),
    "tungsten": _metal("tungsten", 0.3),
    "titanium": _metal("titanium", 0.3),
    "titanium nitride": _metal("titanium nitride", 0.22),
    # Paints and lacquers
    "signal lacquer": _of(0.46, 0.028, 0.02, 0.18),
    "hull black": _of(0.012, 0.013, 0.015, 0.45, clearcoat=1.0, clearcoat_roughness=0.06),
    "deck enamel": _of(0.78, 0.77, 0.72, 0.4, clearcoat=0.8, clearcoat_roughness=0.12),
    "verdigris enamel": _of(0.09, 0.31, 0.26, 0.4, clearcoat=0.9, clearcoat_roughness=0.08),
    "red over metal": _of(0.52, 0.012, 0.016, 0.38, metallic=0.9, clearcoat=1.0, clearcoat_roughness=0.04),
    "blue over metal": _of(0.03, 0.1, 0.42, 0.38, metallic=0.9, clearcoat=1.0, clearcoat_roughness=0.04),
    "flake lacquer": _of(
        0.3,
        0.06,
        0.02,
        0.3,
        metallic=1.0,
        clearcoat=1.0,
        clearcoat_roughness=0.03,
        bump="flakes",
        bump_size=0.006,
        bump_depth=0.5,
    ),
    "enamel on brass": _faced(
        _metal("brass", 0.18), face=_of(0.02, 0.09, 0.2, 0.3, clearcoat=1.0, clearcoat_roughness=0.04)
    ),
    "ivory on black": _faced(_of(0.012, 0.012, 0.013, 0.3, clearcoat=0.6), face=_of(0.74, 0.7, 0.6, 0.35)),
    "piano lacquer": _of(0.006, 0.006, 0.007, 0.1, clearcoat=1.0, clearcoat_roughness=0.0),
    "satin white": _of(0.8, 0.8, 0.79, 0.32),
    # Stone, paper, earth
    "chalk": _of(0.82, 0.8, 0.76, 0.85),
    "paper": _of(0.76, 0.72, 0.64, 0.95, ior=1.35, bump="grain", bump_size=0.01, bump_depth=0.12),
    "slate": _of(0.075, 0.08, 0.09, 0.7),
    "wet stone": _of(
        0.03,
        0.033,
        0.04,
        0.55,
        clearcoat=1.0,
        clearcoat_roughness=0.05,
        bump="grain",
        bump_size=0.03,
        bump_depth=0.3,
    ),
    "terracotta": _of(0.44, 0.16, 0.08, 0.8),
    "bone": _of(0.72, 0.64, 0.5, 0.42),
    # Cloth and rubber
    "navy velvet": _of(0.012, 0.018, 0.07, 0.9, sheen=1.0),
    "felt": _of(0.3, 0.31, 0.28, 0.95, sheen=0.5),
    "sailcloth": _of(0.74, 0.71, 0.63, 0.85, sheen=0.25, bump="weave", bump_size=0.008, bump_depth=0.4),
    # Glass, wax, water
    "clear glass": _glass(0.0, (0.82, 0.94, 0.9), 0.4),
    "frosted glass": _glass(0.42, (0.88, 0.95, 0.95), 0.3),
    "bottle glass": _glass(0.03, (0.06, 0.42, 0.2), 0.2),
    "amber": _glass(0.06, (0.85, 0.3, 0.03), 0.16, ior=1.54),
    "hammered glass": _glass(0.02, (0.8, 0.93, 0.95), 0.3, bump="hammered", bump_size=0.05, bump_depth=0.3),
    "wax": _of(
        0.86,
        0.78,
        0.6,
        0.5,
        transmission=0.85,
        attenuation_colour=_colour(0.94, 0.72, 0.42),
        attenuation_distance=0.12,
        scatter=0.45,
        ior=1.44,
    ),
    "milk glass": _of(
        0.95,
        0.95,
        0.95,
        0.12,
        transmission=1.0,
        attenuation_colour=_colour(0.97, 0.97, 0.96),
        attenuation_distance=0.2,
        scatter=0.7,
    ),
    "jade": _of(
        0.5,
        0.75,
        0.5,
        0.22,
        transmission=0.8,
        attenuation_colour=_colour(0.42, 0.8, 0.5),
        attenuation_distance=0.1,
        scatter=0.4,
        ior=1.61,
    ),
    "still water": _of(0.006, 0.012, 0.014, 0.03, ior=1.33, bump="ripples", bump_size=0.25, bump_depth=0.05),
    # Light
    "neon rose": _glow(1.0, 0.12, 0.3, 5.0),
    "neon ice": _glow(0.25, 0.75, 1.0, 5.0),
    "lamp filament": _glow(1.0, 0.42, 0.1, 8.0),
    "lit paper": _of(0.8, 0.74, 0.62, 0.9, emission=0.8, emission_colour=_colour(1.0, 0.78, 0.5)),
    "rubber": _of(0.02, 0.02, 0.021, 0.6, ior=1.52),
}
