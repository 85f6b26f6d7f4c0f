"""The traced picture against what is known: energy, irradiance, metals, and pictures with very many
samples."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from dreizack.core.document import (
    Camera,
    Colour,
    Finish,
    Format,
    Light,
    Setting,
    Shot,
    Surroundings,
    Title,
    Vector,
)
from dreizack.core.finish import metal_colour
from dreizack.core.optics import Finishing, Passes, finished
from dreizack.core.render import QUALITIES, Quality, Stage, Window, backdrop_picture, trace
from dreizack.core.render.kernel.engine import engine
from dreizack.core.render.sampling.launch import Display, light_picture, light_samples
from dreizack.core.scene import BodyStore, FrameState, bake, frame_state
from dreizack.demo import demo_shots

from .colour import delta_e, lab
from .figure import Figure
from .flip import flip
from .tiles import SIZE, tiles

REFERENCE = 2048
# Linear colours at normal incidence (Akenine-Möller et al., Real-Time Rendering, 4th ed., table 9.2).
PUBLISHED = {
    "aluminium": (0.913, 0.922, 0.924),
    "copper": (0.955, 0.638, 0.538),
    "gold": (1.0, 0.782, 0.344),
    "silver": (0.972, 0.960, 0.915),
}
Floats = NDArray[np.float64]


def measure() -> Iterator[Figure]:
    yield furnace()
    yield irradiance()
    worst = max(PUBLISHED, key=lambda name: difference(name))
    away = difference(worst)
    yield Figure(
        "measured metals against their published colour, the furthest", away, "ΔE00", 1, note=f"({worst})"
    )
    for name, shot in demo_shots().items():
        decibel, flipped = against_truth(shot)
        yield Figure(f"16 denoised samples against {REFERENCE}, {name}", decibel, "dB", 38, least=True)
        yield Figure(f"16 denoised samples against {REFERENCE}, {name}, seen flipping", flipped, "FLIP", 0.05)
    yield flicker(demo_shots()["part-one"], 30)


def difference(metal: str) -> float:
    return float(delta_e(lab(np.array(metal_colour(metal))), lab(np.array(PUBLISHED[metal]))))


def stage_of(shot: Shot, frame: float = 0.0) -> Stage:
    stage = Stage(BodyStore())
    stage.show(frame_state(shot, bake(shot, np.array([frame])), 0))
    return stage


def card() -> Shot:
    title = Title(words="I", setting=Setting(typeface="archivo-black", size=4))
    title.body.front.profile = title.body.back.profile = "none"
    title.place.position = Vector(x=0, y=-2, z=-title.body.depth / 2)
    return Shot(
        format=Format(width=160, height=90, frames=1),
        things={"title": title},
        surroundings=Surroundings(studio="dark", strength=-16),
        camera=Camera(position=Vector(x=0, y=0, z=8), aim=Vector(x=0, y=0, z=0), focal_length=200),
    )


def furnace() -> Figure:
    """How far a body that takes no light stands out of surroundings that are the same everywhere."""
    shot = card()
    shot.things["title"] = Title(
        words="S", finish=Finish(base_colour=Colour(r=1, g=1, b=1), metallic=1, roughness=0.03)
    )
    shot.camera = Camera(position=Vector(x=0.3, y=0.3, z=1.4), aim=Vector(x=0, y=0.25, z=0))
    shot.surroundings = Surroundings(studio="checks", strength=0, blur=90)
    stage = stage_of(shot)
    params = engine().traverse(stage.scene)
    params["surroundings.data"] = engine().TensorXf(np.ones(params["surroundings.data"].shape, np.float32))
    params.update()
    rgba = trace(stage, 320, 180, Quality(256, "high")).rgba
    inside = rgba[rgba[..., 3] > 0.999][:, :3]
    return Figure(
        "furnace: white mirror in white surroundings, off by", abs(float(inside.mean()) - 1) * 100, "%", 0.5
    )


def irradiance() -> Figure:
    """A square panel above a matte card against its configuration factor (C-11 of Howell's catalogue)."""
    width, distance, worst = 2.0, 1.5, 0.0
    for width, distance in ((0.5, 1.0), (2.0, 1.5), (4.0, 2.0)):
        a = width / 2 / distance
        factor = 4 / np.pi * (a / np.sqrt(1 + a * a)) * np.arctan(a / np.sqrt(1 + a * a))
        shot = card()
        shot.things["light"] = Light(
            width=width, height=width, position=Vector(x=0, y=0, z=distance), aim=Vector(x=0, y=0, z=0)
        )
        stage = stage_of(shot)
        for shape in stage.scene.shapes():
            if shape.id().startswith("title"):
                shape.set_bsdf(
                    engine().load_dict({"type": "diffuse", "reflectance": {"type": "rgb", "value": 1.0}})
                )
        stage.only({"surroundings": 0.0})
        found = light_picture(stage, stage.at_moment(0), (160, 90), Window(78, 43, 4, 4), 4096, 0)[
            ..., :3
        ].mean()
        worst = max(worst, abs(float(found) / (9 * np.pi / width**2 * factor) - 1) * 100)
    return Figure("light of a panel against its analytic irradiance, off by", worst, "%", 0.5)


def in_tiles(stage: Stage, state: FrameState, samples: int) -> Floats:
    """A picture as so many samples show it, undenoised, in the tiles alone; 0 elsewhere. With catchers a
    fifth channel, as in traced ones: their share times how much of their light is kept away."""
    numbers = np.arange(SIZE[0] * SIZE[1], dtype=np.uint32).reshape(SIZE[1], SIZE[0])
    pixels = np.concatenate([numbers[tile].ravel() for tile in tiles()])
    found: Floats = sum(  # type: ignore[assignment]
        light_samples(stage, state, SIZE, pixels, 32, first, Display()) for first in range(0, samples, 32)
    ) * (32 / samples)
    seen = found[:, :4]
    if state.catches:
        share, unshaded, shaded = found[:, 7:].T
        lacks = np.clip(1 - shaded / np.maximum(unshaded, 1e-9), 0, 1) * share
        taken = np.clip(seen[:, 3] - share, 0, 1)
        seen = np.column_stack([seen[:, :3], taken, lacks])
    many = np.zeros((SIZE[0] * SIZE[1], seen.shape[1]), np.float32)
    many[pixels] = seen
    return many.reshape(SIZE[1], SIZE[0], -1)


def against_truth(shot: Shot) -> tuple[float, float]:
    """Peak signal to noise (dB) and FLIP of a delivered frame, as shown, against very many samples in a
    sixteenth of it."""
    stage = stage_of(shot, shot.format.frames * 0.62)
    state = stage.at_moment(0)
    many, behind = in_tiles(stage, state, REFERENCE), backdrop_picture(state, *SIZE)
    truth, clean = (
        finished(Passes(p), Finishing(state.exposure, state.view, behind)).astype(float) / 255
        for p in (many, trace(stage, *SIZE, QUALITIES["good"]).rgba)
    )
    squares = np.mean([np.mean((truth[tile] - clean[tile]) ** 2) for tile in tiles()])
    return float(-10 * np.log10(max(float(squares), 1e-9))), float(
        np.mean([flip(truth[tile], clean[tile]) for tile in tiles()])
    )


def flicker(shot: Shot, first: int) -> Figure:
    """Second differences over 24 frames in a row, as shown: those of denoised frames over those of 256
    samples as they are."""
    stage = Stage(BodyStore())
    clean: list[Floats] = []
    plain: list[Floats] = []
    baked = bake(shot, np.arange(first, first + 24, dtype=float))
    for index in range(24):
        state = frame_state(shot, baked, index)
        stage.show(state)
        behind = backdrop_picture(state, *SIZE)
        for pictures, rgba in (
            (clean, trace(stage, *SIZE, QUALITIES["good"]).rgba),
            (plain, in_tiles(stage, state, 256)),
        ):
            shown = finished(Passes(rgba), Finishing(state.exposure, state.view, behind))
            pictures.append(np.concatenate([shown[tile].reshape(-1, 3) for tile in tiles()]).astype(float))
    found = [float(np.abs(a[:-2] - 2 * a[1:-1] + a[2:]).mean()) for a in (np.array(clean), np.array(plain))]
    return Figure(
        "flicker of denoised frames over that of 256 samples undenoised, 24 frames",
        found[0] / found[1],
        "×",
        1,
    )
