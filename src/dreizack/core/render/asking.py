"""What is at a place of the picture, and what makes it look so: measured, not guessed."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..colour import LUMINANCE
from ..finish import COLOURS, TERMS
from ..scene import FrameState, Lens
from .kernel.engine import arrays, engine
from .sampling.launch import light_picture
from .staging.stage import Stage, light_id, part_id, surface_index
from .transport.lens import Window, camera_rays
from .transport.paths import first_met

mi, dr = engine(), arrays()
Floats = NDArray[np.float64]

# Pixels on a side of the patch that is measured, and samples of each.
PATCH, SAMPLES = 3, 256
SHADOW_RAYS = 256
SURROUNDINGS = "surroundings"


@dataclass(frozen=True)
class Share:
    """What one light brings to the spot: ``light`` (3,) scene-linear; how much of it is kept away, by what;
    how much of it shines on the back of the surface."""

    name: str
    light: tuple[float, float, float]
    blocked: float
    by: tuple[str, ...]
    behind: float


@dataclass(frozen=True)
class Mirrored:
    """What lies where the surface mirrors to: a thing, a light or the surroundings, its value and direction
    in degrees."""

    what: str
    value: float
    elevation: float
    azimuth: float


@dataclass(frozen=True)
class Answer:
    """All that was measured at a spot. ``thing`` is None where there is only the backdrop."""

    thing: str | None
    part: str
    source: int
    position: tuple[float, float, float]
    normal: tuple[float, float, float]
    distance: float
    light: tuple[float, float, float]
    base_colour: tuple[float, float, float]
    metallic: float
    roughness: float
    emission: float
    shares: tuple[Share, ...]
    mirrored: Mirrored | None


def ask(stage: Stage, state: FrameState, size: tuple[int, int], x: float, y: float) -> Answer:
    """Measure the spot at (x, y), from 0 to 1 from the top left, of a picture of this size.

    What each light brings comes from tracing the spot with that light alone; lights are additive (Veach 1997,
    4.1).
    """
    width, height = size
    still = replace(state, lens=Lens(), during=(), closing=None)
    stage.show(still)
    column, row = int(np.clip(x * width, 0, width - 1)), int(np.clip(y * height, 0, height - 1))
    left, top = (
        int(np.clip(column - PATCH // 2, 0, width - PATCH)),
        int(np.clip(row - PATCH // 2, 0, height - PATCH)),
    )
    window = Window(left, top, PATCH, PATCH)
    met = _first(stage, still, size, Window(column, row, 1, 1))
    if met is None:
        colour = _mean(light_picture(stage, still, size, window, SAMPLES, 0))
        return Answer(None, "", -1, (0, 0, 0), (0, 0, 0), 0.0, colour, (0, 0, 0), 0, 0, 0, (), None)
    si, shape, towards = met
    names = {
        part_id(name, finish, part): (name, finish, part)
        for name, parts in stage.parts.items()
        for finish, part in parts
    }
    name, finish, part = names[shape.id()]
    title = state.titles[name]
    number = surface_index(title, finish, part)
    terms = dict(zip(TERMS, title.terms[number].tolist(), strict=True))
    position, normal = np.array(si.p).reshape(3), np.array(si.sh_frame.n).reshape(3)
    if normal @ towards > 0:
        normal = -normal
    whole = light_picture(stage, still, size, window, SAMPLES, 0)
    shares = []
    for source in sources(state):
        stage.only({other: float(other == source) for other in [SURROUNDINGS, *state.lights, *state.titles]})
        alone = _mean(light_picture(stage, still, size, window, SAMPLES, 0))
        glows = source in state.titles
        hidden = (0.0, (), 0.0) if glows else _blocked(stage, state, source, position, normal, names)
        shares.append(Share(source, alone, *hidden))
    stage.only({})
    r, g, b = title.colours[number, COLOURS.index("base_colour")].tolist()
    prim = int(np.array(si.prim_index).reshape(-1)[0])
    return Answer(
        name,
        part,
        stage.parts[name][finish, part].source_of(prim),
        _three(position),
        _three(normal),
        float(np.linalg.norm(position - state.pose.position)),
        _mean(whole),
        (r, g, b),
        terms["metallic"],
        terms["roughness"],
        terms["emission"],
        tuple(shares),
        _mirrored(stage, state, position, normal, towards, names),
    )


def sources(state: FrameState) -> list[str]:
    """All that brings light: the surroundings, lights, and what glows, by name."""
    glowing = [n for n, t in state.titles.items() if any("emission" in layers for layers in t.layers)]
    return [SURROUNDINGS, *state.lights, *glowing]


def _three(v: Floats) -> tuple[float, float, float]:
    return float(v[0]), float(v[1]), float(v[2])


def _mean(picture: NDArray[np.float32]) -> tuple[float, float, float]:
    return _three(picture[..., :3].mean(axis=(0, 1)).astype(np.float64))


def _first(
    stage: Stage, state: FrameState, size: tuple[int, int], window: Window
) -> tuple[Any, Any, Floats] | None:
    """What the ray through the middle of a pixel meets: interaction, shape, direction of the ray."""
    ray, _ = camera_rays(state, size, window.pixels(size[0]), 1, 0)
    assert stage.tables is not None
    si = first_met(stage.tables, ray)
    if not bool(np.array(si.is_valid()).reshape(-1)[0]):
        return None
    number = int(np.array(dr.reinterpret_array(mi.UInt32, si.shape)).reshape(-1)[0])
    shape = next(
        s
        for s in stage.scene.shapes()
        if int(np.array(dr.reinterpret_array(mi.UInt32, mi.ShapePtr(s))).reshape(-1)[0]) == number
    )
    return si, shape, np.array(ray.d).reshape(3)


def _blocked(
    stage: Stage,
    state: FrameState,
    light: str,
    position: Floats,
    normal: Floats,
    names: dict[str, tuple[str, int, str]],
) -> tuple[float, tuple[str, ...], float]:
    """Share of a light that something stands in front of, what that is, and the share that comes from behind
    the surface."""
    if light == SURROUNDINGS:
        # Directions of a hemisphere, by cosine (Malley's method).
        rng = np.random.default_rng(1)
        angle, radius = rng.random(SHADOW_RAYS) * 2 * np.pi, np.sqrt(rng.random(SHADOW_RAYS))
        side = np.cross(normal, [0.0, 1.0, 0.0] if abs(normal[1]) < 0.9 else [1.0, 0.0, 0.0])
        side /= np.linalg.norm(side)
        up = np.cross(normal, side)
        away = (
            np.cos(angle)[:, None] * radius[:, None] * side
            + np.sin(angle)[:, None] * radius[:, None] * up
            + np.sqrt(1 - radius**2)[:, None] * normal
        ) * 1e4
        behind = 0.0
    else:
        held = state.lights[light]
        if held.source == "ambient":
            return 0.0, (), 0.0
        rng = np.random.default_rng(2)
        corner = rng.random((SHADOW_RAYS, 2)) * 2 - 1
        if held.source != "panel":
            corner *= (np.sqrt(rng.random(SHADOW_RAYS)) / np.maximum(np.linalg.norm(corner, axis=1), 1e-9))[
                :, None
            ]
        places = corner[:, :1] * held.matrix[:3, 0] + corner[:, 1:] * held.matrix[:3, 1] + held.matrix[:3, 3]
        away = places - position
        behind = float((away @ normal <= 0).mean())
    open_ = away @ normal > 0
    if not open_.any():
        return 0.0, (), behind
    away = away[open_]
    ray = mi.Ray3f(
        mi.Point3f(*(position + normal * 1e-4).tolist()),
        mi.Vector3f((away / np.linalg.norm(away, axis=1, keepdims=True)).T.astype(np.float32)),
    )
    ray.maxt = mi.Float((np.linalg.norm(away, axis=1) * 0.9995).astype(np.float32))
    si = stage.scene.ray_intersect(ray)
    hit = np.array(si.is_valid()).astype(bool)
    numbers = np.array(dr.reinterpret_array(mi.UInt32, si.shape))
    counted: dict[str, int] = {}
    for shape in stage.scene.shapes():
        number = int(np.array(dr.reinterpret_array(mi.UInt32, mi.ShapePtr(shape))).reshape(-1)[0])
        times = int((hit & (numbers == number)).sum())
        owner = names.get(shape.id())
        if times and owner is not None and state.titles[owner[0]].visibility[2]:
            counted[owner[0]] = counted.get(owner[0], 0) + times
    return sum(counted.values()) / len(hit), tuple(sorted(counted, key=lambda k: -counted[k])), behind


def _mirrored(
    stage: Stage,
    state: FrameState,
    position: Floats,
    normal: Floats,
    towards: Floats,
    names: dict[str, tuple[str, int, str]],
) -> Mirrored:
    away = towards - 2 * (towards @ normal) * normal
    ray = mi.Ray3f(mi.Point3f(*(position + normal * 1e-4).tolist()), mi.Vector3f(*away.tolist()))
    si = stage.scene.ray_intersect(ray)
    elevation, azimuth = (
        float(np.degrees(np.arcsin(np.clip(away[1], -1, 1)))),
        float(np.degrees(np.arctan2(away[0], -away[2])) % 360),
    )
    if bool(np.array(si.is_valid()).reshape(-1)[0]):
        number = int(np.array(dr.reinterpret_array(mi.UInt32, si.shape)).reshape(-1)[0])
        for shape in stage.scene.shapes():
            if int(np.array(dr.reinterpret_array(mi.UInt32, mi.ShapePtr(shape))).reshape(-1)[0]) != number:
                continue
            light = next((n for n in state.lights if light_id(n) == shape.id()), None)
            if light is not None:
                facing = (
                    float(state.lights[light].matrix[:3, 2] @ away) < 0
                    or state.lights[light].source == "point"
                )
                return Mirrored(
                    light,
                    float(state.lights[light].radiance @ LUMINANCE) if facing else 0.0,
                    elevation,
                    azimuth,
                )
            return Mirrored(names[shape.id()][0], -1.0, elevation, azimuth)
    value = (
        np.array(stage.scene.environment().eval(si)).reshape(3)
        * np.array(state.around.tint)
        * state.surroundings_strength
    )
    return Mirrored(SURROUNDINGS, float(value @ LUMINANCE), elevation, azimuth)
