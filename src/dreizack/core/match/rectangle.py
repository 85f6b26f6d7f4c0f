"""A camera that stands, from a rectangle of known sides that it sees on the ground."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from .alignment import Contradicts
from .bundle import Bundle
from .solve import Solve
from .tracks import Tracks

Floats = NDArray[np.float64]


def camera_from_rectangle(
    corners: Floats, size: tuple[int, int], width: float, depth: float, focal: float | None = None
) -> tuple[Floats, Floats, float]:
    """Rotation (3, 3) from the room to the camera (x right, y down, z forward), centre (3,) and focal length
    in pixels of a camera that sees a rectangle on the ground at ``corners`` (4, 2), in pixels: the origin,
    then along x (``width`` metres), behind that along -z (``depth`` metres), and behind the origin.

    The plane's map to the picture holds two axes of a rotation: that they are of one length and at right
    angles tells the focal length (Zhang, A Flexible New Technique for Camera Calibration, 2000, 2.3).
    Contradicts where they do not, or the camera would be below the ground.
    """
    plane = np.array([[0, 0], [width, 0], [width, depth], [0, depth]], np.float64)
    middle = corners - np.array(size) / 2
    homography = cv2.getPerspectiveTransform(plane.astype(np.float32), middle.astype(np.float32)).astype(
        np.float64
    )
    if not np.isfinite(homography).all() or abs(np.linalg.det(homography)) < 1e-9:
        raise Contradicts("these four corners are no rectangle; pick them one after the other, going round")
    a, b = homography[:, 0], homography[:, 1]
    if focal is None:
        flat = np.array([a[0] * b[0] + a[1] * b[1], a[0] ** 2 + a[1] ** 2 - b[0] ** 2 - b[1] ** 2])
        deep = np.array([a[2] * b[2], a[2] ** 2 - b[2] ** 2])
        inverse = -float(flat @ deep) / max(float(flat @ flat), 1e-30)
        if inverse <= 0 or not 0.2 * size[0] < inverse**-0.5 < 20 * size[0]:
            raise Contradicts(
                "these corners do not tell the lens: seen from straight on they cannot; tell the focal length"
            )
        focal = float(inverse**-0.5)
    columns = np.stack([homography[0] / focal, homography[1] / focal, homography[2]])
    columns /= (np.linalg.norm(columns[:, 0]) + np.linalg.norm(columns[:, 1])) / 2
    if columns[2, 2] < 0:
        columns = -columns
    across, behind, shift = columns.T
    u, _, vt = np.linalg.svd(np.stack([across, np.cross(across, behind), -behind], axis=1))
    rotation: Floats = u @ np.diag([1, 1, np.linalg.det(u @ vt)]) @ vt
    centre: Floats = -rotation.T @ shift
    if centre[1] <= 0:
        raise Contradicts(
            "the camera would be below the ground: pick the nearer edge from left to right, then the far one "
            "back"
        )
    return rotation, centre, focal


def solve_of_rectangle(
    corners: Floats, size: tuple[int, int], width: float, depth: float, focal: float | None, frames: int
) -> Solve:
    """The same as a solve of so many frames; its points are the corners."""
    rotation, centre, focal = camera_from_rectangle(corners, size, width, depth, focal)
    points = np.array([[0, 0, 0], [width, 0, 0], [width, 0, -depth], [0, 0, -depth]], np.float64)
    bundle = Bundle(np.tile(rotation, (frames, 1, 1)), np.tile(centre, (frames, 1)), points, focal, 0.0, size)
    tracks = Tracks(
        np.tile(np.arange(4), frames), np.repeat(np.arange(frames), 4), np.tile(corners, (frames, 1))
    )
    left = float(np.sqrt((bundle.residuals(tracks) ** 2).sum(axis=1).mean()))
    return Solve("still", bundle, tracks, np.full(frames, left), "rectangle")


def rectangle_grid(
    corners: Floats, size: tuple[int, int], width: float, depth: float, focal: float | None, cells: int
) -> Floats:
    """Ends (lines, 2, 2), in pixels, of the lines of a grid of so many cells a side on the rectangle, as the
    camera of :func:`camera_from_rectangle` sees it; where the corners are no rectangle for any camera of that
    focal length, the grid lies beside them."""
    rotation, centre, length = camera_from_rectangle(corners, size, width, depth, focal)
    share = np.linspace(0, 1, cells + 1)
    ends = np.array([[0.0, 1.0]]).repeat(cells + 1, axis=0)
    level = np.repeat(share[:, None], 2, axis=1)
    across = np.stack([ends * width, np.zeros_like(ends), -level * depth], axis=2)
    behind = np.stack([level * width, np.zeros_like(ends), -ends * depth], axis=2)
    seen = (np.concatenate([across, behind]) - centre) @ rotation.T
    grid: Floats = seen[..., :2] / seen[..., 2:] * length + np.array(size) / 2
    return grid
