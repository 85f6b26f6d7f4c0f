"""Closed polylines to smooth cubics with corners.

Corners are where the direction over a few points before and after turns sharply. Between them cubics
are fitted by least squares with the end tangents held, parameters improved by Newton steps, and
split where they stray (Schneider, An Algorithm for Automatically Fitting Digitized Curves, in
Graphics Gems, 1990).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

REACH = 5
MOST_SPLITS = 400


def fitted(ring: Floats, corner: float, tolerance: float) -> Floats:
    """Cubics (n, 4, 2) along a closed ring of points (m, 2), straying at most about ``tolerance`` from it."""
    corners = _corners(ring, corner)
    if not len(corners):
        corners = np.array([0, len(ring) // 2]) if len(ring) > 8 else np.array([0])
        smooth = True
    else:
        smooth = False
    curves: list[Floats] = []
    tangents = _tangents(ring)
    for k, start in enumerate(corners.tolist()):
        end = int(corners[(k + 1) % len(corners)])
        index = np.arange(start, end + 1) if end > start else np.concatenate([np.arange(start, len(ring)), np.arange(end + 1)])
        points = ring[index]
        if smooth:
            first, last = tangents[start], -tangents[end]
        else:
            first, last = _end_tangent(points), _end_tangent(points[::-1])
        curves += _fit(points, first, last, tolerance, 0)
    return np.array(curves)


def _corners(ring: Floats, degrees: float) -> NDArray[np.int64]:
    """Indices of the sharpest points of each bend that turns by more than ``degrees`` within a few points."""
    count = len(ring)
    reach = min(REACH, max(1, count // 4))
    before, after = ring - np.roll(ring, reach, axis=0), np.roll(ring, -reach, axis=0) - ring
    turn = np.abs(np.degrees(np.arctan2(before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0], np.sum(before * after, axis=1))))
    best = np.ones(count, bool)
    for shift in range(1, reach + 1):
        best &= (turn > np.roll(turn, shift)) & (turn >= np.roll(turn, -shift))
    return np.flatnonzero(best & (turn > degrees))


def _tangents(ring: Floats) -> Floats:
    reach = min(3, max(1, len(ring) // 4))
    along = np.roll(ring, -reach, axis=0) - np.roll(ring, reach, axis=0)
    result: Floats = along / np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-12)
    return result


def _end_tangent(points: Floats) -> Floats:
    away = points[min(3, len(points) - 1)] - points[0]
    result: Floats = away / max(float(np.linalg.norm(away)), 1e-12)
    return result


def _fit(points: Floats, first: Floats, last: Floats, tolerance: float, depth: int) -> list[Floats]:
    """Cubics through both ends of an open run of points."""
    if len(points) == 2 or depth > 24:
        third = np.linalg.norm(points[-1] - points[0]) / 3
        return [np.array([points[0], points[0] + first * third, points[-1] + last * third, points[-1]])]
    length = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))])
    t = length / max(length[-1], 1e-12)
    for _ in range(4):
        curve = _least_squares(points, t, first, last)
        away = np.linalg.norm(_at(curve, t) - points, axis=1)
        worst = int(np.argmax(away[1:-1])) + 1
        if away[worst] <= tolerance:
            return [curve]
        if away[worst] > 6 * tolerance:
            break
        t = _improved(curve, points, t)
    worst = min(max(worst, 1), len(points) - 2)
    reach = min(3, worst, len(points) - 1 - worst)
    across = points[worst + reach] - points[worst - reach]
    middle = across / max(float(np.linalg.norm(across)), 1e-12)
    return _fit(points[: worst + 1], first, -middle, tolerance, depth + 1) + _fit(points[worst:], middle, last, tolerance, depth + 1)


def _least_squares(points: Floats, t: Floats, first: Floats, last: Floats) -> Floats:
    a, d = points[0], points[-1]
    b0, b1, b2, b3 = (1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t**2 * (1 - t), t**3
    left, right = b1[:, None] * first, b2[:, None] * last
    rest = points - (b0 + b1)[:, None] * a - (b2 + b3)[:, None] * d
    m = np.array([[np.sum(left * left), np.sum(left * right)], [np.sum(left * right), np.sum(right * right)]])
    v = np.array([np.sum(left * rest), np.sum(right * rest)])
    det = m[0, 0] * m[1, 1] - m[0, 1] ** 2
    chord = float(np.linalg.norm(d - a))
    if abs(det) > 1e-12:
        alpha, beta = (v[0] * m[1, 1] - v[1] * m[0, 1]) / det, (m[0, 0] * v[1] - m[1, 0] * v[0]) / det
    else:
        alpha = beta = 0.0
    # Handles that are senseless fall back to a third of the chord.
    low, high = 1e-3 * chord, 3 * chord + 1e-9
    alpha, beta = (x if low < x < high else chord / 3 for x in (float(alpha), float(beta)))
    return np.array([a, a + alpha * first, d + beta * last, d])


def _at(c: Floats, t: Floats) -> Floats:
    u = 1 - t
    result: Floats = (u**3)[:, None] * c[0] + (3 * u**2 * t)[:, None] * c[1] + (3 * u * t**2)[:, None] * c[2] + (t**3)[:, None] * c[3]
    return result


def _improved(c: Floats, points: Floats, t: Floats) -> Floats:
    """One Newton step towards the nearest parameter of each point."""
    d1, d2 = 3 * np.diff(c, axis=0), 6 * np.diff(c, 2, axis=0)
    u = 1 - t
    slope = (u**2)[:, None] * d1[0] + (2 * u * t)[:, None] * d1[1] + (t**2)[:, None] * d1[2]
    bend = u[:, None] * d2[0] + t[:, None] * d2[1]
    away = _at(c, t) - points
    down = np.sum(slope * slope, axis=1) + np.sum(away * bend, axis=1)
    step = np.sum(away * slope, axis=1) / np.where(np.abs(down) < 1e-12, 1, down)
    return np.clip(np.where(np.abs(down) < 1e-12, t, t - step), 0, 1)
