"""Letters on lines: straight, along arcs and drawn paths, and posed one by one."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from fontTools.pens.basePen import BasePen
from fontTools.svgLib.path import parse_path
from numpy.typing import NDArray

from ..affine import about, applied, composed, linear_map
from ..document import Path

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

CURVE_STEPS = 24
MAX_STEPS = 20_000


@dataclass(frozen=True)
class Course:
    """The line words run along, over frames: ``radius``, ``sweep``, ``offset`` (frames,); see the document's
    Path."""

    path: Path
    radius: Floats
    sweep: Floats
    offset: Floats


@dataclass(frozen=True)
class Poses:
    """What some lines, words or letters do by themselves: ``numbers`` (poses,) of which, and over frames
    ``move``, ``turn`` (frames, poses, 3), ``scale``, ``stretch``, ``shear`` (frames, poses)."""

    numbers: Ints
    move: Floats
    turn: Floats
    scale: Floats
    stretch: Floats
    shear: Floats


def along(places: Floats, middle: Floats, line: Ints, course: Course, camera: Floats | None = None) -> Floats:
    """Matrices (frames, letters, 4, 4) of letters at ``places`` (frames, letters, 2) with these ``middle``
    (frames, letters), taken along the line; ``camera`` (frames, 3) stands in the title's space, for letters
    that face it."""
    frames, count = middle.shape
    matrices = np.zeros((frames, count, 4, 4))
    matrices[..., :, :] = np.eye(4)
    path = course.path
    if path.kind == "none" or not count:
        matrices[..., :2, 3] = places
        return matrices
    run = middle
    if path.kind == "arc":
        radius = np.where(np.abs(course.radius) > 1e-3, course.radius, 1e-3)[:, None]
        swept = (course.sweep > 0)[:, None]
        run = (
            np.where(swept, _swept(middle, line, np.abs(course.radius) * np.radians(course.sweep)), run)
            if swept.any()
            else run
        ) + course.offset[:, None]
        turn = run / radius
        # An arc whose crown is the origin.
        point, angle = np.stack([radius * np.sin(turn), radius * np.cos(turn) - radius], axis=-1), -turn
    else:
        point, angle = curve(path.drawn).at(run + course.offset[:, None])
    # A letter's own frame: its middle on the line.
    away = np.stack([places[..., 0] - middle, places[..., 1]], axis=-1)
    if path.stance == "bulging":
        # The line lies on the floor; what was up in it comes towards the viewer.
        yaw = -angle if path.facing == "outward" else np.zeros_like(angle)
        if path.facing == "camera" and camera is not None:
            yaw = np.arctan2(camera[:, None, 0] - point[..., 0], camera[:, None, 2] - point[..., 1])
        c, s = np.cos(yaw), np.sin(yaw)
        matrices[..., 0, 0], matrices[..., 0, 2], matrices[..., 2, 0], matrices[..., 2, 2] = c, s, -s, c
        matrices[..., 0, 3], matrices[..., 2, 3] = point[..., 0], point[..., 1]
        matrices[..., :3, 3] += matrices[..., :3, 0] * away[..., :1] + matrices[..., :3, 1] * away[..., 1:]
        return matrices
    c, s = np.cos(angle), np.sin(angle)
    matrices[..., 0, 0], matrices[..., 0, 1], matrices[..., 1, 0], matrices[..., 1, 1] = c, -s, s, c
    matrices[..., :2, 3] = (
        point + np.stack([c, s], axis=-1) * away[..., :1] + np.stack([-s, c], axis=-1) * away[..., 1:]
    )
    if path.stance == "lying":
        floor = np.eye(4)
        floor[1:3, 1:3] = [[0, 1], [-1, 0]]
        matrices = floor @ matrices
    return matrices


def posed(matrices: Floats, centres: Floats, poses: dict[str, Poses], numbers: dict[str, Ints]) -> Floats:
    """Matrices (frames, letters, 4, 4) after what lines, words and letters do by themselves, by their
    ``numbers`` (letters,).

    ``centres`` (letters, 2) are the middles of their ink in metres from their origin.
    """
    flat = np.column_stack([centres, np.zeros(len(centres))])
    for kind in ("line", "word", "letter"):
        pose = poses.get(kind)
        if pose is None or not len(pose.numbers):
            continue
        place = np.searchsorted(pose.numbers, numbers[kind])
        which = np.flatnonzero(pose.numbers[np.minimum(place, len(pose.numbers) - 1)] == numbers[kind])
        if not len(which):
            continue
        if _only_moves(pose):
            # About what it turns or grows makes no difference then.
            chosen = matrices[:, which]
            chosen[..., :3, 3] += _way(chosen, pose.move[:, place[which]], kind)
            matrices[:, which] = chosen
            continue
        if kind == "letter":
            # Poses of a letter happen in its own frame, wherever the line has taken it.
            centre = np.broadcast_to(flat[which], (len(matrices), len(which), 3))
            matrices[:, which] = composed(matrices[:, which], _matrices(pose, centre, place[which]))
            continue
        middles = applied(matrices[:, which], flat[which])
        own, group = np.unique(place[which], return_inverse=True)
        low = np.stack([middles[:, group == k].min(axis=1) for k in range(len(own))], axis=1)
        high = np.stack([middles[:, group == k].max(axis=1) for k in range(len(own))], axis=1)
        matrices[:, which] = composed(_matrices(pose, (low + high) / 2, own)[:, group], matrices[:, which])
    return matrices


def _only_moves(pose: Poses) -> bool:
    neutral = not pose.turn.any() and not pose.shear.any()
    return bool(neutral and (pose.scale == 1).all() and (pose.stretch == 1).all())


def _way(matrices: Floats, move: Floats, kind: str) -> Floats:
    """Where moves (frames, n, 3) take what stands by ``matrices`` (frames, n, 4, 4): letters in their own
    frame, words and lines in that of the title."""
    if kind != "letter":
        return move
    x, y, z = (move[..., k, None] for k in range(3))
    turned: Floats = matrices[..., :3, 0] * x + matrices[..., :3, 1] * y + matrices[..., :3, 2] * z
    return turned


def _matrices(pose: Poses, centre: Floats, index: Ints) -> Floats:
    """Matrices (frames, n, 4, 4) of the poses ``index`` (n,) about points (frames, n, 3)."""
    linear = linear_map(
        pose.turn[:, index], pose.scale[:, index], pose.stretch[:, index], pose.shear[:, index]
    )
    return about(centre, linear, pose.move[:, index])


def _swept(middle: Floats, line: Ints, length: Floats) -> Floats:
    """Middles (frames, letters) spread evenly, in proportion to their own spacing, over lengths (frames,);
    the ends stand there."""
    run = middle.copy()
    for number in np.unique(line):
        which = line == number
        low, high = run[:, which].min(axis=1, keepdims=True), run[:, which].max(axis=1, keepdims=True)
        wide = high - low
        run[:, which] = (run[:, which] - (low + high) / 2) * np.where(
            wide > 0, length[:, None] / np.where(wide > 0, wide, 1), 0.0
        )
    return run


@dataclass(frozen=True)
class Curve:
    """A polyline by its arc length, its middle at 0; it runs on straight beyond its ends."""

    points: Floats
    run: Floats

    def at(self, run: Floats) -> tuple[Floats, Floats]:
        """Points (..., 2) and the direction of travel in radians (...) at lengths ``run`` (...)."""
        side = np.diff(self.points, axis=0)
        angles = np.unwrap(np.arctan2(side[:, 1], side[:, 0]))
        middles = (self.run[1:] + self.run[:-1]) / 2
        angle = np.interp(run, middles, angles)
        point = np.stack([np.interp(run, self.run, self.points[:, axis]) for axis in (0, 1)], axis=-1)
        beyond = run - np.clip(run, self.run[0], self.run[-1])
        point += beyond[..., None] * np.stack([np.cos(angle), np.sin(angle)], axis=-1)
        return point, angle


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
        places = (
            (1 - t) ** 3 * a
            + 3 * (1 - t) ** 2 * t * np.array(b)
            + 3 * (1 - t) * t**2 * np.array(c)
            + t**3 * np.array(d)
        )
        for place in places.tolist():
            self._lineTo((place[0], place[1]))

    def _closePath(self) -> None:  # noqa: N802
        if self.points:
            self._lineTo(self.points[0])
