"""Rays through the lens: an opening with blades, focus, and a camera that moves while the shutter is open."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...scene import FrameState
from ..kernel.engine import arrays, engine
from .sampler import Sampler, mixed

mi, dr = engine(), arrays()
Floats = NDArray[np.float64]
Numbers = NDArray[np.uint32]
# One for all, or one each.
Counts = int | NDArray[np.int32]


@dataclass(frozen=True)
class Window:
    """A part of a picture of ``width`` × ``height`` pixels."""

    left: int
    top: int
    columns: int
    rows: int

    @property
    def slices(self) -> tuple[slice, slice]:
        """Rows and columns it takes of a picture's array."""
        return slice(self.top, self.top + self.rows), slice(self.left, self.left + self.columns)

    def pixels(self, width: int) -> Numbers:
        """Numbers of its pixels in a picture so wide, row by row from the top left."""
        down, across = (
            np.arange(self.top, self.top + self.rows),
            np.arange(self.left, self.left + self.columns),
        )
        return (down[:, None] * width + across).ravel().astype(np.uint32)


def camera_rays(
    state: FrameState, size: tuple[int, int], pixels: Numbers, samples: Counts, first: Counts
) -> tuple[Any, Sampler]:
    """Rays of the samples ``first`` … of pixels by their numbers, pixel by pixel, and the sampler each goes
    on with; of each pixel as many ``samples``, or as many as an array (n,) says.

    Thin lens: Cook, Porter & Carpenter, Distributed Ray Tracing, 1984. All that changes from frame to frame
    is handed over as data, so that every frame is traced by the same compiled kernel.
    """
    width, height = size
    count = np.broadcast_to(np.asarray(samples, np.uint32), len(pixels))
    each = mi.UInt32(np.repeat(np.arange(len(pixels), dtype=np.uint32), count))
    number = dr.arange(mi.UInt32, dr.width(each))
    before = np.asarray(first, np.int64) - (np.cumsum(count, dtype=np.int64) - count)
    place = number + mi.UInt32(dr.gather(mi.Int32, mi.Int32(before.astype(np.int32)), each))
    pixel = dr.gather(mi.UInt32, mi.UInt32(pixels), each)
    columns = dr.opaque(mi.UInt32, width)
    x, y = pixel % columns, pixel // columns
    sampler = Sampler(mixed(x + y * 65537 + 1), place)
    within, through = sampler.two(), sampler.two()
    when = sampler.one()

    opens, closes = state.pose, state.closing or state.pose
    half = [np.tan(np.radians(pose.angle) / 2) for pose in (opens, closes)]
    data = np.concatenate(
        [
            *(
                np.concatenate([p.axes.ravel(), p.position, [h]])
                for p, h in zip((opens, closes), half, strict=True)
            )
        ]
    )
    a, b = (_camera(data[k * 13 : (k + 1) * 13]) for k in (0, 1))
    right, up, forward, at, tangent = (p + (q - p) * when for p, q in zip(a, b, strict=True))
    across = (
        (2 * (mi.Float(x) + within.x) - dr.opaque(mi.Float, width)) / dr.opaque(mi.Float, height) * tangent
    )
    along = (1 - 2 * (mi.Float(y) + within.y) / dr.opaque(mi.Float, height)) * tangent
    direction = right * across + up * along + forward
    if state.lens.radius > 0:
        opening = _opening(through, state.lens.blades, state.lens.turn) * dr.opaque(
            mi.Float, state.lens.radius
        )
        start = right * opening.x + up * opening.y
        # All rays of a pixel meet in the plane that is in focus.
        direction = direction * dr.opaque(mi.Float, state.lens.focus) - start
        at = at + start
    ray = mi.Ray3f(mi.Point3f(at), dr.normalize(mi.Vector3f(direction)))
    return ray, sampler


def pixel_cone_spread(state: FrameState, size: tuple[int, int]) -> Any:
    """By how many metres a metre the rays of a pixel drift apart."""
    return dr.opaque(mi.Float, float(2 * np.tan(np.radians(state.pose.angle) / 2) / size[1]))


def _camera(data: Floats) -> tuple[Any, Any, Any, Any, Any]:
    values = [dr.opaque(mi.Float, float(v)) for v in data]
    right, up, forward, at = (mi.Vector3f(*values[k : k + 3]) for k in (0, 3, 6, 9))
    return right, up, forward, at, values[12]


def _opening(u: Any, blades: int, turn: float) -> Any:
    """Points on the opening, a disc or a regular polygon of radius 1 with its area kept."""
    if blades < 3:
        return mi.warp.square_to_uniform_disk_concentric(u)
    count = dr.opaque(mi.Float, blades)
    scaled = u.x * count
    sector = dr.floor(scaled)
    # Uniform on the triangle between the middle and two corners (Turk, Generating Random Points in Triangles,
    # 1990).
    root, share = dr.sqrt(scaled - sector), u.y
    first = sector * dr.two_pi / count + dr.opaque(mi.Float, float(np.radians(turn)))
    second = first + dr.two_pi / count
    size = dr.opaque(mi.Float, float(np.sqrt(np.pi / (blades / 2 * np.sin(2 * np.pi / blades)))))
    return mi.Point2f(
        size * root * (dr.cos(first) * (1 - share) + dr.cos(second) * share),
        size * root * (dr.sin(first) * (1 - share) + dr.sin(second) * share),
    )
