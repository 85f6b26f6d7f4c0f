"""The tables that go with a scene: what each shape may do, how probable it is that each emitter is tried."""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from ...caching import cached_by_size
from ...colour import LUMINANCE
from ...finish import BUMPS, MASK, SPAN, TERMS, library_picture
from ...form import PARTS
from ...light import FALLOFFS, SHAPES, around_picture
from ...scene import BodyState, FrameState, on_frame
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
    from .stage import light_id, part_id, surface_index

    shapes = {
        shape.id(): int(dr.reinterpret_array(mi.UInt32, mi.ShapePtr(shape))[0]) for shape in scene.shapes()
    }
    most = max(shapes.values(), default=0) + 1
    flags = np.full(most + 1, EVERYTHING, np.uint32)
    gloss = np.ones((most + 1, 3), np.float32)
    absorbs, scatters = np.zeros((most + 1, 3), np.float32), np.zeros(most + 1, np.float32)
    mirrors, reliefs = np.zeros((most + 1, 4), np.float32), np.zeros((most + 1, 3), np.float32)
    fades, plates = np.zeros((most + 1, 4), np.float32), np.zeros((most + 1, 8), np.float32)
    owners: dict[str, str] = {}
    masked = False
    for name, title in state.titles.items():
        for finish, part in parts[name]:
            at, number = part_id(name, finish, part), surface_index(title, finish, part)
            owners[at] = name
            flags[shapes[at]] = _bits(title.visibility)
            masked |= MASK in title.layers[number]
            mirrors[shapes[at]] = _mirror(title, number)
            gloss[shapes[at]] = _gloss(title, number)
            plates[shapes[at], :7] = _plate(state, title, number)
            fades[shapes[at]] = *title.fades, title.matrix[0, 3], title.matrix[2, 3]
            kind, scale = title.bumps[number]
            if kind != "none":
                reliefs[shapes[at]] = (
                    BUMPS.index(kind),
                    1 / (scale * SPAN),
                    bump_scale(title.terms[number], scale),
                )
            if "transmission" in title.layers[number]:
                absorbs[shapes[at]] = absorption(title.colours[number], title.terms[number])
                scatters[shapes[at]] = scattering(title.terms[number])
    for name, light in state.lights.items():
        if light.source != "ambient":
            owners[light_id(name)] = name
            flags[shapes[light_id(name)]] = CASTS | RECEIVES | LAMP | (MIRRORED if light.mirrored else 0)

    emitters = scene.emitters()
    numbers = [int(dr.reinterpret_array(mi.UInt32, mi.EmitterPtr(e))[0]) for e in emitters]
    names = ["surroundings" if e.is_environment() else owners[e.get_shape().id()] for e in emitters]
    ids = ["surroundings" if e.is_environment() else e.get_shape().id() for e in emitters]
    size = max(numbers, default=0) + 1
    middle = (
        np.mean([t.matrix[:3, 3] for t in state.titles.values()], axis=0) if state.titles else np.zeros(3)
    )
    expected = np.array(
        [_expected(state, name, at, parts, middle) for name, at in zip(names, ids, strict=True)]
    )
    probable = ALIKE / len(emitters) + (1 - ALIKE) * (
        expected / expected.sum() if expected.sum() > 0 else np.full(len(emitters), 1 / len(emitters))
    )
    shares = np.maximum(np.rint(probable * SLOTS).astype(int), 1)
    shares[np.argmax(shares)] += SLOTS - shares.sum()
    odds, gain = np.zeros(size, np.float32), np.ones((size, 3), np.float32)
    odds[numbers] = shares / SLOTS
    around = np.array(state.around.tint) * state.surroundings_strength
    gain[numbers] = [
        gains.get(name, 1.0) * (around if name == "surroundings" else np.ones(3)) for name in names
    ]

    lamps = np.array([_lamp(state, name, at, parts) for name, at in zip(names, ids, strict=True)], np.float32)
    # Whatever is switched off, paths stay the same: what lights bring adds up path by path.
    lamps[:, 3] *= [around @ LUMINANCE if name == "surroundings" else 1.0 for name in names]
    places = np.zeros(size, np.uint32)
    places[numbers] = np.arange(len(numbers))

    cones, falloffs = np.zeros((size * 4, 3), np.float32), np.zeros(size, np.float32)
    slides: list[NDArray[np.float32]] = []
    shadows = np.tile(np.array([0, 0, 0, 1, 0, 0], np.float32), size)
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
            cones[number * 4], cones[number * 4 + 1] = axis, [light.cone[0], light.cone[1], 1.0]
            picture = _slide_picture(light.slide)
            if picture is not None:
                # As wide as the cone.
                cones[number * 4 + 2] = light.matrix[:3, 1] / np.linalg.norm(light.matrix[:3, 1])
                cones[number * 4 + 3] = np.tan(np.arccos(light.cone[0])), len(slides), 0
                slides.append(picture)
        falloffs[number] = FALLOFFS[light.falloff] if light.source != "sun" else 0
        if light.reaches is not None:
            for at, owner in owners.items():
                if owner in state.titles:
                    links[shapes[at], number] = owner in light.reaches
    glass = bool(absorbs.any() or scatters.any()) or any(
        "transmission" in layers for title in state.titles.values() for layers in title.layers
    )
    own = np.zeros(size, np.uint32)
    own[numbers] = [name in state.titles for name in names]
    glowing = glow_tables(state, parts, size, dict(zip(ids, numbers, strict=True)))
    kinds = SceneFeatures(
        by_letter=glowing is not None,
        nulls=masked,
        hidden=any(not t.visibility[2] for t in state.titles.values()),
        cones=any(light.cone is not None for light in state.lights.values()),
        links=any(light.reaches is not None for light in state.lights.values()),
        absorbs=bool(absorbs.any()) or bool(scatters.any()),
        scatters=bool(scatters.any()),
        departs=any(light.shadow[3] < 1 or any(light.shadow[:3]) for light in state.lights.values())
        or any(not t.visibility[3] for t in state.titles.values()),
        ambient=bool(ambient.any()),
        slides=bool(slides),
        reach=bool(falloffs.any()),
        fades=bool(fades[:, :2].any()),
        plates=bool(plates.any()),
        catches=state.catches,
        reliefs=bool(reliefs[:, 2].any()),
        weighed=len(emitters) if len(emitters) <= WEIGHED else 0,
        bends=""
        if state.behind is None or not glass
        else "around"
        if state.behind.kind == "surroundings"
        else "picture",
    )
    behind = _behind(state) if kinds.bends == "picture" or kinds.catches else np.zeros((1, 3), np.float32)
    view = _view(state)
    return SceneTables(
        scene=scene,
        kinds=kinds,
        emitters=scene.emitters_dr(),
        slots=mi.UInt32(np.repeat(np.arange(len(emitters)), shares).astype(np.uint32)),
        odds=mi.Float(odds),
        places=mi.UInt32(places),
        lamps=mi.Float(lamps.ravel()),
        gloss=mi.Float(gloss.ravel()),
        gains=mi.Float(gain.ravel()),
        flags=mi.UInt32(flags),
        cones=mi.Float(cones.ravel()),
        links=mi.Float(links.ravel()),
        stride=dr.opaque(mi.UInt32, size),
        absorbs=mi.Float(absorbs.ravel()),
        scatters=mi.Float(scatters),
        shadows=mi.Float(shadows),
        ambient=mi.Vector3f(*(dr.opaque(mi.Float, float(c)) for c in ambient)),
        depth=dr.opaque(mi.UInt32, DEPTH),
        mirrors=mi.Float(mirrors.ravel()),
        reliefs=mi.Float(reliefs.ravel()),
        slopes=all_slopes(),
        fades=mi.Float(fades.ravel()),
        plates=mi.Float(plates.ravel()),
        falloffs=mi.Float(falloffs),
        slides=mi.Float(np.concatenate(slides).ravel() if slides else np.ones(3, np.float32)),
        view=mi.Float(view.ravel()),
        behind=mi.Float(behind.ravel()),
        **(glowing or NO_LETTERS_GLOW),
        own=mi.UInt32(own),
        halt=halt().flag,
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
