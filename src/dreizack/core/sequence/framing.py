"""A shot in a picture of another shape."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from ..document import Shot
from ..proof import TITLE_SAFE, title_box
from ..scene import BodyStore, bake, sight
from .document import Crop

Floats = NDArray[np.float32]

# Frames at which titles are looked at, and how small they become at most.
LOOKS, SMALLEST = 7, 0.25
# Shapes that differ by less than so much are the same: sizes are whole pixels.
SAME_SHAPE = 0.004
# Pixels that a whole picture has on a side at most, of which a part is taken.
LARGEST = 8192


def reframed(shot: Shot, width: int, height: int, rule: Literal["fit", "fill"]) -> Shot:
    """The shot for a picture ``width`` × ``height``: where its shape is another, all that was seen is seen
    and more beside it ("fit"), or what does not fit is cut off ("fill").

    A lens is described by the width of the sensor (Ray, Applied Photographic Optics, 2002, ch. 5): a narrower
    picture of the same sensor keeps the width, a wider one keeps the height on a wider sensor.
    """
    wider = (width / height) / shot.format.aspect
    if abs(wider - 1) < SAME_SHAPE:
        return shot
    made = shot.model_copy(deep=True)
    # As fine as before: how finely curves are cut goes by the pixels of a shot, not by those of an order.
    fine = shot.format
    size = {"width": fine.width, "height": even(fine.width * height / width)}
    if wider > 1:
        size = {"width": even(fine.height * width / height), "height": fine.height}
    made.format = fine.model_copy(update={side: min(8192, pixels) for side, pixels in size.items()})
    if (wider > 1) == (rule == "fit"):
        made.camera.sensor_width = min(120.0, max(2.0, shot.camera.sensor_width * wider))
    # Footage fills every picture: what is cut off at its sides must not be words.
    if wider < 1 and shot.camera.rig == "matched":
        _within_safe(made)
    return made


@dataclass(frozen=True)
class Part:
    """A part of a picture of a size: ``whole`` (width, height), and where a part of ``size`` begins in it."""

    whole: tuple[int, int]
    size: tuple[int, int]
    left: int
    top: int

    def of(self, picture: Floats) -> Floats:
        """That part of a picture (height, width, n)."""
        width, height = self.size
        return picture[self.top : self.top + height, self.left : self.left + width]


def part_of(aspect: float, crop: Crop, size: tuple[int, int]) -> Part:
    """What a crop takes of a picture of an ``aspect``, so that the part comes out at a ``size``."""
    width, height = size
    zoom = min(crop.zoom, LARGEST / max(width, height))
    high = max(height, width / aspect) * zoom
    whole = (max(width, even(high * aspect)), max(height, even(high)))
    left, top = round(crop.x * (whole[0] - width)), round(crop.y * (whole[1] - height))
    return Part(whole, size, left, top)


def _within_safe(shot: Shot) -> None:
    """Make titles that reach beyond the safe area smaller, about where they stand, until they do not while
    they are there."""
    for name, scale in _scales(shot.model_dump_json()).items():
        place = shot.things[name].place  # type: ignore[union-attr]
        place.scale = max(SMALLEST, place.scale * scale)


@lru_cache(maxsize=64)
def _scales(document: str) -> dict[str, float]:
    """By how much titles of a shot (as JSON) become smaller; those whose size is keyed are left alone."""
    shot = Shot.model_validate_json(document)
    frames = np.linspace(0, shot.format.frames - 1, LOOKS)
    baked, bodies = bake(shot, frames), BodyStore()
    found: dict[str, float] = {}
    for name, title in shot.titles.items():
        if not title.visibility.camera or f"/things/{name}/place/scale" in shot.moving:
            continue
        boxes = np.array([title_box(shot, baked, name, k, bodies) for k in range(LOOKS)])
        sights = [sight(shot, int(frame)) for frame in frames]
        stands = np.array(
            [eye.seen(baked.titles[name].matrix[k][None, :3, 3])[0, 0] for k, eye in enumerate(sights)]
        )
        stands = stands * 2 - 1
        there = np.isfinite(boxes).all(axis=1) & (np.abs(stands) < TITLE_SAFE)
        if not there.any():
            continue
        boxes, stands = boxes[there], stands[there]
        left = (TITLE_SAFE + stands) / np.maximum(stands - boxes[:, 0], 1e-6)
        right = (TITLE_SAFE - stands) / np.maximum(boxes[:, 2] - stands, 1e-6)
        scale = float(min(left.min(), right.min()))
        if scale < 1:
            found[name] = max(scale, SMALLEST)
    return found


def even(pixels: float) -> int:
    """The nearest even number of pixels."""
    return max(16, round(pixels / 2) * 2)


def in_shape(size: tuple[int, int], own: tuple[int, int]) -> tuple[int, int]:
    """A size whose longer side is that of ``size``, in the shape of ``own``.

    >>> in_shape((640, 360), (1080, 1920))
    (360, 640)
    """
    share = max(size) / max(own)
    return even(own[0] * share), even(own[1] * share)
