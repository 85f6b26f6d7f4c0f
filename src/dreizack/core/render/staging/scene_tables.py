"""The tables that go with a scene: what each shape may do, how probable it is that each emitter is tried."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from ...caching import cached_by_size
from ...colour import LUMINANCE
from ...finish import BUMPS, MASK, SPAN, TERMS, library_picture
from ...form import PARTS
from ...light import FALLOFFS, SHAPES, around_picture
from ...scene import BodyState, FrameState, LightState, on_frame
from ..kernel.cancellation import halt
from ..kernel.engine import arrays, engine
from ..transport.light_selection import WEIGHED
from ..transport.materials import absorption, bump_scale, emission, scattering
from ..transport.relief import all_slopes
from ..transport.tables import (
    CAMERA,
    CASTS,
    CATCHES,
    EVERYTHING,
    LAMP,
    MIRRORED,
    RECEIVES,
    SLIDE,
    SLOTS,
    SceneFeatures,
    SceneTables,
)
from .backdrop import backdrop_picture
from .letter_attributes import letter_glow
from .letter_tables import NO_LETTERS_GLOW, glow_tables
from .meshes import PartMesh, moved

mi, dr = engine(), arrays()

Floats = NDArray[np.float64]
Table = NDArray[np.float32]

DEPTH = 16
# Share of the tries that goes to all emitters alike, whatever is expected of them.
ALIKE = 0.35
# Share of the square around it that a shape shows.
SEEN_SHARE = {"rectangle": 1.0, "disk": np.pi / 4, "sphere": np.pi / 4}
# Rows of the backdrop that is seen through glass.
BEHIND = 540
# Roughness up to which a mirror image is sharp, and own colour up to which one sees nothing else.
SHARP, DARK = 0.14, 0.06


def scene_tables(
    scene: Any, state: FrameState, parts: dict[str, dict[tuple[int, str], PartMesh]], gains: dict[str, float]
) -> SceneTables:
    """Tables for a scene as ``state`` has it; ``gains`` scales lights by name ("surroundings" is one, glowing
    things are others)."""
    shapes = _shape_tables(scene, state, parts)
    emitters = _emitter_tables(scene, state, parts, gains, shapes)
    lights = _light_tables(state, gains, shapes, emitters)
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
        halt=halt().flag,
    )


@dataclass
class _ShapeTables:
    """Rows by number of a shape, and whose a shape is, by its id."""

    numbers: dict[str, int]
    owners: dict[str, str]
    flags: NDArray[np.uint32]
    gloss: Table
    absorbs: Table
    scatters: Table
    mirrors: Table
    reliefs: Table
    fades: Table
    plates: Table
    masked: bool = False

    @classmethod
    def empty(cls, numbers: dict[str, int]) -> _ShapeTables:
        rows = max(numbers.values(), default=0) + 2

        def zeros(*columns: int) -> Table:
            return np.zeros((rows, *columns), np.float32)

        return cls(
            numbers,
            owners={},
            flags=np.full(rows, EVERYTHING, np.uint32),
            gloss=np.ones((rows, 3), np.float32),
            absorbs=zeros(3),
            scatters=zeros(),
            mirrors=zeros(4),
            reliefs=zeros(3),
            fades=zeros(4),
            plates=zeros(8),
        )


def _shape_tables(
    scene: Any, state: FrameState, parts: dict[str, dict[tuple[int, str], PartMesh]]
) -> _ShapeTables:
    from .stage import light_id, part_id, surface_index

    made = _ShapeTables.empty(
        {shape.id(): int(dr.reinterpret_array(mi.UInt32, mi.ShapePtr(shape))[0]) for shape in scene.shapes()}
    )
    for name, title in state.titles.items():
        for finish, part in parts[name]:
            at, number = part_id(name, finish, part), surface_index(title, finish, part)
            row = made.numbers[at]
            made.owners[at] = name
            made.flags[row] = _bits(title.visibility)
            made.masked |= MASK in title.layers[number]
            made.mirrors[row] = _mirror(title, number)
            made.gloss[row] = _gloss(title, number)
            made.plates[row, :7] = _plate(state, title, number)
            made.fades[row] = *title.fades, title.matrix[0, 3], title.matrix[2, 3]
            kind, scale = title.bumps[number]
            if kind != "none":
                slope = bump_scale(title.terms[number], scale)
                made.reliefs[row] = BUMPS.index(kind), 1 / (scale * SPAN), slope
            if "transmission" in title.layers[number]:
                made.absorbs[row] = absorption(title.colours[number], title.terms[number])
                made.scatters[row] = scattering(title.terms[number])
    for name, light in state.lights.items():
        if light.source != "ambient":
            at = light_id(name)
            made.owners[at] = name
            made.flags[made.numbers[at]] = CASTS | RECEIVES | LAMP | (MIRRORED if light.mirrored else 0)
    return made


@dataclass
class _EmitterTables:
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


def _emitter_tables(
    scene: Any,
    state: FrameState,
    parts: dict[str, dict[tuple[int, str], PartMesh]],
    gains: dict[str, float],
    shapes: _ShapeTables,
) -> _EmitterTables:
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
    return _EmitterTables(ids, numbers, size, shares, lamps, odds, gain, places, own)


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


@dataclass
class _LightTables:
    """What the lights of a shot do beyond shining: rows by number of their emitter."""

    cones: Table
    falloffs: Table
    shadows: Table
    links: Table
    ambient: Floats
    slides: list[NDArray[np.float32]]


def _light_tables(
    state: FrameState, gains: dict[str, float], shapes: _ShapeTables, emitters: _EmitterTables
) -> _LightTables:
    from .stage import light_id

    size = emitters.size
    made = _LightTables(
        cones=np.zeros((size * 4, 3), np.float32),
        falloffs=np.zeros(size, np.float32),
        shadows=np.tile(np.array([0, 0, 0, 1, 0, 0], np.float32), size),
        links=np.ones((len(shapes.flags), size), np.float32),
        ambient=np.zeros(3),
        slides=[],
    )
    for name, light in state.lights.items():
        if light.source == "ambient":
            made.ambient = made.ambient + light.radiance * gains.get(name, 1.0)
            continue
        number = emitters.numbers[emitters.ids.index(light_id(name))]
        made.shadows[number * 6 : number * 6 + 4] = light.shadow
        made.falloffs[number] = FALLOFFS[light.falloff] if light.source != "sun" else 0
        _lay_cone(made, number, light)
        if light.reaches is not None:
            for at, owner in shapes.owners.items():
                if owner in state.titles:
                    made.links[shapes.numbers[at], number] = owner in light.reaches
    return made


def _lay_cone(made: _LightTables, number: int, light: LightState) -> None:
    """The four rows of a light with a cone: axis, angles, and how its slide lies, as wide as the cone."""
    if light.cone is None:
        return
    axis = light.matrix[:3, 2] / np.linalg.norm(light.matrix[:3, 2])
    made.cones[number * 4], made.cones[number * 4 + 1] = axis, [light.cone[0], light.cone[1], 1.0]
    picture = _slide_picture(light.slide)
    if picture is not None:
        made.cones[number * 4 + 2] = light.matrix[:3, 1] / np.linalg.norm(light.matrix[:3, 1])
        made.cones[number * 4 + 3] = np.tan(np.arccos(light.cone[0])), len(made.slides), 0
        made.slides.append(picture)


def _features(
    state: FrameState,
    shapes: _ShapeTables,
    emitters: _EmitterTables,
    lights: _LightTables,
    by_letter: bool,
) -> SceneFeatures:
    """What of all that is possible a scene has: the rest is left out of its kernel."""
    all_lights, titles = state.lights.values(), state.titles.values()
    absorbs, scatters = bool(shapes.absorbs.any()), bool(shapes.scatters.any())
    transmits = any("transmission" in layers for title in titles for layers in title.layers)
    bends = ""
    if state.behind is not None and (absorbs or scatters or transmits):
        bends = "around" if state.behind.kind == "surroundings" else "picture"
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
        reliefs=bool(shapes.reliefs[:, 2].any()),
        weighed=len(emitters.ids) if len(emitters.ids) <= WEIGHED else 0,
        bends=bends,
    )


@cached_by_size(64)
def _slide_picture(file: str) -> NDArray[np.float32] | None:
    """A slide (SLIDE, SLIDE, 3), its middle square."""
    picture = library_picture(file) if file else None
    if picture is None:
        return None
    side = min(picture.shape[:2])
    top, left = (picture.shape[0] - side) // 2, (picture.shape[1] - side) // 2
    made: NDArray[np.float32] = cv2.resize(
        picture[top : top + side, left : left + side], (SLIDE, SLIDE), interpolation=cv2.INTER_AREA
    ).astype(np.float32)
    return made


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


def _plate(state: FrameState, title: BodyState, number: int) -> list[float]:
    """How a picture on the plate fills the frame, then 1; zeros where there is none."""
    picture = title.pictures[number] if title.pictures else None
    if picture is None or picture.space != "plate":
        return [0.0] * 7
    return [*on_frame(picture, title.texture_transform[number], state.aspect).tolist(), 1.0]


def _mirror(title: BodyState, number: int) -> tuple[float, float, float, float]:
    """What a surface mirrors straight on, and 1 where nearly all one sees of it is a sharp mirror image."""
    of = dict(zip(TERMS, title.terms[number].tolist(), strict=True))
    base = title.colours[number, 0]
    pictured = title.pictured is not None or title.pictures[number] is not None
    coated = of["clearcoat"] > 0.5 and of["clearcoat_roughness"] <= SHARP
    plain = float(base @ LUMINANCE) * (1 - of["metallic"])
    if pictured or of["transmission"] > 0 or plain > DARK or not (of["roughness"] <= SHARP or coated):
        return 0.0, 0.0, 0.0, 0.0
    straight = ((of["ior"] - 1) / (of["ior"] + 1)) ** 2
    r, g, b = (straight * (1 - of["metallic"]) + base * of["metallic"]).tolist()
    return r, g, b, 1.0


def _bits(visibility: tuple[bool, ...]) -> int:
    bits = (CAMERA, MIRRORED, CASTS, RECEIVES, CATCHES)
    return sum(bit for bit, on in zip(bits, visibility, strict=True) if on)


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


def _gloss(title: BodyState, number: int) -> tuple[float, float, float]:
    """Which share of its light a surface scatters rather than mirrors, and the squares of its microfacets'
    width along u and v."""
    of = dict(zip(TERMS, title.terms[number].tolist(), strict=True))
    pictured = title.pictured is not None or title.pictures[number] is not None
    base = 0.5 if pictured else float(title.colours[number, 0] @ LUMINANCE)
    straight = ((of["ior"] - 1) / (of["ior"] + 1)) ** 2
    scatters = base * (1 - of["metallic"]) * (1 - of["transmission"])
    mirrors = straight * (1 - of["metallic"]) + base * of["metallic"]
    square = max(of["roughness"], 0.05) ** 4
    aspect = 1 - 0.9 * of["anisotropy"] if "anisotropy" in title.layers[number] else 1.0
    return scatters / max(scatters + mirrors, 1e-6), square / aspect, square * aspect


def _glowing(state: FrameState, name: str, parts: dict[str, dict[tuple[int, str], PartMesh]]) -> set[str]:
    return (
        {f"{name}_{finish}_{part}" for finish, part in parts.get(name, {})} if name in state.titles else set()
    )
