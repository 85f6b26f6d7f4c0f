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
Complex = NDArray[np.complex128]

# Over how many points a bend is looked at, and by which share of the angle it counts as a corner there: what
# is rounded over more points has turned less within them.
REACHES = ((6, 1.0), (12, 0.8))
# So many points beside a corner may belong to its rounding.
ROUNDED = 6
# How far points of a line may be off it, as a share of the tolerance.
STRAIGHT = 0.9
# Sine of the angle up to which both sides of a stroke run alongside.
PARALLEL = 0.2


def fitted(ring: Floats, corner: float, tolerance: float, bends: float | None = None) -> Floats:
    """Cubics (n, 4, 2) along a closed ring of points (m, 2), straying at most about ``tolerance`` from it,
    and where they bend no more than ``bends``."""
    bends = tolerance if bends is None else bends
    corners = _corners(ring, corner)
    plane = ring[:, 0] + 1j * ring[:, 1]
    curves: list[list[complex]] = []
    if not len(corners):
        tangents = _tangents(ring)
        places = [0, len(ring) // 2] if len(ring) > 8 else [0]
        for start, end in zip(places, [*places[1:], places[0]], strict=True):
            curves += _fit(
                _run(plane, start, end), complex(*tangents[start]), -complex(*tangents[end]), bends, 0
            )
    else:
        starts = corners.tolist()
        runs = [_run(plane, start, end) for start, end in zip(starts, [*starts[1:], starts[0]], strict=True)]
        lines = [_line(points, tolerance) for points in runs]
        ends = [_ends(complex(points[0]), lines[k - 1], lines[k], tolerance) for k, points in enumerate(runs)]
        for k, points in enumerate(runs):
            last, begun = ends[k]
            if last != begun:
                curves.append(_straight(last, begun))
            points[0], points[-1] = begun, ends[(k + 1) % len(ends)][0]
            if lines[k] is not None:
                curves.append(_straight(begun, complex(points[-1])))
            else:
                curves += _fit(points, _end_tangent(points), _end_tangent(points[::-1]), bends, 0)
    found = np.array(curves)
    return np.stack([found.real, found.imag], axis=2)


def _run(plane: Complex, start: int, end: int) -> Complex:
    """The points from one place of a ring to another, both included."""
    return plane[start : end + 1].copy() if end > start else np.concatenate([plane[start:], plane[: end + 1]])


Line = tuple[complex, complex]


def _line(points: Complex, tolerance: float) -> Line | None:
    """A place and the direction of the line a run of points lies on, if it does; corners, which pictures
    round, do not count."""
    ends = min(ROUNDED, len(points) // 4)
    inner = points[ends : len(points) - ends]
    if len(inner) < 4:
        return None
    middle = complex(inner.mean())
    # The axis of least moment: twice its angle is that of the summed squares.
    along = _unit(complex(np.sqrt(np.sum((inner - middle) ** 2) + 0j)))
    off = np.abs(((inner - middle) * along.conjugate()).imag)
    return (middle, along) if off.max() <= STRAIGHT * tolerance else None


def _straight(begin: complex, end: complex) -> list[complex]:
    return [begin + (end - begin) * share for share in (0, 1 / 3, 2 / 3, 1)]


def _ends(
    corner: complex, before: Line | None, after: Line | None, tolerance: float
) -> tuple[complex, complex]:
    """Where the run before a corner ends and the one after it begins: at one tip, or, where they are the two
    sides of a thin stroke, at both corners of its end."""
    if before is not None and after is not None:
        apart = abs(((after[0] - before[0]) * before[1].conjugate()).imag)
        level = abs((before[1].conjugate() * after[1]).imag)
        if level < PARALLEL and apart > tolerance:
            last, begun = (
                place + along * ((corner - place) * along.conjugate()).real
                for place, along in (before, after)
            )
            return last, begun
    tip = _tip(corner, before, after, tolerance)
    return tip, tip


def _tip(corner: complex, before: Line | None, after: Line | None, tolerance: float) -> complex:
    """A corner as sharp as the lines beside it make it."""
    if before is None and after is None:
        return corner
    if before is not None and after is not None:
        across = (before[1].conjugate() * after[1]).imag
        if abs(across) < 0.05:
            return corner
        tip = before[0] + before[1] * (((after[0] - before[0]).conjugate() * after[1]).imag / across)
    else:
        place, along = before or after or (corner, 1 + 0j)
        tip = place + along * ((corner - place) * along.conjugate()).real
    return tip if abs(tip - corner) <= 2 + 4 * tolerance else corner


def _corners(ring: Floats, degrees: float) -> NDArray[np.int64]:
    """Indices of the sharpest points of each bend that turns by more than ``degrees`` within a few points; at
    first those of narrow bends, so that the two corners at the end of a thin stroke stay two."""
    count = len(ring)
    found = np.zeros(count, bool)
    for wished, share in REACHES:
        reach = min(wished, max(1, count // 4))
        before, after = ring - np.roll(ring, reach, axis=0), np.roll(ring, -reach, axis=0) - ring
        across = before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]
        turn = np.abs(np.degrees(np.arctan2(across, np.sum(before * after, axis=1))))
        best = turn > degrees * share
        taken = found.copy()
        for shift in range(1, reach + 1):
            best &= (turn > np.roll(turn, shift)) & (turn >= np.roll(turn, -shift))
            taken |= np.roll(found, shift) | np.roll(found, -shift)
        found |= best & ~taken
    return np.flatnonzero(found)


def _tangents(ring: Floats) -> Floats:
    reach = min(3, max(1, len(ring) // 4))
    along = np.roll(ring, -reach, axis=0) - np.roll(ring, reach, axis=0)
    result: Floats = along / np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-12)
    return result


def _end_tangent(points: Complex) -> complex:
    return _unit(complex(points[min(3, len(points) - 1)] - points[0]))


def _fit(points: Complex, first: complex, last: complex, tolerance: float, depth: int) -> list[list[complex]]:
    """Cubics through both ends of an open run of points (in the complex plane)."""
    if len(points) == 2 or depth > 24:
        a, d = complex(points[0]), complex(points[-1])
        third = abs(d - a) / 3
        return [[a, a + first * third, d + last * third, d]]
    length = np.concatenate([[0.0], np.cumsum(np.abs(np.diff(points)))])
    t = length / max(length[-1], 1e-12)
    for _ in range(4):
        curve = _least_squares(points, t, first, last)
        away = _at(curve, t) - points
        far = np.abs(away)
        worst = int(np.argmax(far[1:-1])) + 1
        if far[worst] <= tolerance:
            return [curve]
        if far[worst] > 6 * tolerance:
            break
        t = _improved(curve, away, t)
    worst = min(max(worst, 1), len(points) - 2)
    reach = min(3, worst, len(points) - 1 - worst)
    middle = _unit(complex(points[worst + reach] - points[worst - reach]))
    return _fit(points[: worst + 1], first, -middle, tolerance, depth + 1) + _fit(
        points[worst:], middle, last, tolerance, depth + 1
    )


def _least_squares(points: Complex, t: Floats, first: complex, last: complex) -> list[complex]:
    a, d = complex(points[0]), complex(points[-1])
    u = 1 - t
    b1, b2 = 3 * t * u * u, 3 * t * t * u
    rest = points - a - (d - a) * (b2 + t * t * t)
    across = _dot(first, last) * float(b1 @ b2)
    m00, m11 = float(b1 @ b1), float(b2 @ b2)
    v0, v1 = _dot(first, complex(b1 @ rest)), _dot(last, complex(b2 @ rest))
    det = m00 * m11 - across**2
    chord = abs(d - a)
    alpha, beta = (
        ((v0 * m11 - v1 * across) / det, (m00 * v1 - across * v0) / det) if abs(det) > 1e-12 else (0.0, 0.0)
    )
    # Handles that are senseless fall back to a third of the chord.
    low, high = 1e-3 * chord, 3 * chord + 1e-9
    alpha, beta = (x if low < x < high else chord / 3 for x in (alpha, beta))
    return [a, a + alpha * first, d + beta * last, d]


def _at(c: list[complex], t: Floats) -> Complex:
    one, two, three = _powers(c)
    return np.asarray(((three * t + two) * t + one) * t + c[0], np.complex128)


def _improved(c: list[complex], away: Complex, t: Floats) -> Floats:
    """One Newton step towards the nearest parameter of each point, ``away`` from which the curve is."""
    one, two, three = _powers(c)
    slope = (3 * three * t + 2 * two) * t + one
    bend = 6 * three * t + 2 * two
    down = slope.real**2 + slope.imag**2 + away.real * bend.real + away.imag * bend.imag
    step = (away.real * slope.real + away.imag * slope.imag) / np.where(np.abs(down) < 1e-12, np.inf, down)
    return np.clip(t - step, 0, 1)


def _powers(c: list[complex]) -> tuple[complex, complex, complex]:
    """Coefficients of t, t² and t³."""
    return 3 * (c[1] - c[0]), 3 * (c[0] - 2 * c[1] + c[2]), c[3] - c[0] + 3 * (c[1] - c[2])


def _dot(a: complex, b: complex) -> float:
    return a.real * b.real + a.imag * b.imag


def _unit(v: complex) -> complex:
    return v / max(abs(v), 1e-12)
