"""Windows of a picture: the light that arrives, and what is met first."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..scene import FrameState
from .engine import arrays, engine
from .lens import Window, camera_rays
from .paths import first_met, radiance
from .stage import Stage

mi, dr = engine(), arrays()
Floats = NDArray[np.float32]


def light_picture(stage: Stage, moment: FrameState, size: tuple[int, int], window: Window, samples: int, first: int) -> Floats:
    """Scene-linear premultiplied light (rows, columns, 4), the mean of ``samples`` a pixel from number ``first`` on."""
    ray, chance = camera_rays(moment, size, window, samples, first)
    assert stage.scenery is not None
    found, covered = radiance(stage.scenery, ray, chance)
    return _means([found.x, found.y, found.z, covered], window, samples)


def feature_picture(stage: Stage, moment: FrameState, size: tuple[int, int], window: Window, samples: int, first: int) -> Floats:
    """What guides the denoiser (rows, columns, 6): albedo and normal of what is met first."""
    ray, _ = camera_rays(moment, size, window, samples, first)
    assert stage.scenery is not None
    si = first_met(stage.scenery, ray)
    there = si.is_valid()
    albedo = si.bsdf(mi.RayDifferential3f(ray)).eval_diffuse_reflectance(si, there)
    normal = dr.select(there, si.sh_frame.n, 0)
    return _means([*(dr.select(there, c, 0) for c in (albedo.x, albedo.y, albedo.z)), normal.x, normal.y, normal.z], window, samples)


def _means(channels: list[Any], window: Window, samples: int) -> Floats:
    dr.eval(channels)
    means = [np.array(dr.block_sum(channel, samples)) if samples > 1 else np.array(channel) for channel in channels]
    picture = np.stack(means, axis=-1).reshape(window.rows, window.columns, len(channels)) / np.float32(samples)
    # A lone NaN from a degenerate path would spread in the denoiser.
    clean: Floats = np.nan_to_num(picture, nan=0.0, posinf=1e4, neginf=0.0).astype(np.float32)
    return clean


CHANNELS = ("albedo", "normal", "depth", "parts")


def channel_picture(stage: Stage, moment: FrameState, size: tuple[int, int], window: Window, name: str) -> Floats:
    """What is met first, without light: ``albedo`` and ``normal`` (rows, columns, 3) averaged over a pixel; ``depth``
    (metres from the camera) and ``parts`` (1 and up, by thing, finish and part) (rows, columns, 1) at one place of it. 0 is nothing.
    """
    if name in ("albedo", "normal"):
        features = feature_picture(stage, moment, size, window, 4, 0)
        return features[..., :3] if name == "albedo" else features[..., 3:]
    ray, _ = camera_rays(moment, size, window, 1, 0)
    assert stage.scenery is not None
    si = first_met(stage.scenery, ray)
    if name == "depth":
        return _means([dr.select(si.is_valid(), dr.norm(si.p - ray.o), 0)], window, 1)
    shapes = stage.scene.shapes()
    numbers = [int(np.array(dr.reinterpret_array(mi.UInt32, mi.ShapePtr(shape))).reshape(-1)[0]) for shape in shapes]
    table = np.zeros(max(numbers, default=0) + 1, np.float32)
    names = stage.part_names
    for number, shape in zip(numbers, shapes, strict=True):
        table[number] = names.index(shape.id()) + 1 if shape.id() in names else 0
    shape = dr.reinterpret_array(mi.UInt32, si.shape)
    return _means([dr.select(si.is_valid(), dr.gather(mi.Float, mi.Float(table), shape, si.is_valid()), 0)], window, 1)
