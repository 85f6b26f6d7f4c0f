"""What is in a picture, as graphs: how much of which brightness, where it lies, and its colours."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..colour import LUMINANCE

Bytes = NDArray[np.uint8]
Floats = NDArray[np.float64]

# Colours graphs of the channels are drawn in: they add up to a light grey.
CHANNELS = np.array([[214, 74, 66], [88, 190, 108], [82, 128, 226]], np.float64)
# How bright a place is where so large a share of a column lies, and the power that shows faint ones.
FULL, FAINT = 0.06, 0.5


def histogram(picture: Bytes, width: int, height: int) -> Bytes:
    """How many pixels of a picture (rows, columns, 3) have which code, channel by channel: (height, width,
    3), codes from left to right."""
    graph = np.zeros((height, width, 3))
    for channel in range(3):
        counts = np.bincount(picture[..., channel].ravel(), minlength=256).astype(np.float64)
        # The ends may hold most of a picture; what lies between is what is read.
        most = max(float(counts[1:-1].max()), counts.sum() / 256, 1.0)
        bars = np.interp(np.linspace(0, 255, width), np.arange(256), np.minimum(counts / most, 1.0))
        below = np.arange(height)[::-1, None] < bars[None] * height
        graph += below[..., None] * CHANNELS[channel] * 0.62
    return _bytes(graph)


def waveform(picture: Bytes, width: int, height: int, apart: bool = False) -> Bytes:
    """Codes of a picture (rows, columns, 3) over where they lie from left to right (height, width, 3); black
    at the bottom. ``apart``: red, green and blue side by side."""
    columns = picture.shape[1]
    graph = np.zeros((height, width, 3))
    for channel in range(3):
        span = width // 3 if apart else width
        begin = channel * span if apart else 0
        x = np.minimum(np.arange(columns) * span // columns, span - 1)
        y = (height - 1) - (picture[..., channel].astype(np.int64) * (height - 1)) // 255
        counts = np.bincount((y * span + x[None]).ravel(), minlength=height * span).reshape(height, span)
        share = counts / np.maximum(counts.sum(axis=0, keepdims=True), 1)
        glow = np.minimum(share / FULL, 1.0) ** FAINT
        graph[:, begin : begin + span] += glow[..., None] * CHANNELS[channel]
    return _bytes(graph)


def vectorscope(picture: Bytes, side: int) -> Bytes:
    """Colour differences of a picture (rows, columns, 3): Cb to the right, Cr upward, grey in the middle
    (Rec. ITU-R BT.709-6, 3.3): (side, side, 3), each place in its own colour."""
    values = picture.reshape(-1, 3).astype(np.float64) / 255
    luma = values @ LUMINANCE
    cb, cr = (values[:, 2] - luma) / 1.8556, (values[:, 0] - luma) / 1.5748
    x = np.clip(((cb + 0.5) * side).astype(np.int64), 0, side - 1)
    y = np.clip(((0.5 - cr) * side).astype(np.int64), 0, side - 1)
    counts = np.bincount(y * side + x, minlength=side * side).reshape(side, side).astype(np.float64)
    glow = np.minimum(counts / max(len(values) * 0.002, 1), 1.0) ** FAINT
    across = (np.arange(side) + 0.5) / side - 0.5
    of = _colour_of(across[None].repeat(side, 0), -across[:, None].repeat(side, 1))
    return _bytes(glow[..., None] * (70 + 160 * of))


def targets(share: float = 0.75) -> list[tuple[str, float, float]]:
    """Where colours of bars lie in a vectorscope, from 0 to 1 from the left and the top (SMPTE RP 219: 75 %).

    >>> [(name, round(x, 3), round(y, 3)) for name, x, y in targets(1.0)][:2]
    [('R', 0.385, 0.0), ('Y', 0.0, 0.454)]
    """
    bars = ((1, 0, 0), (1, 1, 0), (0, 1, 0), (0, 1, 1), (0, 0, 1), (1, 0, 1))
    found = []
    for name, colour in zip("RYGCBM", bars, strict=True):
        values = share * np.array(colour, np.float64)
        luma = float(values @ LUMINANCE)
        found.append(
            (name, float((values[2] - luma) / 1.8556) + 0.5, 0.5 - float((values[0] - luma) / 1.5748))
        )
    return found


def _colour_of(cb: Floats, cr: Floats) -> Floats:
    """Colours (..., 3), 0..1, of colour differences at middle luma."""
    red, blue = 0.5 + 1.5748 * cr, 0.5 + 1.8556 * cb
    green = (0.5 - LUMINANCE[0] * red - LUMINANCE[2] * blue) / LUMINANCE[1]
    result: Floats = np.clip(np.stack([red, green, blue], axis=-1), 0, 1)
    return result


def _bytes(graph: Floats) -> Bytes:
    made: Bytes = np.rint(np.clip(graph, 0, 255)).astype(np.uint8)
    return made
