"""What is done in the picture of a plate: flat areas that show something else, covers as a matte."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from ...clips import plate_frame
from ...colour import AS_SEEN, decoded_light, linear_to_srgb
from ...match import matte
from ...scene import Behind, FrameState, PatchState, plate_to_picture
from .pictures import picture_light

Floats = NDArray[np.float32]
# Mixed in light, both inside the area, light is measured away from details, in shares of its size.
WIDE = 0.25


def cover_matte(state: FrameState, width: int, height: int) -> Floats | None:
    """How much of words is hidden (height, width, 1), 0..1; None where nothing is."""
    if not state.covers or state.behind is None:
        return None
    way = np.diag([width, height, 1.0]) @ plate_to_picture(state.behind.picture, width / height)
    shown = np.ones((height, width), np.float32)
    for cover in state.covers:
        pixels = cover.outlines * way.diagonal()[:2] + way[:2, 2]
        shown *= 1 - matte(
            pixels, (width, height), cover.grow * height, cover.softness * height, cover.opacity
        )
    return (1 - shown)[..., None]


def patched(values: Floats, state: FrameState) -> Floats:
    """Values (rows, columns, 3) of a plate's frame with its flat areas as they are to be seen: display
    values, or the light that was where a camera encoded it."""
    for patch in state.patches:
        shown = _shown(values, patch, state)
        if shown is not None:
            values = shown
    return values


def _shown(values: Floats, patch: PatchState, state: FrameState) -> Floats | None:
    assert state.behind is not None
    rows, columns = values.shape[:2]
    source = _source(patch, state.behind)
    if source is None:
        return None
    # From pixels of what is shown to pixels of the plate; middles of pixels are whole numbers.
    there = _pixels(columns, rows) @ patch.homography @ np.linalg.inv(_pixels(*source.shape[1::-1]))
    laid = cv2.warpPerspective(
        source, there, (columns, rows), flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
    ).astype(np.float32)
    outline = patch.outline * np.array([columns, rows])
    hides = matte(outline[None], (columns, rows), 0.0, patch.softness * rows, patch.opacity)
    if patch.lit:
        laid = _in_its_light(laid, values, hides, outline, is_picture=bool(patch.picture))
        if state.behind.encoding == AS_SEEN:
            laid = np.clip(laid, 0, 1)
    return values + (laid - values) * hides[..., None]


def _source(patch: PatchState, behind: Behind) -> Floats | None:
    encoded = behind.encoding != AS_SEEN
    if patch.picture:
        return picture_light(patch.picture) if encoded else picture_values(patch.picture)
    still = plate_frame(behind.picture, patch.still)
    return decoded_light(still, behind.encoding) if encoded and still is not None else still


def _pixels(columns: int, rows: int) -> NDArray[np.float64]:
    return np.array([[columns, 0, -0.5], [0, rows, -0.5], [0, 0, 1.0]])


def _in_its_light(
    laid: Floats, values: Floats, hides: Floats, outline: NDArray[np.float64], is_picture: bool
) -> Floats:
    """What is laid on an area as bright as it is there: by the plate around the edge of the area for what was
    filmed there, by how its brightness changes across the area for pictures."""
    rows, columns = hides.shape
    size = float(np.sqrt(max(float(np.prod(np.ptp(outline, axis=0))), 1.0)))
    inside = (hides > 0.02).astype(np.uint8)
    side = 2 * max(2, round(size * 0.06)) + 1
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (side, side))
    if is_picture:
        weight = inside.astype(np.float32)
    else:
        weight = (cv2.dilate(inside, disc) - cv2.erode(inside, disc)).astype(np.float32)
    sigma = max(2.0, WIDE * size)
    # Wide means of what is there and what is laid, where both are known.
    share = min(1.0, 16 / sigma)
    small = (max(8, round(columns * share)), max(8, round(rows * share)))

    def wide(picture: Floats) -> Floats:
        reduced = cv2.resize(picture, small, interpolation=cv2.INTER_AREA)
        return cv2.GaussianBlur(reduced, (0, 0), sigma * share).astype(np.float32)

    counted = np.maximum(wide(weight), 1e-4)[..., None]
    there = wide(values * weight[..., None]) / counted
    if is_picture:
        mean = (values * weight[..., None]).sum(axis=(0, 1)) / max(float(weight.sum()), 1)
        gain = there.mean(axis=2, keepdims=True) / max(float(mean.mean()), 1e-3)
    else:
        gain = there / np.maximum(wide(laid * weight[..., None]) / counted, 1e-3)
    gain = cv2.resize(np.clip(gain, 0.25, 4), (columns, rows), interpolation=cv2.INTER_LINEAR)
    if gain.ndim == 2:
        gain = gain[..., None]
    result: Floats = (laid * gain).astype(np.float32)
    return result


def picture_values(file: str) -> Floats | None:
    """Display values (rows, columns, 3) of a picture in the library."""
    light = picture_light(file)
    return None if light is None else linear_to_srgb(light).astype(np.float32)
