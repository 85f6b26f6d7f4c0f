"""Where shadows fall on the ground."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# Side of the grid a shadow is drawn on, and how far from its outline a simpler one may stray, in steps of
# that.
GRID, STRAY = 640, 0.8
# A shadow that is longer than so many metres is cut off there.
FURTHEST = 60.0


def footprint(
    points: Floats, triangles: Ints, ground: float, light: Floats, sun: bool, aim: Floats
) -> list[Floats]:
    """Outlines (n, 2), x and z, of the shadow that a body throws onto the plane y = ``ground``: filled by the
    even-odd rule.

    ``points`` (n, 3), ``triangles`` (m, 3); seen from ``light`` (3,), or along the way from there to ``aim``
    from a sun. Central projection onto a plane (Blinn, Me and My (Fake) Shadow, 1988), of every triangle.
    """
    way = np.broadcast_to(aim - light, points.shape) if sun else points - light
    falls = (way[:, 1] < -1e-6) & (points[:, 1] >= ground - 1e-6)
    share = np.where(falls, (ground - points[:, 1]) / np.where(falls, way[:, 1], -1.0), 0)
    flat = points[:, [0, 2]] + way[:, [0, 2]] * share[:, None]
    falls &= np.hypot(*(flat - points[:, [0, 2]]).T) < FURTHEST
    whole = triangles[falls[triangles].all(axis=1)]
    if not len(whole):
        return []
    used = flat[whole]
    low, high = used.min(axis=(0, 1)), used.max(axis=(0, 1))
    step = max(float((high - low).max()) / GRID, 1e-6)
    fine = np.rint((used - low) / step * 16).astype(np.int32) + 32
    mask = np.zeros((int((high - low)[1] / step) + 5, int((high - low)[0] / step) + 5), np.uint8)
    # One by one: filled together, triangles that overlap would cancel out.
    for triangle in fine:
        cv2.fillConvexPoly(mask, triangle, 255, cv2.LINE_8, 4)
    found, _ = cv2.findContours(mask, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    rings = [cv2.approxPolyDP(ring, STRAY, True)[:, 0] for ring in found]
    return [(ring - 2.0) * step + low for ring in rings if len(ring) > 2]
