"""A camera that stands, from lines along edges that run two ways at right angles."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .alignment import Contradicts
from .bundle import Bundle
from .solve import Solve
from .tracks import Tracks

Floats = NDArray[np.float64]

# How high a camera is held that tells nothing else of its height, in metres.
EYE = 1.6
# Of a direction, the share that runs down the picture, from which on it counts as upright.
STEEP = 0.75
# So far away, in metres, is what lies above the horizon.
FAR = 60.0


def vanishing_point(lines: Floats) -> Floats:
    """Where lines (n, 2, 2), each by two places, meet: homogeneous (3,), least squares (Hartley & Zisserman,
    Multiple View Geometry, 2004, 8.6).

    >>> lines = np.array([[[0, 0], [1, 1]], [[0, 4], [1, 3]]], float)
    >>> meet = vanishing_point(lines)
    >>> (meet[:2] / meet[2]).round(6).tolist()
    [2.0, 2.0]
    """
    ends = np.concatenate([lines, np.ones((*lines.shape[:2], 1))], axis=2)
    through = np.cross(ends[:, 0], ends[:, 1])
    through /= np.linalg.norm(through[:, :2], axis=1, keepdims=True)
    found: Floats = np.linalg.svd(through)[2][2]
    return found


def camera_from_edges(
    along: Floats,
    other: Floats,
    size: tuple[int, int],
    upright: bool | None = None,
    focal: float | None = None,
) -> tuple[Floats, float]:
    """Rotation (3, 3) from the room to the camera (x right, y down, z forward) and focal length in pixels of
    a camera that sees level edges ``along`` x and ``other`` edges, level and at right angles to them, or
    ``upright`` (None: as they look to a camera that is held about level); each (n, 2, 2), in pixels, at least
    two.

    Two directions at right angles meet the picture where their rays through the eye are at right angles,
    which tells the focal length (Caprile & Torre, Using vanishing points for camera calibration, 1990,
    section 3). Contradicts where they do not.
    """
    middle = np.array(size) / 2
    # In such lengths numbers are about one.
    unit = float(max(size))
    first, second = (vanishing_point((lines - middle) / unit) for lines in (along, other))
    if focal is None:
        square = -float(first[:2] @ second[:2])
        depth = float(first[2] * second[2])
        if abs(depth) < 1e-6 or not 0.04 < square / depth < 400:
            raise Contradicts(
                "these edges do not tell the lens: one of the two ways is seen from straight on; "
                "tell the focal length, or pick edges that run away from the camera"
            )
        focal = float(np.sqrt(square / depth)) * unit
    ways = []
    for point in (first, second):
        way = np.array([point[0], point[1], point[2] * focal / unit])
        ways.append(way / np.linalg.norm(way))
    x, way = ways
    if abs(float(x @ way)) > 0.2:
        raise Contradicts("these edges are not at right angles to each other; pick others, or another lens")
    # Edges along x run to the right.
    x = x if x[0] >= 0 else -x
    if upright is None:
        upright = abs(float(way[1])) > STEEP
    if upright:
        up = way if way[1] < 0 else -way
    else:
        up = np.cross(x, way)
        up = up if up[1] < 0 else -up
    up = up - x * (x @ up)
    up /= np.linalg.norm(up)
    if up[1] > -0.05:
        raise Contradicts("the camera would look straight down or up; pick a rectangle on the ground instead")
    # The room's axes as the camera sees them, in columns.
    rotation: Floats = np.stack([x, up, np.cross(x, up)], axis=1)
    return rotation, focal


def missed(lines: Floats, way: Floats, rotation: Floats, focal: float, size: tuple[int, int]) -> Floats:
    """Pixels (n,) by which ends of lines (n, 2, 2) miss edges through their middles that run along a ``way``
    (3,) of the room."""
    x, y, z = rotation @ way
    middle = lines.mean(axis=1) - np.array(size) / 2
    toward = np.stack([x * focal - z * middle[:, 0], y * focal - z * middle[:, 1]], axis=1)
    toward /= np.maximum(np.linalg.norm(toward, axis=1, keepdims=True), 1e-9)
    half = (lines[:, 1] - lines[:, 0]) / 2
    found: Floats = np.abs(half[:, 0] * toward[:, 1] - half[:, 1] * toward[:, 0])
    return found


def solve_of_edges(
    along: Floats,
    other: Floats,
    size: tuple[int, int],
    upright: bool | None,
    focal: float | None,
    frames: int,
) -> Solve:
    """The same as a solve of so many frames, over the ground at the height of an eye; its points are where
    the ends of the edges would be on the ground, or far away."""
    rotation, focal = camera_from_edges(along, other, size, upright, focal)
    places = np.concatenate([along.reshape(-1, 2), other.reshape(-1, 2)])
    rays = np.column_stack([(places - np.array(size) / 2) / focal, np.ones(len(places))]) @ rotation
    falls = rays[:, 1] < -1e-3
    centre = np.array([0.0, EYE, 0.0])
    points = centre + rays * np.where(falls, -EYE / np.where(falls, rays[:, 1], -1.0), FAR)[:, None]
    bundle = Bundle(np.tile(rotation, (frames, 1, 1)), np.tile(centre, (frames, 1)), points, focal, 0.0, size)
    count = len(points)
    tracks = Tracks(
        np.tile(np.arange(count), frames), np.repeat(np.arange(frames), count), np.tile(places, (frames, 1))
    )
    x, y, z = np.eye(3)
    off = [missed(lines, way, rotation, focal, size) for lines, way in ((along, x), (other, y), (other, z))]
    # The other edges run along the way that they miss least.
    other_off = min(off[1:], key=lambda one: float(one.mean()))
    left = float(np.sqrt((np.concatenate([off[0], other_off]) ** 2).mean()))
    return Solve("still", bundle, tracks, np.full(frames, left), "edges")
