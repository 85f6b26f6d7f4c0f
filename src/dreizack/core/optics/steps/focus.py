"""Focus blur added to a sharp picture."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from ..settings import Place

Floats = NDArray[np.float32]

# Circles grow by this factor from one level of blur to the next, from half a pixel on; none is wider than a
# share of the picture's height.
GROWTH, WIDEST = 1.5, 0.4
# Wider circles are drawn into a smaller picture.
DRAWN = 24
# A pixel of a kernel is looked at in so many places along a side.
FINE = 8
# Openings up to so many pixels are moved so often.
EXACT, MOVES = 6.0, 4


@dataclass(frozen=True)
class FocusBlur:
    """What blurs a sharp picture: diameters of circles of confusion in heights of the whole picture by
    samples (rows, columns, samples), below 0 before what is in focus, infinite where nothing is; those of
    what catches shadows; corners of the opening (below 3: round) and its turn in degrees."""

    circles: Floats
    caught: Floats | None = None
    blades: int = 0
    turn: float = 0.0


def out_of_focus(beauty: Floats, by: FocusBlur, place: Place) -> Floats:
    """Premultiplied light and coverage (rows, columns, 4 or 5) with what is out of focus blurred; the fifth
    channel is shadow on what catches it.

    The picture is cut into levels of equal blur, each is continued below what is nearer, blurred by the
    opening, and laid over what is further away (Kraus & Strengert, Depth-of-Field Rendering by Pyramidal
    Image Processing, 2007).
    """
    lowest, shares = _levels(by.circles, place.height)
    made = np.zeros_like(beauty[..., :4])
    nearer = np.zeros(beauty.shape[:2], np.float32)
    # What a level that is nearer than this one covers, from the front to the back.
    hidden = []
    for share in shares:
        hidden.append(nearer)
        nearer = nearer + share * beauty[..., 3]
    for number in reversed(range(len(shares))):
        own = beauty[..., :4] * shares[number][..., None]
        if not own[..., 3].any():
            continue
        if hidden[number].any():
            own = _continued(own, 1 - np.clip(hidden[number], 0, 1))
        own = blurred_by(own, _diameter(lowest + number), by, lowest + number < 0)
        made = own + made * (1 - np.clip(own[..., 3:4], 0, 1))
    if beauty.shape[2] == 4:
        return made
    shadow = beauty[..., 4] if by.caught is None else _shadow(beauty[..., 4], by, place.height)
    return np.concatenate([made, shadow[..., None]], axis=2)


def _diameter(level: int) -> float:
    """Pixels across the circle of a level; level 0 is sharp, those below 0 are nearer."""
    return float(GROWTH ** abs(level) - 1)


def _level(circles: Floats, height: int) -> Floats:
    """Levels of circles, between whole ones where they lie between."""
    pixels = np.minimum(np.abs(circles), WIDEST) * height
    found: Floats = np.copysign(np.log1p(pixels) / np.log(GROWTH), circles).astype(np.float32)
    return found


def _levels(circles: Floats, height: int) -> tuple[int, list[Floats]]:
    """The lowest level that is used, and how much of each pixel is at it and those after it, from the front
    to the back; pixels of which nothing is known take after the nearest."""
    rows, columns, _ = circles.shape
    there = np.isfinite(circles)
    if not there.any():
        return 0, [np.ones((rows, columns), np.float32)]
    level = _level(np.where(there, circles, 0), height)
    lowest, highest = int(np.floor(level[there].min())), int(np.ceil(level[there].max()))
    below = np.floor(level)
    pixel = np.broadcast_to(np.arange(rows * columns).reshape(rows, columns, 1), circles.shape)
    shares = np.zeros((highest - lowest + 2) * rows * columns, np.float32)
    for up, weight in ((0, 1 - (level - below)), (1, level - below)):
        at = (below.astype(np.int64) - lowest + up) * (rows * columns) + pixel
        shares += np.bincount(at[there], weight[there], len(shares)).astype(np.float32)
    shares = shares.reshape(-1, rows, columns)[: highest - lowest + 1]
    known = there.any(axis=2)
    _, nearest = cv2.distanceTransformWithLabels(
        np.asarray(~known, np.uint8), cv2.DIST_L2, cv2.DIST_MASK_5, labelType=cv2.DIST_LABEL_PIXEL
    )
    # Labels number known pixels in reading order of where each lies.
    number = np.zeros(int(nearest.max()) + 1, np.int64)
    number[nearest[known]] = np.flatnonzero(known)
    taken = shares.reshape(len(shares), -1)[:, number[nearest]]
    return lowest, list(taken / np.maximum(taken.sum(axis=0), 1e-6))


def _continued(picture: Floats, known: Floats) -> Floats:
    """A picture (rows, columns, channels) where it is ``known`` (rows, columns), 0..1, and smoothly on where
    it is not, by averaging down and filling up (Gortler et al., The Lumigraph, 1996, 3.4: pull and push)."""
    steps: list[tuple[Any, Any]] = [(picture, known)]
    while min(steps[-1][1].shape) > 2:
        values, weight = steps[-1]
        size = (values.shape[1] + 1) // 2, (values.shape[0] + 1) // 2
        less = cv2.resize(weight, size, interpolation=cv2.INTER_AREA)
        # What is unknown weighs nothing, what is known a little more at every step.
        mean = cv2.resize(values, size, interpolation=cv2.INTER_AREA)
        steps.append((mean, less))
    values, weight = steps[-1]
    filled = values / np.maximum(weight, 1e-6)[..., None]
    for values, weight in reversed(steps[:-1]):
        up = cv2.resize(filled, values.shape[1::-1], interpolation=cv2.INTER_LINEAR)
        filled = values + (1 - weight)[..., None] * up
    return np.asarray(filled, np.float32)


def blurred_by(picture: Floats, diameter: float, by: FocusBlur, nearer: bool) -> Floats:
    """A picture (rows, columns, channels) under an opening so many pixels across; of what is ``nearer`` than
    what is in focus the opening stands upside down."""
    if diameter < 0.25:
        return picture
    share = max(1, int(diameter // DRAWN))
    rows, columns = picture.shape[:2]
    size = -(-columns // share), -(-rows // share)
    small = cv2.resize(picture, size, interpolation=cv2.INTER_AREA) if share > 1 else picture
    kernel = opening(diameter / share, by.blades, by.turn + (180 if nearer else 0))
    # The filter correlates: it takes from where the opening would send to.
    made = cv2.filter2D(small, -1, kernel[::-1, ::-1], borderType=cv2.BORDER_REPLICATE)
    if share > 1:
        made = cv2.resize(made, (columns, rows), interpolation=cv2.INTER_LINEAR)
    return np.asarray(made, np.float32).reshape(picture.shape)


@lru_cache(maxsize=128)
def opening(diameter: float, blades: int, turn: float) -> Floats:
    """The opening as a kernel (n, n) of sum 1, n odd: a disc so many pixels across, or a regular polygon of
    the same area, its first corner at ``turn`` degrees from the right, counterclockwise."""
    if diameter > EXACT:
        return _drawn(diameter, blades, turn, 2 * FINE, 0.0, 0.0)
    # What lies anywhere in a pixel counts in its middle: a small shape is moved until its middle stays.
    x = y = 0.0
    for _ in range(MOVES):
        kernel = _drawn(diameter, blades, turn, 4 * FINE, x, y)
        half = kernel.shape[0] // 2
        away = np.arange(-half, half + 1)
        x, y = x - float(kernel.sum(axis=0) @ away), y + float(kernel.sum(axis=1) @ away)
    return kernel


def _drawn(diameter: float, blades: int, turn: float, fine: int, right: float, up: float) -> Floats:
    """The same from so many places a pixel, with its middle moved by parts of a pixel."""
    half = int(np.ceil(diameter / 2 * (1.6 if blades >= 3 else 1.0)))
    along = (np.arange((2 * half + 1) * fine) + 0.5) / fine - half - 0.5
    x, y = np.meshgrid(along - right, -along - up)
    radius = diameter / 2
    if blades < 3:
        inside = np.hypot(x, y) <= radius
    else:
        corner = radius * np.sqrt(np.pi / (blades / 2 * np.sin(2 * np.pi / blades)))
        sector = 2 * np.pi / blades
        angle = (np.arctan2(y, x) - np.radians(turn)) % sector - sector / 2
        inside = np.hypot(x, y) * np.cos(angle) <= corner * np.cos(sector / 2)
    side = 2 * half + 1
    kernel: Any = inside.reshape(side, fine, side, fine).mean(axis=(1, 3))
    if kernel.sum() <= 0:
        kernel[half, half] = 1
    return np.asarray(kernel / kernel.sum(), np.float32)


def _shadow(shadow: Floats, by: FocusBlur, height: int) -> Floats:
    """Shadow (rows, columns) blurred where it lies, between levels on both sides of each pixel's."""
    assert by.caught is not None
    there = np.isfinite(by.caught)
    known = there.sum(axis=2)
    circle = np.where(there, np.abs(np.where(there, by.caught, 0)), 0).sum(axis=2) / np.maximum(known, 1)
    level = _level(circle.astype(np.float32), height)
    made = np.zeros_like(shadow)
    for number in range(int(np.ceil(level.max())) + 1):
        weight = np.clip(1 - np.abs(level - number), 0, 1)
        if weight.any():
            made += weight * blurred_by(shadow[..., None], _diameter(number), by, False)[..., 0]
    return made
