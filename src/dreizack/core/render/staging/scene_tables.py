"""The tables that go with a scene: what each shape may do, how probable it is that each emitter is tried."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...scene import FrameState
from ..kernel.cancellation import halt
from ..kernel.engine import arrays, engine
from ..transport.light_selection import WEIGHED
from ..transport.relief import all_slopes
from ..transport.tables import BLENDS, MULTIPLIES, SCREENS, SceneFeatures, SceneTables
from .backdrop import backdrop_picture
from .emitter_tables import EmitterTables, emitter_tables
from .letter_tables import NO_LETTERS_GLOW, glow_tables
from .light_tables import LightTables, light_tables
from .meshes import PartMesh
from .shape_tables import ShapeTables, shape_tables

mi, dr = engine(), arrays()

Floats = NDArray[np.float64]

# Bounces of a path at most.
DEPTH = 16
# Rows of the backdrop that is seen through glass.
BEHIND = 540


def scene_tables(
    scene: Any, state: FrameState, parts: dict[str, dict[tuple[int, str], PartMesh]], gains: dict[str, float]
) -> SceneTables:
    """Tables for a scene as ``state`` has it; ``gains`` scales lights by name ("surroundings" is one, glowing
    things are others)."""
    shapes = shape_tables(scene, state, parts)
    emitters = emitter_tables(scene, state, parts, gains, shapes)
    lights = light_tables(state, gains, shapes, emitters)
    glowing = glow_tables(state, parts, emitters.size, dict(zip(emitters.ids, emitters.numbers, strict=True)))
    features = _features(state, shapes, emitters, lights, glowing is not None)
    behind = _behind(state) if features.bends == "picture" or features.catches else np.zeros((1, 3))
    return SceneTables(
        scene=scene,
        kinds=features,
        emitters=scene.emitters_dr(),
        slots=mi.UInt32(np.repeat(np.arange(len(emitters.ids)), emitters.shares).astype(np.uint32)),
        odds=mi.Float(emitters.odds),
        places=mi.UInt32(emitters.places),
        lamps=mi.Float(emitters.lamps.ravel()),
        gloss=mi.Float(shapes.gloss.ravel()),
        gains=mi.Float(emitters.gain.ravel()),
        flags=mi.UInt32(shapes.flags),
        cones=mi.Float(lights.cones.ravel()),
        links=mi.Float(lights.links.ravel()),
        stride=dr.opaque(mi.UInt32, emitters.size),
        absorbs=mi.Float(shapes.absorbs.ravel()),
        scatters=mi.Float(shapes.scatters),
        shadows=mi.Float(lights.shadows),
        caught=mi.Float(np.array([max(state.caught.fade, 1e-6), *state.caught[1:]], np.float32)),
        ambient=mi.Vector3f(*(dr.opaque(mi.Float, float(c)) for c in lights.ambient)),
        depth=dr.opaque(mi.UInt32, DEPTH),
        mirrors=mi.Float(shapes.mirrors.ravel()),
        reliefs=mi.Float(shapes.reliefs.ravel()),
        slopes=all_slopes(),
        fades=mi.Float(shapes.fades.ravel()),
        plates=mi.Float(shapes.plates.ravel()),
        falloffs=mi.Float(lights.falloffs),
        slides=mi.Float(np.concatenate(lights.slides).ravel() if lights.slides else np.ones(3, np.float32)),
        view=mi.Float(_view(state).ravel()),
        behind=mi.Float(np.asarray(behind, np.float32).ravel()),
        **(glowing or NO_LETTERS_GLOW),
        own=mi.UInt32(emitters.own),
        air=mi.Float(_air(state)),
        halt=halt().flag,
    )


def _features(
    state: FrameState,
    shapes: ShapeTables,
    emitters: EmitterTables,
    lights: LightTables,
    by_letter: bool,
) -> SceneFeatures:
    """What of all that is possible a scene has: the rest is left out of its kernel."""
    all_lights, titles = state.lights.values(), state.titles.values()
    absorbs, scatters = bool(shapes.absorbs.any()), bool(shapes.scatters.any())
    transmits = any("transmission" in layers for title in titles for layers in title.layers)
    filters = bool((shapes.flags & (SCREENS | MULTIPLIES)).any())
    bends = ""
    if (state.behind is not None and (absorbs or scatters or transmits)) or filters:
        around = state.behind is not None and state.behind.kind == "surroundings"
        bends = "around" if around else "picture"
    return SceneFeatures(
        by_letter=by_letter,
        nulls=shapes.masked,
        hidden=any(not title.visibility[2] for title in titles),
        cones=any(light.cone is not None for light in all_lights),
        links=any(light.reaches is not None for light in all_lights),
        absorbs=absorbs or scatters,
        scatters=scatters,
        departs=any(light.shadow[3] < 1 or any(light.shadow[:3]) for light in all_lights)
        or any(not title.visibility[3] for title in titles),
        ambient=bool(lights.ambient.any()),
        slides=bool(lights.slides),
        reach=bool(lights.falloffs.any()),
        fades=bool(shapes.fades[:, :2].any()),
        plates=bool(shapes.plates.any()),
        catches=state.catches,
        weakens=state.catches and state.caught.fade > 0,
        stretches=state.catches and state.caught.length != 1,
        ripples=state.catches and state.caught.ripple > 0,
        blends=bool((shapes.flags & BLENDS).any()),
        reliefs=bool(shapes.reliefs[:, 2].any()),
        weighed=len(emitters.ids) if len(emitters.ids) <= WEIGHED else 0,
        bends=bends,
        air=state.air is not None,
    )


def _air(state: FrameState) -> NDArray[np.float32]:
    """Density, forward, reach, whether it is before the backdrop, colour."""
    air = state.air
    return np.array(
        [air.density, air.forward, air.reach, air.over, *air.tint] if air else np.zeros(7), np.float32
    )


def _view(state: FrameState) -> NDArray[np.float32]:
    """Rows of the camera: right, up, forward, place, half width and height and distance of the backdrop, its
    size in pixels."""
    half = np.tan(np.radians(state.pose.angle / 2))
    distance = state.behind.distance if state.behind is not None else 1.0
    rows = [
        *state.pose.axes,
        state.pose.position,
        [half * state.aspect, half, distance],
        [round(BEHIND * state.aspect), BEHIND, 0],
    ]
    return np.array(rows, np.float32)


def _behind(state: FrameState) -> NDArray[np.float32]:
    """The backdrop (BEHIND, columns, 3)."""
    columns = round(BEHIND * state.aspect)
    picture = np.broadcast_to(backdrop_picture(state, columns, BEHIND), (BEHIND, columns, 3))
    return np.ascontiguousarray(picture, np.float32)
