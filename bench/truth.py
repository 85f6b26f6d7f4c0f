"""The traced picture against what is known: energy, irradiance, metals, and pictures with very many samples."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from dreizack.core.document import Camera, Colour, Finish, Format, Light, Setting, Shot, Surroundings, Title, Vector
from dreizack.core.finish import metal_colour
from dreizack.core.optics import develop
from dreizack.core.render import QUALITIES, Quality, Stage, Window, backdrop_picture, trace
from dreizack.core.render.engine import engine
from dreizack.core.render.pictures import light_picture
from dreizack.core.scene import BodyStore, bake, frame_state
from dreizack.demo import demo_shots

from .figure import Figure

SIZE = (320, 180)
REFERENCE = 2048
# Linear colours at normal incidence (Akenine-Möller et al., Real-Time Rendering, 4th ed., table 9.2).
PUBLISHED = {"aluminium": (0.913, 0.922, 0.924), "copper": (0.955, 0.638, 0.538), "gold": (1.0, 0.782, 0.344), "silver": (0.972, 0.960, 0.915)}
Floats = NDArray[np.float64]


def measure() -> Iterator[Figure]:
    yield furnace()
    yield irradiance()
    worst = max(PUBLISHED, key=lambda name: delta_e(lab(metal_colour(name)), lab(PUBLISHED[name])))
    away = delta_e(lab(metal_colour(worst)), lab(PUBLISHED[worst]))
    yield Figure("measured metals against their published colour, the furthest", away, "ΔE00", 1, note=f"({worst})")
    found: dict[str, float] = {}
    for name, shot in demo_shots().items():
        found[name] = psnr(shot)
        yield Figure(f"16 denoised samples against {REFERENCE}, {name}", found[name], "dB")
    least = min(found, key=lambda name: found[name])
    yield Figure("16 denoised samples against very many, the worst demo frame", found[least], "dB", 38, least=True, note=f"({least})")


def stage_of(shot: Shot, frame: float = 0.0) -> Stage:
    stage = Stage(BodyStore())
    stage.show(frame_state(shot, bake(shot, np.array([frame])), 0))
    return stage


def card() -> Shot:
    title = Title(words="I", setting=Setting(typeface="archivo-black", size=4))
    title.body.front.profile = title.body.back.profile = "none"
    title.place.position = Vector(x=0, y=-2, z=-title.body.depth / 2)
    return Shot(
        format=Format(width=160, height=90, frames=1), things={"title": title}, surroundings=Surroundings(studio="dark", strength=-16),
        camera=Camera(position=Vector(x=0, y=0, z=8), aim=Vector(x=0, y=0, z=0), focal_length=200),
    )


def furnace() -> Figure:
    """How far a body that takes no light stands out of surroundings that are the same everywhere."""
    shot = card()
    shot.things["title"] = Title(words="S", finish=Finish(base_colour=Colour(r=1, g=1, b=1), metallic=1, roughness=0.03))
    shot.camera = Camera(position=Vector(x=0.3, y=0.3, z=1.4), aim=Vector(x=0, y=0.25, z=0))
    shot.surroundings = Surroundings(studio="checks", strength=0, blur=90)
    stage = stage_of(shot)
    params = engine().traverse(stage.scene)
    params["surroundings.data"] = engine().TensorXf(np.ones(params["surroundings.data"].shape, np.float32))
    params.update()
    rgba = trace(stage, 320, 180, Quality(256, "high")).rgba
    inside = rgba[rgba[..., 3] > 0.999][:, :3]
    return Figure("furnace: white mirror in white surroundings, off by", abs(float(inside.mean()) - 1) * 100, "%", 0.5)


def irradiance() -> Figure:
    """A square panel above a matte card against its configuration factor (C-11 of Howell's catalogue)."""
    width, distance, worst = 2.0, 1.5, 0.0
    for width, distance in ((0.5, 1.0), (2.0, 1.5), (4.0, 2.0)):
        a = width / 2 / distance
        factor = 4 / np.pi * (a / np.sqrt(1 + a * a)) * np.arctan(a / np.sqrt(1 + a * a))
        shot = card()
        shot.things["light"] = Light(width=width, height=width, position=Vector(x=0, y=0, z=distance), aim=Vector(x=0, y=0, z=0))
        stage = stage_of(shot)
        for shape in stage.scene.shapes():
            if shape.id().startswith("title"):
                shape.set_bsdf(engine().load_dict({"type": "diffuse", "reflectance": {"type": "rgb", "value": 1.0}}))
        stage.only({"surroundings": 0.0})
        found = light_picture(stage, stage.at_moment(0), (160, 90), Window(78, 43, 4, 4), 4096, 0)[..., :3].mean()
        worst = max(worst, abs(float(found) / (9 * np.pi / width**2 * factor) - 1) * 100)
    return Figure("light of a panel against its analytic irradiance, off by", worst, "%", 0.5)


def psnr(shot: Shot) -> float:
    """Peak signal to noise of a delivered frame, in the display domain, against very many samples."""
    frame = shot.format.frames * 0.62
    stage = stage_of(shot, frame)
    state = stage.at_moment(0)
    many = np.mean([light_picture(stage, state, SIZE, Window(0, 0, *SIZE), 32, first) for first in range(0, REFERENCE, 32)], axis=0)
    behind = backdrop_picture(state, *SIZE)
    truth, clean = (develop(p, state.exposure, behind).astype(float) for p in (many, trace(stage, *SIZE, QUALITIES["good"]).rgba))
    return float(10 * np.log10(255**2 / max(float(np.mean((truth - clean) ** 2)), 1e-9)))


def lab(linear: tuple[float, float, float]) -> Floats:
    """CIE L*a*b* of a linear Rec.709 colour, white D65."""
    xyz = np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]]) @ np.array(linear) / [0.9505, 1.0, 1.089]
    x, y, z = np.where(xyz > (6 / 29) ** 3, np.cbrt(xyz), xyz / (3 * (6 / 29) ** 2) + 4 / 29)
    return np.array([116 * y - 16, 500 * (x - y), 200 * (y - z)])


def delta_e(one: Floats, two: Floats) -> float:
    """CIEDE2000 (ISO/CIE 11664-6)."""
    (l1, a1, b1), (l2, a2, b2) = one, two
    mean = (np.hypot(a1, b1) + np.hypot(a2, b2)) / 2
    g = 0.5 * (1 - np.sqrt(mean**7 / (mean**7 + 25**7)))
    c1, c2 = np.hypot(a1 * (1 + g), b1), np.hypot(a2 * (1 + g), b2)
    h1, h2 = (np.degrees(np.arctan2(b, a * (1 + g))) % 360 for a, b in ((a1, b1), (a2, b2)))
    turn = (h2 - h1 + 180) % 360 - 180 if c1 * c2 > 0 else 0.0
    dl, dc, dh = l2 - l1, c2 - c1, 2 * np.sqrt(c1 * c2) * np.sin(np.radians(turn / 2))
    level, chroma, hue = (l1 + l2) / 2, (c1 + c2) / 2, (h1 + turn / 2) % 360 if c1 * c2 > 0 else h1 + h2
    r = np.radians(hue)
    t = 1 - 0.17 * np.cos(r - np.pi / 6) + 0.24 * np.cos(2 * r) + 0.32 * np.cos(3 * r + np.radians(6)) - 0.2 * np.cos(4 * r - np.radians(63))
    sl = 1 + 0.015 * (level - 50) ** 2 / np.sqrt(20 + (level - 50) ** 2)
    sc, sh = 1 + 0.045 * chroma, 1 + 0.015 * chroma * t
    rotation = -2 * np.sqrt(chroma**7 / (chroma**7 + 25**7)) * np.sin(np.radians(60 * np.exp(-(((hue - 275) / 25) ** 2))))
    return float(np.sqrt((dl / sl) ** 2 + (dc / sc) ** 2 + (dh / sh) ** 2 + rotation * dc / sc * dh / sh))
