"""Pictures that show what eyes cannot tell: what clips, how bright it is in stops, what the renderer knows of
each pixel."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..colour import linear_to_srgb, luminance
from .view import to_display

Floats = NDArray[np.float32]
Bytes = NDArray[np.uint8]

# Display value above which a channel counts as clipped.
CLIPS = 0.985
GREY = 0.18
# From five stops below middle grey to five above: cold and dark to warm and bright, middle grey neutral.
STOPS = np.arange(-5, 6)
SCALE = np.array(
    [
        [28, 18, 62],
        [38, 38, 104],
        [42, 66, 132],
        [50, 98, 140],
        [72, 128, 138],
        [122, 128, 126],
        [164, 150, 96],
        [198, 166, 76],
        [220, 150, 60],
        [228, 110, 62],
        [240, 60, 60],
    ],
    np.float32,
)


def clipping(linear: Floats, view: str = "shoulder") -> Bytes:
    """The developed picture, grey, with red hatching where a channel clips."""
    shown = to_display(linear, view)
    grey = (luminance(shown.astype(np.float32)) * 0.7).astype(np.uint8)
    picture = np.repeat(grey[..., None], 3, axis=2)
    rows, columns = np.indices(grey.shape)
    hatch = ((rows + columns) // 4) % 2 == 0
    clips = (shown >= CLIPS * 255).any(axis=2)
    picture[clips & hatch] = (255, 70, 60)
    picture[clips & ~hatch] = (120, 20, 16)
    return picture


def clipped_share(linear: Floats, view: str = "shoulder") -> float:
    """Share of the pixels with a channel that clips."""
    return shown_clipped(to_display(linear, view))


def shown_clipped(shown: Bytes) -> float:
    """The same of a developed picture (height, width, 3)."""
    return float((shown >= CLIPS * 255).any(axis=2).mean())


def false_colour(linear: Floats, view: str = "") -> Bytes:
    """Whatever the ``view`` transform, luminance in stops above and below middle grey, each stop a colour of
    :data:`SCALE`, mixed between."""
    stops = np.log2(np.maximum(luminance(linear), 1e-6) / GREY)
    mixed = np.stack([np.interp(stops, STOPS, SCALE[:, c]) for c in range(3)], axis=-1)
    result: Bytes = np.rint(mixed).astype(np.uint8)
    return result


def channel_shown(name: str, channel: Floats) -> Bytes:
    """A channel (height, width, n) as a picture: albedo as colour, normals as x, y, z around grey, depth
    bright where near, parts each in a colour of its own."""
    if name == "albedo":
        coloured: Bytes = np.rint(np.clip(linear_to_srgb(channel), 0, 1) * 255).astype(np.uint8)
        return coloured
    if name == "normal":
        there = np.abs(channel).sum(axis=2, keepdims=True) > 0
        return np.where(there, np.rint((channel * 0.5 + 0.5) * 255), 26).astype(np.uint8)
    if name == "depth":
        depth = channel[..., 0]
        there = depth > 0
        if not there.any():
            return np.full((*depth.shape, 3), 26, np.uint8)
        # Far things of a floor without end would leave the letters no contrast.
        near, far = float(depth[there].min()), float(np.percentile(depth[there], 90))
        value = 1 - np.clip((depth - near) / max(far - near, 1e-6), 0, 1) * 0.85
        return np.repeat(np.where(there, np.rint(value * 255), 26).astype(np.uint8)[..., None], 3, axis=2)
    number = channel[..., 0].astype(np.int64)
    # Neighbouring numbers lie far apart on the circle of hues.
    hue = number * 0.618034 * 2 * np.pi
    tone = 130 + 26 * ((number % 3) - 1)
    picture = np.stack(
        [tone + 78 * np.cos(hue), tone + 62 * np.cos(hue + 2.1), tone + 78 * np.cos(hue + 4.2)], axis=-1
    )
    return np.where((number > 0)[..., None], np.clip(picture, 0, 255), 26).astype(np.uint8)
