"""Footage of a harbour quay with bollards, crates and a low sun, made with a known camera.

``python -m dreizack.demo.quay OUT.mp4`` draws it (an hour of two cores); what comes of it is shipped beside
this file, as ``quay.mp4``, with its truth.
"""

from __future__ import annotations

import json
import sys
from collections.abc import Iterable
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import cv2
import numpy as np
from numpy.typing import NDArray

from ..core.colour import view_curve
from ..core.render.kernel.engine import engine
from ..core.render.sampling.denoise import denoise

Floats = NDArray[np.float64]

SIZE, FRAMES, RATE = (960, 540), 96, Fraction(24)
FOCAL = 960.0
SUN = np.array([-0.62, 0.28, 0.42])
SAMPLES = 16
# Standard deviation of the grain in codes, in the middle of the scale, and how large it is in pixels.
GRAIN, GRAIN_SIZE = 2.2, 0.6
EXPOSURE = 3.6


def camera(frames: int = FRAMES) -> tuple[Floats, Floats]:
    """Places and aims (frames, 3): a crane that rises and goes by."""
    share = np.linspace(0, 1, frames)
    ease = share * share * (3 - 2 * share)
    unrest = np.stack(
        [np.sin(share * w + p) for w, p in ((9, 0.3), (13, 1.9), (11, 4.0))], axis=1
    ) * np.array([0.012, 0.008, 0.01])
    places = np.array([-2.4, 1.35, 6.6]) + ease[:, None] * np.array([3.4, 1.05, -1.1]) + unrest
    aims = np.array([0.1, 1.0, 0.0]) + ease[:, None] * np.array([0.35, 0.02, -0.2]) + unrest[:, ::-1]
    return places, aims


def truth() -> dict[str, Any]:
    """What is known of it."""
    places, aims = camera()
    return {
        "size": SIZE,
        "focal": FOCAL,
        "places": places.round(6).tolist(),
        "aims": aims.round(6).tolist(),
        "sun": (SUN / np.linalg.norm(SUN)).round(6).tolist(),
        "bollard": {"foot": [-1.9, 0.0, 1.2], "tip": [-1.9, 0.62, 1.2]},
    }


def _noise(random: np.random.Generator, side: int, cells: tuple[int, ...]) -> Floats:
    """Soft noise (side, side), about -1..1."""
    made = np.zeros((side, side))
    for k, count in enumerate(cells):
        patch = random.normal(0, 0.75**k, (count, count)).astype(np.float32)
        made += cv2.resize(patch, (side, side), interpolation=cv2.INTER_CUBIC)
    return made / 2


def _stones(random: np.random.Generator) -> NDArray[np.float32]:
    """Setts of granite over 12 metres (2048, 2048, 3)."""
    side, rows, columns = 2048, 44, 30
    picture = np.zeros((side, side, 3))
    y, x = np.mgrid[0:side, 0:side] / side
    wave = 0.1 * _noise(random, side, (9, 24))
    row = np.floor((y + 0.012 * wave) * rows).astype(int)
    column = np.floor((x + 0.012 * wave[::-1]) * columns + 0.5 * (row % 2)).astype(int)
    tone = random.normal(1, 0.17, (rows + 4, columns + 4))
    warm = random.normal(0, 0.02, (rows + 4, columns + 4))
    at = (np.clip(row, 0, rows + 3), np.clip(column, 0, columns + 3))
    level = 0.2 * tone[at] * (1 + 0.28 * _noise(random, side, (60, 200, 620)))
    fy = (y + 0.012 * wave) * rows % 1
    fx = ((x + 0.012 * wave[::-1]) * columns + 0.5 * (row % 2)) % 1
    joint = np.minimum(np.minimum(fx, 1 - fx) * side / columns, np.minimum(fy, 1 - fy) * side / rows)
    level *= np.clip(joint / 3.0, 0.3, 1)
    level *= 1 - 0.35 * np.clip(_noise(random, side, (5, 12)), 0, 1)
    for k, tint in enumerate((1.03, 1.0, 0.96)):
        picture[..., k] = level * (tint + (warm[at] if k == 0 else -warm[at] if k == 2 else 0))
    return np.clip(picture, 0.015, 0.7).astype(np.float32)


def _planks(random: np.random.Generator, tint: tuple[float, float, float]) -> NDArray[np.float32]:
    """Boards of a crate (512, 512, 3)."""
    side, boards = 512, 6
    y, x = np.mgrid[0:side, 0:side] / side
    board = np.floor(y * boards).astype(int).clip(0, boards - 1)
    tone = random.normal(1, 0.14, boards)[board]
    fibres = cv2.resize(
        random.normal(0, 1, (side // 3, 14)).astype(np.float32), (side, side), interpolation=cv2.INTER_CUBIC
    )
    level = tone * (1 + 0.16 * fibres + 0.12 * _noise(random, side, (20, 90)))
    gap = np.minimum(y * boards % 1, 1 - y * boards % 1) * side / boards
    level *= np.clip(gap / 3, 0.18, 1)
    for frame in (x < 0.09, x > 0.91, np.abs(x - y) < 0.05):
        level = np.where(frame, 0.8 * (1 + 0.14 * _noise(random, side, (30, 130))), level)
    for px, py in random.random((40, 2)):
        cv2.circle(level, (int(px * side), int(py * side)), 3, 0.3, -1)
    walls: NDArray[np.float32] = np.clip(level[..., None] * np.array(tint), 0.01, 0.8).astype(np.float32)
    return walls


def _bricks(random: np.random.Generator) -> NDArray[np.float32]:
    """A warehouse's wall (1024, 1024, 3), 8 metres wide."""
    side, rows, columns = 1024, 64, 22
    y, x = np.mgrid[0:side, 0:side] / side
    row = np.floor(y * rows).astype(int).clip(0, rows - 1)
    column = np.floor(x * columns + 0.5 * (row % 2)).astype(int)
    tone = random.normal(1, 0.2, (rows, columns + 2))[row, column]
    fx, fy = (x * columns + 0.5 * (row % 2)) % 1, y * rows % 1
    joint = np.minimum(np.minimum(fx, 1 - fx) * side / columns, np.minimum(fy, 1 - fy) * side / rows)
    level = tone * (1 + 0.2 * _noise(random, side, (40, 200)))
    brick = level[..., None] * np.array([0.26, 0.11, 0.075])
    mortar = np.array([0.3, 0.29, 0.27]) * (1 + 0.15 * _noise(random, side, (200,)))[..., None]
    made = np.where((joint < 1.4)[..., None], mortar, brick)
    windows = (np.abs(x * 4 % 1 - 0.5) < 0.2) & (np.abs(y * 2.5 % 1 - 0.5) < 0.24)
    bars = (np.abs(x * 32 % 1 - 0.5) < 0.06) | (np.abs(y * 26 % 1 - 0.5) < 0.06)
    made = np.where(windows[..., None], np.where(bars[..., None], 0.35, 0.03), made)
    # Of a cube's sides the first coordinate runs upward.
    return np.clip(made, 0.01, 0.8).astype(np.float32).swapaxes(0, 1)


def _matte(picture: NDArray[np.float32], repeats: float = 1.0) -> dict[str, Any]:
    mi = engine()
    return {
        "type": "twosided",
        "bsdf": {
            "type": "diffuse",
            "reflectance": {
                "type": "bitmap",
                "bitmap": mi.Bitmap(np.ascontiguousarray(picture)),
                "raw": True,
                "to_uv": mi.ScalarTransform4f().scale([repeats, repeats, 1]),
            },
        },
    }


def scene() -> dict[str, Any]:
    """The quay, in metres; the ground is y = 0, the origin where words are to stand."""
    mi, random = engine(), np.random.default_rng(58)
    at = mi.ScalarTransform4f
    made: dict[str, Any] = {"type": "scene", "integrator": {"type": "path", "max_depth": 5}}
    made["ground"] = {
        "type": "rectangle",
        "to_world": at().translate([0, 0, 1]).rotate([1, 0, 0], -90).scale([12, 7.5, 1]),
        "bsdf": _matte(_stones(random), 2),
    }
    made["edge"] = {
        "type": "rectangle",
        "to_world": at().translate([0, -0.7, -6.5]).rotate([1, 0, 0], 180).scale([12, 0.7, 1]),
        "bsdf": _matte(_stones(random)),
    }
    made["water"] = {
        "type": "rectangle",
        "to_world": at().translate([0, -1.1, -606]).rotate([1, 0, 0], -90).scale([900, 600, 1]),
        "bsdf": {
            "type": "principled",
            "base_color": {"type": "rgb", "value": [0.012, 0.03, 0.04]},
            "roughness": 0.28,
            "specular": 0.5,
        },
    }
    made["warehouse"] = {
        "type": "cube",
        "to_world": at().translate([-9.5, 2.6, -12]).rotate([0, 1, 0], 18).scale([4.2, 3.8, 3]),
        "bsdf": _matte(_bricks(random)),
    }
    made["shed"] = {
        "type": "cube",
        "to_world": at().translate([8.5, 1.2, -15]).rotate([0, 1, 0], -12).scale([3.6, 2.4, 3]),
        "bsdf": _matte(_bricks(random)[::-1], 0.8),
    }
    for k, x in enumerate(np.linspace(-60, 60, 13)):
        made[f"hill{k}"] = {
            "type": "sphere",
            "center": [float(x), -14.0, -110.0 - 8 * (k % 3)],
            "radius": float(17 + 3.4 * random.random()),
            "bsdf": {"type": "diffuse", "reflectance": {"type": "rgb", "value": [0.05, 0.075, 0.06]}},
        }
    tints = [(0.42, 0.29, 0.17), (0.3, 0.23, 0.16), (0.38, 0.33, 0.27), (0.2, 0.27, 0.26)]
    crates = [
        (2.15, 0.0, -0.9, 0.62, 14),
        (3.15, 0.0, -2.0, 0.75, -20),
        (2.5, 1.24, -1.2, 0.4, 38),
        (-3.3, 0.0, -2.4, 0.7, 24),
        (-2.2, 0.0, -3.4, 0.55, -8),
        (0.6, 0.0, -4.4, 0.6, 30),
        (-5.2, 0.0, 0.4, 0.6, 5),
    ]
    for k, (x, y, z, half, turn) in enumerate(crates):
        made[f"crate{k}"] = {
            "type": "cube",
            "to_world": at().translate([x, y + half, z]).rotate([0, 1, 0], turn).scale(half),
            "bsdf": _matte(_planks(random, tints[k % 4])),
        }
    iron = {
        "type": "principled",
        "base_color": {"type": "rgb", "value": [0.045, 0.04, 0.04]},
        "metallic": 0.3,
        "roughness": 0.5,
    }
    for k, (x, z) in enumerate([(-1.9, 1.2), (3.6, 1.5), (-4.4, -5.6), (0.2, -5.8), (4.9, -5.7)]):
        for part, low, high, radius in (("post", 0.0, 0.5, 0.15), ("head", 0.46, 0.62, 0.22)):
            made[f"{part}{k}"] = {
                "type": "cylinder",
                "p0": [x, low, z],
                "p1": [x, high, z],
                "radius": radius,
                "bsdf": iron,
            }
            made[f"{part}cap{k}"] = {
                "type": "disk",
                "to_world": at().translate([x, high, z]).rotate([1, 0, 0], -90).scale(radius),
                "bsdf": iron,
            }
    hemp = {"type": "diffuse", "reflectance": {"type": "rgb", "value": [0.34, 0.26, 0.15]}}
    share = np.linspace(0, 1, 40)
    rope = np.stack(
        [-1.9 + 5.5 * share, 0.4 - 0.36 * np.sin(np.pi * share) ** 0.6, 1.2 + 0.3 * share], axis=1
    )
    rope[:, 2] += 0.45 * np.sin(share * 7.0) * np.sin(np.pi * share)
    for k in range(len(rope) - 1):
        made[f"rope{k}"] = {
            "type": "cylinder",
            "p0": rope[k].tolist(),
            "p1": rope[k + 1].tolist(),
            "radius": 0.035,
            "bsdf": hemp,
        }
    sun = SUN / np.linalg.norm(SUN)
    # The sky has z up, but its sun is told as it stands in the room.
    made["sky"] = {
        "type": "sunsky",
        "sun_direction": sun.tolist(),
        "turbidity": 3.2,
        "sun_scale": 1.0,
        "sky_scale": 1.0,
        "to_world": at().rotate([1, 0, 0], -90),
    }
    return made


def _sensor(place: Floats, aim: Floats, size: tuple[int, int], focal: float) -> Any:
    mi = engine()
    width, height = size
    return mi.load_dict(
        {
            "type": "perspective",
            "fov": float(np.degrees(2 * np.arctan(width / 2 / focal))),
            "fov_axis": "x",
            "to_world": mi.ScalarTransform4f().look_at(
                origin=place.tolist(), target=aim.tolist(), up=[0.0, 1.0, 0.0]
            ),
            "film": {"type": "hdrfilm", "width": width, "height": height, "rfilter": {"type": "box"}},
            "sampler": {"type": "independent"},
        }
    )


def frame(
    loaded: Any,
    features: Any,
    place: Floats,
    aim: Floats,
    number: int,
    samples: int = SAMPLES,
    size: tuple[int, int] = SIZE,
    focal: float = FOCAL,
) -> NDArray[np.float32]:
    """One frame, scene-linear (height, width, 3), without grain; ``focal`` in pixels."""
    mi = engine()
    sensor = _sensor(place, aim, size, focal)
    light = np.array(mi.render(loaded, sensor=sensor, spp=samples, seed=number))
    told = np.array(mi.render(loaded, sensor=sensor, integrator=features, spp=8, seed=number))
    colour = np.concatenate([light[..., :3] * EXPOSURE, np.ones((*light.shape[:2], 1))], axis=2)
    return denoise(colour.astype(np.float32), told[..., :3], told[..., 3:6], "high")[..., :3]


def developed(linear: NDArray[np.float32], random: np.random.Generator) -> NDArray[np.uint8]:
    """As a camera would record it: a little blur, grain that is strongest in the middle."""
    soft = cv2.GaussianBlur(linear, (0, 0), 0.45).astype(np.float32)
    codes = view_curve(soft) * 255
    grain = cv2.GaussianBlur(random.normal(0, 1, codes.shape).astype(np.float32), (0, 0), GRAIN_SIZE)
    grain *= GRAIN / grain.std()
    strength = 0.35 + 2.6 * (codes / 255) * (1 - codes / 255)
    return np.clip(np.rint(codes + grain * strength), 0, 255).astype(np.uint8)


def write_movie(path: Path, frames: Iterable[NDArray[np.uint8]]) -> None:
    """Frames (height, width, 3) as a clip, with exact tags."""
    with av.open(str(path), "w", options={"movflags": "+faststart+write_colr"}) as movie:
        stream = movie.add_stream("libx264", rate=RATE)
        stream.width, stream.height = SIZE
        stream.pix_fmt, stream.options = "yuv420p", {"crf": "17", "preset": "slow"}
        context = stream.codec_context
        context.color_primaries = context.color_trc = context.colorspace = 1
        context.color_range = 1
        for number, codes in enumerate(frames):
            shown = av.VideoFrame.from_ndarray(codes, format="rgb24").reformat(
                format="yuv420p", dst_colorspace=1, src_color_range=2, dst_color_range=1
            )
            movie.mux(stream.encode(shown))
            print("frame", number + 1, file=sys.stderr)
        movie.mux(stream.encode(None))


def loaded_scene() -> tuple[Any, Any]:
    """The scene, and what tells the denoiser of it."""
    mi = engine()
    return mi.load_dict(scene()), mi.load_dict({"type": "aov", "aovs": "a:albedo,n:sh_normal"})


def draw(path: Path, frames: int = FRAMES) -> None:
    """Draw the whole clip."""
    loaded, features = loaded_scene()
    random = np.random.default_rng(4)
    places, aims = camera(frames)
    write_movie(
        path,
        (
            developed(frame(loaded, features, places[number], aims[number], number), random)
            for number in range(frames)
        ),
    )
    path.with_suffix(".json").write_text(json.dumps(truth(), indent=1) + "\n", encoding="utf-8")


if __name__ == "__main__":
    draw(Path(sys.argv[1]))
