"""How probable it is that each emitter is tried, and what is expected of it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...colour import LUMINANCE
from ...form import PARTS
from ...light import SHAPES, around_picture
from ...scene import BodyState, FrameState
from ..kernel.engine import arrays, engine
from ..transport.materials import emission
from ..transport.tables import (
    SLOTS,
)
from .letter_attributes import letter_glow
from .meshes import PartMesh, moved
from .shape_tables import ShapeTables

mi, dr = engine(), arrays()

Floats = NDArray[np.float64]
Table = NDArray[np.float32]

# Share of the tries that goes to all emitters alike, whatever is expected of them.
ALIKE = 0.35
# Share of the square around it that a shape shows.
SEEN_SHARE = {"rectangle": 1.0, "disk": np.pi / 4, "sphere": np.pi / 4}


@dataclass
class EmitterTables:
    """Emitters in the scene's order (``ids``, ``numbers``, ``shares``, ``lamps``); the rest by number."""

    ids: list[str]
    numbers: list[int]
    size: int
    shares: NDArray[np.int64]
    lamps: Table
    odds: Table
    gain: Table
    places: NDArray[np.uint32]
    own: NDArray[np.uint32]


def emitter_tables(
    scene: Any,
    state: FrameState,
    parts: dict[str, dict[tuple[int, str], PartMesh]],
    gains: dict[str, float],
    shapes: ShapeTables,
) -> EmitterTables:
    """Tables of all that sends light in a scene; ``gains`` scales lights by name."""
    emitters = scene.emitters()
    numbers = [int(dr.reinterpret_array(mi.UInt32, mi.EmitterPtr(e))[0]) for e in emitters]
    names = ["surroundings" if e.is_environment() else shapes.owners[e.get_shape().id()] for e in emitters]
    ids = ["surroundings" if e.is_environment() else e.get_shape().id() for e in emitters]
    size = max(numbers, default=0) + 1
    shares = _shares(state, names, ids, parts)
    odds, gain = np.zeros(size, np.float32), np.ones((size, 3), np.float32)
    odds[numbers] = shares / SLOTS
    around = np.array(state.around.tint) * state.surroundings_strength
    gain[numbers] = [
        gains.get(name, 1.0) * (around if name == "surroundings" else np.ones(3)) for name in names
    ]
    lamps = np.array([_lamp(state, name, at, parts) for name, at in zip(names, ids, strict=True)], np.float32)
    # Whatever is switched off, paths stay the same: what lights bring adds up path by path.
    lamps[:, 3] *= [around @ LUMINANCE if name == "surroundings" else 1.0 for name in names]
    places, own = np.zeros(size, np.uint32), np.zeros(size, np.uint32)
    places[numbers] = np.arange(len(numbers))
    own[numbers] = [name in state.titles for name in names]
    return EmitterTables(ids, numbers, size, shares, lamps, odds, gain, places, own)


def _shares(
    state: FrameState,
    names: list[str],
    ids: list[str],
    parts: dict[str, dict[tuple[int, str], PartMesh]],
) -> NDArray[np.int64]:
    """How many of the slots each emitter has: by what is expected of it, and a part to all alike."""
    titles = state.titles.values()
    middle = np.mean([title.matrix[:3, 3] for title in titles], axis=0) if titles else np.zeros(3)
    expected = np.array(
        [_expected(state, name, at, parts, middle) for name, at in zip(names, ids, strict=True)]
    )
    count, total = len(names), expected.sum()
    by_light = expected / total if total > 0 else np.full(count, 1 / count)
    shares = np.maximum(np.rint((ALIKE / count + (1 - ALIKE) * by_light) * SLOTS).astype(np.int64), 1)
    shares[np.argmax(shares)] += SLOTS - shares.sum()
    return shares


def _expected(
    state: FrameState, name: str, at: str, parts: dict[str, dict[tuple[int, str], PartMesh]], middle: Floats
) -> float:
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
    title: BodyState = state.titles[name]
    finish, part = at.removeprefix(f"{name}_").split("_")
    number = int(title.surface_index[min(int(finish), len(title.surface_index) - 1), PARTS.index(part)])
    extent = np.ptp(moved(parts[name][int(finish), part], np.eye(4), title.poses)[0], axis=0)
    return float(
        _sent(title, number, parts[name][int(finish), part])
        @ LUMINANCE
        * min(float(np.prod(np.sort(extent)[1:])) * 0.3, np.pi)
    )


def _lamp(
    state: FrameState, name: str, at: str, parts: dict[str, dict[tuple[int, str], PartMesh]]
) -> list[float]:
    """What :func:`.choosing.light_pdfs` wants to know of an emitter, without its gain: eight numbers."""
    if at == "surroundings":
        picture = around_picture(state.around)
        rows = np.sin((np.arange(len(picture)) + 0.5) * np.pi / len(picture))
        return [0, 0, 0, float((picture.mean(axis=1) @ LUMINANCE * rows).sum() / rows.sum()), 0, 0, 0, 0]
    light = state.lights.get(name)
    if light is not None and at not in _glowing(state, name, parts):
        area = 4 * float(np.linalg.norm(light.matrix[:3, 0]) * np.linalg.norm(light.matrix[:3, 1]))
        axis = (
            light.matrix[:3, 2] / np.linalg.norm(light.matrix[:3, 2])
            if SHAPES[light.source] != "sphere"
            else np.zeros(3)
        )
        # Of a sphere one sees a disc.
        return [
            *light.matrix[:3, 3].tolist(),
            float(light.radiance @ LUMINANCE),
            *axis.tolist(),
            area * SEEN_SHARE[SHAPES[light.source]],
        ]
    title: BodyState = state.titles[name]
    finish, part = at.removeprefix(f"{name}_").split("_")
    number = int(title.surface_index[min(int(finish), len(title.surface_index) - 1), PARTS.index(part)])
    mesh = moved(parts[name][int(finish), part], title.matrix, title.poses)[0]
    low, high = mesh.min(axis=0), mesh.max(axis=0)
    area = float(np.prod(np.sort(high - low)[1:])) * 0.5
    return [
        *((low + high) / 2).tolist(),
        float(_sent(title, number, parts[name][int(finish), part]) @ LUMINANCE),
        0,
        0,
        0,
        max(area, 1e-6),
    ]


def _sent(title: BodyState, number: int, mesh: PartMesh) -> Floats:
    """Radiance (3,) that a part sends by itself, of letters that differ their mean."""
    if title.looks is None:
        return emission(title.colours[number], title.terms[number])
    mean: Floats = letter_glow(title, number, mesh).mean(axis=0)
    return mean


def _glowing(state: FrameState, name: str, parts: dict[str, dict[tuple[int, str], PartMesh]]) -> set[str]:
    return (
        {f"{name}_{finish}_{part}" for finish, part in parts.get(name, {})} if name in state.titles else set()
    )
