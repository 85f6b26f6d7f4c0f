"""A scene and the tables that go with it, as kernels read them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

# What may happen to a thing, by bits of its entry in ``SceneTables.flags``.
CAMERA, MIRRORED, CASTS, RECEIVES, LAMP, CATCHES = 1, 2, 4, 8, 16, 32
ADDS, SCREENS, MULTIPLIES = 64, 128, 256
BLENDS = ADDS | SCREENS | MULTIPLIES
EVERYTHING = CAMERA | MIRRORED | CASTS | RECEIVES
# Pixels on a side of the slides that spots throw.
SLIDE = 256
SLOTS = 1024
# Turns a path may take within cloudy bodies.
TURNS = 160
# Surfaces one ray may pass without being bent.
PASSES = 24


@dataclass(frozen=True)
class SceneFeatures:
    """What occurs in a scene; a kernel is compiled for what does, and nothing else."""

    nulls: bool = False
    hidden: bool = False
    cones: bool = False
    links: bool = False
    absorbs: bool = False
    scatters: bool = False
    departs: bool = False
    ambient: bool = False
    slides: bool = False
    reach: bool = False
    fades: bool = False
    plates: bool = False
    catches: bool = False
    # Shadows on catchers weaken with the distance from what throws them.
    weakens: bool = False
    # They are longer or shorter than lights make them.
    stretches: bool = False
    # Their edges wander.
    ripples: bool = False
    blends: bool = False
    reliefs: bool = False
    by_letter: bool = False
    air: bool = False
    # Lights that are weighed place by place; 0 where there are too many.
    weighed: int = 0
    # How glass shows what lies behind it: left to what comes after, from a picture, or from the surroundings.
    bends: str = ""


@dataclass(frozen=True)
class SceneTables:
    """A scene and the tables that go with it, by the numbers the renderer gives shapes and emitters.

    ``slots`` (SLOTS,) choose an emitter, ``odds`` says how probable each is, where they are not weighed: then
    ``lamps`` and ``gloss`` say what :mod:`.choosing` wants to know, and ``places`` which light an emitter is;
    ``gains`` scales what each sends, channel by channel: numbers that are data cost no new kernel when they
    change. ``mirrors`` says what a shape reflects straight on and whether guides go on there, ``reliefs``
    which bump it has, how often and how high, ``slopes`` what bumps are like. ``slides`` holds the pictures
    that spots throw, ``falloffs`` the power of distance that makes up for how their light weakens, ``fades``
    how far floors mirror and where they end, ``plates`` how pictures fill the frame, ``behind`` the backdrop
    as ``view`` sees it. Of an emitter whose letters glow differently, ``glow_rows`` says which of these it
    is, from 1, and where its triangles begin; ``glow_ends`` are the ends of letters' triangles,
    ``glow_shares`` of their area, ``glow`` is what each sends; ``own`` says which emitters are things.
    ``caught`` says of shadows on catchers over how many metres they fade, how many times as long they are,
    how far they wander and over which waves. ``air`` is its density, how much
    it scatters forward, its reach, whether it is before the backdrop, its colour. All paths end as soon
    as ``halt`` is not 0.
    """

    scene: Any
    kinds: SceneFeatures
    emitters: Any
    slots: Any
    odds: Any
    places: Any
    lamps: Any
    gloss: Any
    gains: Any
    flags: Any
    cones: Any
    links: Any
    stride: Any
    absorbs: Any
    scatters: Any
    shadows: Any
    caught: Any
    ambient: Any
    depth: Any
    mirrors: Any
    reliefs: Any
    slopes: Any
    slides: Any
    falloffs: Any
    fades: Any
    plates: Any
    view: Any
    behind: Any
    glow_rows: Any
    glow_ends: Any
    glow_shares: Any
    glow: Any
    own: Any
    air: Any
    halt: Any
