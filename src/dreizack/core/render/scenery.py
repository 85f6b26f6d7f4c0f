"""The tables that go with a scene: what each shape may do, how probable it is that each emitter is tried."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..finish import MASK
from ..form import PARTS
from ..light import around_picture
from ..scene import FrameState, TitleState
from .engine import arrays, engine
from .meshes import PartMesh
from .paths import CAMERA, CASTS, EVERYTHING, MIRRORED, RECEIVES, SLOTS, Kinds, Scenery
from .surface import absorption, emission

mi, dr = engine(), arrays()

Floats = NDArray[np.float64]

DEPTH = 16
# Share of the tries that goes to all emitters alike, whatever is expected of them.
ALIKE = 0.35
LUMINANCE = np.array([0.2126, 0.7152, 0.0722])


def scenery(scene: Any, state: FrameState, parts: dict[str, dict[tuple[int, str], PartMesh]], gains: dict[str, float]) -> Scenery:
    """Tables for a scene as ``state`` has it; ``gains`` scales lights by name ("surroundings" is one, glowing things are others)."""
    from .stage import light_id, part_id, worn

    shapes = {shape.id(): int(dr.reinterpret_array(mi.UInt32, mi.ShapePtr(shape))[0]) for shape in scene.shapes()}
    most = max(shapes.values(), default=0) + 1
    flags = np.full(most + 1, EVERYTHING, np.uint32)
    absorbs = np.zeros((most + 1, 3), np.float32)
    owners: dict[str, str] = {}
    masked = False
    for name, title in state.titles.items():
        for finish, part in parts[name]:
            at, number = part_id(name, finish, part), worn(title, finish, part)
            owners[at] = name
            flags[shapes[at]] = _bits(title.visibility)
            masked |= MASK in title.layers[number]
            if "transmission" in title.layers[number]:
                absorbs[shapes[at]] = absorption(title.colours[number], title.terms[number])
    for name, light in state.lights.items():
        if light.source != "ambient":
            owners[light_id(name)] = name
            flags[shapes[light_id(name)]] = CASTS | RECEIVES | (MIRRORED if light.mirrored else 0)

    emitters = scene.emitters()
    numbers = [int(dr.reinterpret_array(mi.UInt32, mi.EmitterPtr(e))[0]) for e in emitters]
    names = ["surroundings" if e.is_environment() else owners[e.get_shape().id()] for e in emitters]
    ids = ["surroundings" if e.is_environment() else e.get_shape().id() for e in emitters]
    size = max(numbers, default=0) + 1
    middle = np.mean([t.matrix[:3, 3] for t in state.titles.values()], axis=0) if state.titles else np.zeros(3)
    expected = np.array([_expected(state, name, at, parts, middle) for name, at in zip(names, ids, strict=True)])
    probable = ALIKE / len(emitters) + (1 - ALIKE) * (expected / expected.sum() if expected.sum() > 0 else 1 / len(emitters))
    shares = np.maximum(np.rint(probable * SLOTS).astype(int), 1)
    shares[np.argmax(shares)] += SLOTS - shares.sum()
    odds, gain = np.zeros(size, np.float32), np.ones((size, 3), np.float32)
    odds[numbers] = shares / SLOTS
    around = np.array(state.around.tint) * state.surroundings_strength
    gain[numbers] = [gains.get(name, 1.0) * (around if name == "surroundings" else np.ones(3)) for name in names]

    cones, shadows = np.zeros((size * 2, 3), np.float32), np.tile(np.array([0, 0, 0, 1, 0, 0], np.float32), size)
    links = np.ones((most + 1, size), np.float32)
    ambient = np.zeros(3)
    for name, light in state.lights.items():
        if light.source == "ambient":
            ambient = ambient + light.radiance * gains.get(name, 1.0)
            continue
        number = numbers[ids.index(light_id(name))]
        shadows[number * 6 : number * 6 + 4] = light.shadow
        if light.cone is not None:
            axis = light.matrix[:3, 2] / np.linalg.norm(light.matrix[:3, 2])
            cones[number * 2], cones[number * 2 + 1] = axis, [light.cone[0], light.cone[1], 1.0]
        if light.reaches is not None:
            for at, owner in owners.items():
                if owner in state.titles:
                    links[shapes[at], number] = owner in light.reaches
    kinds = Kinds(
        nulls=masked, hidden=any(not t.visibility[2] for t in state.titles.values()), cones=any(light.cone is not None for light in state.lights.values()),
        links=any(light.reaches is not None for light in state.lights.values()), absorbs=bool(absorbs.any()),
        departs=any(light.shadow[3] < 1 or any(light.shadow[:3]) for light in state.lights.values()) or any(not t.visibility[3] for t in state.titles.values()),
        ambient=bool(ambient.any()),
    )
    return Scenery(
        scene=scene, kinds=kinds, emitters=scene.emitters_dr(), slots=mi.UInt32(np.repeat(np.arange(len(emitters)), shares).astype(np.uint32)),
        odds=mi.Float(odds), gains=mi.Float(gain.ravel()), flags=mi.UInt32(flags), cones=mi.Float(cones.ravel()), links=mi.Float(links.ravel()),
        stride=dr.opaque(mi.UInt32, size), absorbs=mi.Float(absorbs.ravel()), shadows=mi.Float(shadows),
        ambient=mi.Vector3f(*(dr.opaque(mi.Float, float(c)) for c in ambient)), depth=dr.opaque(mi.UInt32, DEPTH),
    )


def _bits(visibility: tuple[bool, bool, bool, bool]) -> int:
    return sum(bit for bit, on in zip((CAMERA, MIRRORED, CASTS, RECEIVES), visibility, strict=True) if on)


def _expected(state: FrameState, name: str, at: str, parts: dict[str, dict[tuple[int, str], PartMesh]], middle: Floats) -> float:
    """About how much light of an emitter falls on the middle of the titles: radiance times solid angle."""
    if at == "surroundings":
        # Half of a sphere, each row of the panorama as wide as it is.
        picture = around_picture(state.around)
        rows = np.sin((np.arange(len(picture)) + 0.5) * np.pi / len(picture))
        mean = (picture.mean(axis=1) @ LUMINANCE * rows).sum() / rows.sum()
        return float(mean * state.surroundings_strength * 2 * np.pi)
    light = state.lights.get(name)
    if light is not None and at not in _glowing(state, name, parts):
        area = 4 * np.linalg.norm(light.matrix[:3, 0]) * np.linalg.norm(light.matrix[:3, 1])
        away = max(float(((light.matrix[:3, 3] - middle) ** 2).sum()), 0.01)
        return float(light.radiance @ LUMINANCE * min(area / away, 2 * np.pi))
    title: TitleState = state.titles[name]
    finish, part = at.removeprefix(f"{name}_").split("_")
    number = int(title.worn[min(int(finish), len(title.worn) - 1), PARTS.index(part)])
    extent = np.ptp(parts[name][int(finish), part].position, axis=0)
    return float(emission(title.colours[number], title.terms[number]) @ LUMINANCE * min(float(np.prod(np.sort(extent)[1:])) * 0.3, np.pi))


def _glowing(state: FrameState, name: str, parts: dict[str, dict[tuple[int, str], PartMesh]]) -> set[str]:
    return {f"{name}_{finish}_{part}" for finish, part in parts.get(name, {})} if name in state.titles else set()
