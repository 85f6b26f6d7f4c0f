"""Windows of a picture: the light that arrives, and what is met first."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...colour import LUMINANCE
from ...light import around_picture
from ...scene import FrameState
from ..kernel.cancellation import halt
from ..kernel.engine import arrays, engine
from ..staging.stage import Stage
from ..transport.air import left_of_backdrop, through_air
from ..transport.feature_paths import trace_features
from ..transport.lens import Counts, Numbers, Window, camera_rays, pixel_cone_spread
from ..transport.paths import first_met, radiance

mi, dr = engine(), arrays()
Floats = NDArray[np.float32]


# Of footage, on the whole.
MIDDLE_GREY = 0.18


@dataclass(frozen=True)
class Display:
    """How light will be seen: times ``gain``, over a backdrop of luminance ``behind``."""

    gain: float = 1.0
    behind: float = 0.0


def displayed(state: FrameState) -> Display:
    """How the light of a frame will be seen, on the whole."""
    behind = float(state.backdrop @ LUMINANCE)
    if state.behind is not None and state.behind.kind == "plate":
        behind = MIDDLE_GREY
    if state.behind is not None and state.behind.kind == "surroundings":
        behind = (
            float(around_picture(state.around).mean(axis=(0, 1)) @ LUMINANCE) * state.surroundings_strength
        )
    return Display(2.0**state.exposure, behind)


def light_samples(
    stage: Stage,
    moment: FrameState,
    size: tuple[int, int],
    pixels: Numbers,
    samples: Counts,
    first: Counts,
    display: Display,
) -> Floats:
    """Light of pixels (n, 7 or 10), means of ``samples`` each (one number, or (n,), pixels with as many side
    by side) from number ``first`` on: premultiplied scene-linear r, g, b, a, then about how bright samples
    will look, the square of that, and how many stretches their paths had; where there are catchers, then what
    :func:`radiance` says of them."""
    ray, sampler = camera_rays(moment, size, pixels, samples, first)
    assert stage.tables is not None
    air = through_air(stage.tables, ray, sampler) if stage.tables.kinds.air else None
    found, covered, stretches, caught, unshaded, shaded = radiance(
        stage.tables, ray, sampler, pixel_cone_spread(moment, size)
    )
    if air is not None:
        left, glows = air
        found, caught, covered = found * left + glows, caught * left, 1 - (1 - covered) * left
    behind = 1 - covered
    if stage.tables.kinds.catches:
        behind += caught * dr.select(unshaded > 0, shaded / dr.maximum(unshaded, 1e-9), 1.0)
    over = mi.luminance(found) + behind * dr.opaque(mi.Float, display.behind)
    light = dr.maximum(over * dr.opaque(mi.Float, display.gain), 0)
    # About the square root of Reinhard's curve; all that counts is where noise would be seen.
    looks = light / (1 + light)
    channels = [found.x, found.y, found.z, covered, dr.sqrt(looks), looks, mi.Float(stretches)]
    if stage.tables.kinds.catches:
        channels += [caught, unshaded, shaded]
    return _means(channels, samples)


def light_picture(
    stage: Stage, moment: FrameState, size: tuple[int, int], window: Window, samples: int, first: int
) -> Floats:
    """Scene-linear premultiplied light (rows, columns, 4), the mean of ``samples`` a pixel from number
    ``first`` on."""
    flat = light_samples(stage, moment, size, window.pixels(size[0]), samples, first, Display())
    return flat[:, :4].reshape(window.rows, window.columns, 4)


def feature_picture(
    stage: Stage, moment: FrameState, size: tuple[int, int], window: Window, samples: int, first: int
) -> Floats:
    """What guides the denoiser (rows, columns, 6): albedo and normal of what is seen."""
    return feature_samples(stage, moment, size, window.pixels(size[0]), samples, first)[:, :6].reshape(
        window.rows, window.columns, 6
    )


def feature_samples(
    stage: Stage, moment: FrameState, size: tuple[int, int], pixels: Numbers, samples: int, first: int
) -> Floats:
    """The same of pixels by their numbers, the share of them that something takes up, and that of catchers
    (n, 8)."""
    ray, sampler = camera_rays(moment, size, pixels, samples, first)
    assert stage.tables is not None
    albedo, normal, covered, caught = trace_features(
        stage.tables, ray, sampler, pixel_cone_spread(moment, size)
    )
    if stage.tables.kinds.air:
        covered = 1 - (1 - covered) * left_of_backdrop(stage.tables)
    return _means([albedo.x, albedo.y, albedo.z, normal.x, normal.y, normal.z, covered, caught], samples)


def _means(channels: list[Any], samples: Counts) -> Floats:
    """Means (n, channels) of each ``samples`` values in a row, or of as many as an array (n,) says, row by
    row."""
    dr.eval(channels)
    dr.sync_thread()
    halt().check()
    # Views of the renderer's memory.
    found = [np.asarray(channel) for channel in channels]
    # Stretches of rows with as many samples.
    counts = np.broadcast_to(
        np.asarray(samples), len(found[0]) // samples if isinstance(samples, int) else len(samples)
    )
    edges = np.concatenate([[0], np.flatnonzero(np.diff(counts)) + 1, [len(counts)]])
    ends = np.concatenate([[0], np.cumsum(counts)])[edges]
    means = np.empty((len(counts), len(channels)), np.float32)
    for row, until, a, b, count in zip(
        edges[:-1], edges[1:], ends[:-1], ends[1:], counts[edges[:-1]], strict=True
    ):
        # A product with a constant is the quickest of means.
        share = np.full(count, 1 / count, np.float32)
        for place, channel in enumerate(found):
            means[row:until, place] = channel[a:b].reshape(-1, count) @ share
    # A lone NaN from a degenerate path would spread in the denoiser.
    if not np.isfinite(means).all():
        means = np.nan_to_num(means, nan=0.0, posinf=1e4, neginf=0.0)
    return means


CHANNELS = ("albedo", "normal", "depth", "parts")


def channel_picture(
    stage: Stage, moment: FrameState, size: tuple[int, int], window: Window, name: str
) -> Floats:
    """What is met first, without light: ``albedo`` and ``normal`` (rows, columns, 3) averaged over a pixel;
    ``depth`` (metres from the camera) and ``parts`` (1 and up, by thing, finish and part) (rows, columns, 1)
    at one place of it. 0 is nothing."""
    if name in ("albedo", "normal"):
        features = feature_picture(stage, moment, size, window, 4, 0)
        return features[..., :3] if name == "albedo" else features[..., 3:]
    ray, _ = camera_rays(moment, size, window.pixels(size[0]), 1, 0)
    assert stage.tables is not None
    si = first_met(stage.tables, ray)
    if name == "depth":
        return _means([dr.select(si.is_valid(), dr.norm(si.p - ray.o), 0)], 1).reshape(
            window.rows, window.columns, 1
        )
    table = part_numbers(stage)
    shape = dr.reinterpret_array(mi.UInt32, si.shape)
    return _means(
        [dr.select(si.is_valid(), dr.gather(mi.Float, mi.Float(table), shape, si.is_valid()), 0)], 1
    ).reshape(window.rows, window.columns, 1)


def part_numbers(stage: Stage) -> Floats:
    """Numbers of the parts on stage (1 and up, by thing, finish and part; 0: no part) by the renderer's own
    numbers of shapes."""
    shapes = stage.scene.shapes()
    numbers = [
        int(np.array(dr.reinterpret_array(mi.UInt32, mi.ShapePtr(shape))).reshape(-1)[0]) for shape in shapes
    ]
    table = np.zeros(max(numbers, default=0) + 1, np.float32)
    names = stage.part_names
    for number, shape in zip(numbers, shapes, strict=True):
        table[number] = names.index(shape.id()) + 1 if shape.id() in names else 0
    return table
