"""Letters on lines: straight, along arcs and drawn paths, and posed one by one."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from fontTools.pens.basePen import BasePen
from fontTools.svgLib.path import parse_path
from numpy.typing import NDArray

from ..document import Path, Pose, Setting, Turn, Vector
from .setting import Layout

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

CURVE_STEPS = 24
MAX_STEPS = 20_000


def letter_matrices(layout: Layout, setting: Setting, path: Path, centres: Floats, camera: Floats | None = None) -> Floats:
    """Object matrices (letters, 4, 4) of set letters in the space of their title.

    ``centres`` (letters, 2) are the middles of their ink in metres from their origin; ``camera`` (3,)
    is where the camera stands in the title's space, for letters that face it.
    """
    numbers = {"line": layout.line, "word": layout.word, "letter": layout.sources}
    return posed(_along(layout, path, camera), centres, setting.poses, numbers)


def posed(matrices: Floats, centres: Floats, poses: dict[str, Pose], numbers: dict[str, Ints]) -> Floats:
    """Matrices (letters, 4, 4) after what lines, words and letters do by themselves, by their ``numbers`` (letters,)."""
    middles = _at(matrices, centres)
    for kind in ("line", "word", "letter"):
        for index in np.unique(numbers[kind]).tolist():
            pose = poses.get(f"{kind}-{index}")
            if pose is None:
                continue
            which = numbers[kind] == index
            if kind == "letter":
                # Poses of a letter happen in its own frame, wherever the line has taken it.
                for i in np.flatnonzero(which):
                    matrices[i] = matrices[i] @ _pose(np.array([*(centres[i]), 0.0]), pose)
            else:
                ends = middles[which]
                matrices[which] = _pose((ends.min(axis=0) + ends.max(axis=0)) / 2, pose) @ matrices[which]
                middles = _at(matrices, centres)
    return matrices


def _at(matrices: Floats, centres: Floats) -> Floats:
    return matrices[:, :3, 0] * centres[:, :1] + matrices[:, :3, 1] * centres[:, 1:] + matrices[:, :3, 3]


def _pose(centre: Floats, pose: Pose) -> Floats:
    """The matrix of a pose about a point: shear, stretch, then what :func:`about` does."""
    skew = np.eye(4)
    skew[0, :2] = pose.stretch, pose.stretch * np.tan(np.radians(pose.shear))
    skew[:3, 3] = centre - skew[:3, :3] @ centre
    return about(centre, pose.move, pose.turn, pose.scale) @ skew


def about(centre: Floats, move: Vector, turn: Turn, scale: float) -> Floats:
    """A matrix (4, 4) that scales, turns and moves about a point (3,)."""
    matrix = np.eye(4)
    matrix[:3, :3] = scale * _turn(turn.x, turn.y, turn.z)
    matrix[:3, 3] = centre - matrix[:3, :3] @ centre + [move.x, move.y, move.z]
    return matrix


def _turn(x: float, y: float, z: float) -> Floats:
    """Rotation x, then y, then z about the fixed axes, degrees."""
    (cx, cy, cz), (sx, sy, sz) = np.cos(np.radians([x, y, z])), np.sin(np.radians([x, y, z]))
    about_x = np.array([[1, 0, 0], [0, cx, -sx], [0, sx, cx]])
    about_y = np.array([[cy, 0, sy], [0, 1, 0], [-sy, 0, cy]])
    about_z = np.array([[cz, -sz, 0], [sz, cz, 0], [0, 0, 1]])
    turned: Floats = about_z @ about_y @ about_x
    return turned


def _along(layout: Layout, path: Path, camera: Floats | None) -> Floats:
    count = len(layout.places)
    matrices = np.tile(np.eye(4), (count, 1, 1))
    if path.kind == "none" or not count:
        matrices[:, :2, 3] = layout.places
        return matrices
    run = layout.middle + path.offset
    if path.kind == "arc":
        if path.sweep > 0:
            run = _swept(layout, path) + path.offset
        point, angle = _arc(run, path.radius if abs(path.radius) > 1e-3 else 1e-3)
    else:
        point, angle = curve(path.drawn).at(run)
    # A letter's own frame: its middle on the line.
    away = np.column_stack([layout.places[:, 0] - layout.middle, layout.places[:, 1]])
    if path.stance == "bulging":
        # The line lies on the floor; what was up in it comes towards the viewer.
        yaw = {"outward": -angle, "parallel": np.zeros(count), "camera": np.zeros(count)}[path.facing]
        if path.facing == "camera" and camera is not None:
            yaw = np.degrees(np.arctan2(camera[0] - point[:, 0], camera[2] - point[:, 1]))
        c, s = np.cos(np.radians(yaw)), np.sin(np.radians(yaw))
        matrices[:, 0, 0], matrices[:, 0, 2], matrices[:, 2, 0], matrices[:, 2, 2] = c, s, -s, c
        matrices[:, :3, 3] = np.column_stack([point[:, 0], np.zeros(count), point[:, 1]])
        matrices[:, :3, 3] += matrices[:, :3, 0] * away[:, :1] + matrices[:, :3, 1] * away[:, 1:]
        return matrices
    c, s = np.cos(np.radians(angle)), np.sin(np.radians(angle))
    matrices[:, 0, 0], matrices[:, 0, 1], matrices[:, 1, 0], matrices[:, 1, 1] = c, -s, s, c
    matrices[:, :2, 3] = point + np.column_stack([c, s]) * away[:, :1] + np.column_stack([-s, c]) * away[:, 1:]
    if path.stance == "lying":
        floor = np.eye(4)
        floor[1:3, 1:3] = [[0, 1], [-1, 0]]
        matrices = floor @ matrices
    return matrices


def _swept(layout: Layout, path: Path) -> Floats:
    """Middles spread evenly, in proportion to their own spacing, over the sweep; the ends stand at its ends."""
    run = layout.middle.copy()
    length = abs(path.radius) * np.radians(path.sweep)
    for line in np.unique(layout.line):
        which = layout.line == line
        low, high = run[which].min(), run[which].max()
        run[which] = (run[which] - (low + high) / 2) * (length / (high - low) if high > low else 0.0)
    return run


def _arc(run: Floats, radius: float) -> tuple[Floats, Floats]:
    """Points (n, 2) and angles in degrees at lengths along an arc whose crown is the origin."""
    turn = run / radius
    return np.column_stack([radius * np.sin(turn), radius * np.cos(turn) - radius]), -np.degrees(turn)


@dataclass(frozen=True)
class Curve:
    """A polyline by its arc length, its middle at 0; it runs on straight beyond its ends."""

    points: Floats
    run: Floats

    def at(self, run: Floats) -> tuple[Floats, Floats]:
        """Points (n, 2) and the direction of travel in degrees at lengths ``run``."""
        side = np.diff(self.points, axis=0)
        angles = np.unwrap(np.arctan2(side[:, 1], side[:, 0]))
        middles = (self.run[1:] + self.run[:-1]) / 2
        angle = np.interp(run, middles, angles)
        point = np.column_stack([np.interp(run, self.run, self.points[:, axis]) for axis in (0, 1)])
        beyond = run - np.clip(run, self.run[0], self.run[-1])
        point += beyond[:, None] * np.column_stack([np.cos(angle), np.sin(angle)])
        return point, np.degrees(angle)


def curve(data: str) -> Curve:
    """A drawn line from SVG path data (SVG 2, chapter 9), y up; ValueError for what cannot be read."""
    pen = _Collector()
    try:
        parse_path(data, pen)
    except Exception as why:
        raise ValueError("the drawn line is no path data; write it like M0 0C1 1 2 1 3 0") from why
    points = np.array(pen.points, dtype=np.float64).reshape(-1, 2)
    if len(points) and not np.isfinite(points).all():
        raise ValueError("the drawn line has coordinates that are no numbers")
    keep = np.ones(len(points), bool)
    keep[1:] = np.linalg.norm(np.diff(points, axis=0), axis=1) > 1e-9
    points = points[keep]
    if len(points) < 2:
        points = np.array([[-1.0, 0.0], [1.0, 0.0]])
    run = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))])
    return Curve(points, run - run[-1] / 2)


class _Collector(BasePen):  # type: ignore[misc]
    """Flattens a path into one polyline."""

    def __init__(self) -> None:
        super().__init__(None)
        self.points: list[tuple[float, float]] = []

    def _moveTo(self, at: tuple[float, float]) -> None:  # noqa: N802
        self._lineTo(at)

    def _lineTo(self, at: tuple[float, float]) -> None:  # noqa: N802
        if len(self.points) > MAX_STEPS:
            raise ValueError("too long")
        self.points.append((float(at[0]), float(at[1])))

    def _curveToOne(self, b: tuple[float, float], c: tuple[float, float], d: tuple[float, float]) -> None:  # noqa: N802
        a = np.array(self.points[-1])
        t = np.linspace(0, 1, CURVE_STEPS + 1)[1:, None]
        places = (1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * np.array(b) + 3 * (1 - t) * t**2 * np.array(c) + t**3 * np.array(d)
        for place in places.tolist():
            self._lineTo((place[0], place[1]))

    def _closePath(self) -> None:  # noqa: N802
        if self.points:
            self._lineTo(self.points[0])
