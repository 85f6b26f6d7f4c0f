"""Edits that put words into footage: the plate taken, its camera, its ground."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...clips import plate_facts
from ...document import MAX_FRAMES, Floor, Shot
from ...match import (
    AS_SOLVED,
    Alignment,
    Contradicts,
    Solve,
    library_solve,
    with_direction,
    with_distance,
    with_ground,
    with_origin,
)
from ..baking import alignment_of, plate_moments
from ..sight import sight

Floats = NDArray[np.float64]
Patch = list[dict[str, Any]]

# A pick takes the nearest point within so many shares of the picture's width.
NEAR = 0.03
GROUND = "plate-ground"


def with_plate(shot: Shot, clip: str) -> Patch:
    """A clip becomes the plate: the shot takes its size, rate and length (of a still its size alone), what
    floor there is becomes a catcher, or there is a new one."""
    facts = plate_facts(clip)
    if facts is None:
        raise Contradicts("there is no such plate; bring it again")
    still = facts.frames == 1
    told = facts.per_second
    rate = shot.format.rate.model_dump() if still else {"num": told.numerator, "den": told.denominator}
    even = [max(16, side) for side in (facts.width, facts.height)]
    patch: Patch = [
        {"op": "replace", "path": "/plate/clip", "value": clip},
        {"op": "replace", "path": "/plate/solve", "value": ""},
        {"op": "replace", "path": "/plate/first", "value": 0},
        {"op": "replace", "path": "/plate/speed", "value": 1.0},
        {"op": "replace", "path": "/backdrop/kind", "value": "plate"},
        {
            "op": "replace",
            "path": "/format",
            "value": {
                "width": even[0],
                "height": even[1],
                "rate": rate,
                "frames": shot.format.frames if still else min(facts.frames, MAX_FRAMES),
            },
        },
    ]
    if shot.camera.rig == "matched":
        patch.append({"op": "replace", "path": "/camera/rig", "value": "free"})
    floors = [name for name, thing in shot.things.items() if isinstance(thing, Floor)]
    patch += [
        {"op": "replace", "path": f"/things/{name}/visibility/catches", "value": True} for name in floors
    ]
    if not floors:
        ground = Floor(name="Ground of the plate")
        ground.visibility.catches = True
        ground.finish.roughness = 0.9
        patch.append({"op": "add", "path": f"/things/{GROUND}", "value": ground.model_dump(mode="json")})
    return patch


def with_solve(shot: Shot, file: str) -> Patch:
    """The camera stands where a solve says; of one that moves, the ground is guessed from points below it."""
    solve = library_solve(file)
    if solve is None:
        raise Contradicts("there is no such solve; solve the plate again")
    patch: Patch = [{"op": "replace", "path": "/plate/solve", "value": file}]
    if shot.camera.rig != "matched":
        patch.append({"op": "replace", "path": "/camera/rig", "value": "matched"})
    # Of a rectangle, or edges, one knows how it lies.
    where = AS_SOLVED if solve.by != "points" else guessed_ground(solve)
    return patch + _aligned(where)


def guessed_ground(solve: Solve) -> Alignment:
    """Where the ground may be: the plane that most points below the camera lie on, if there is one."""
    start = Alignment(np.zeros(3), np.zeros(3), 1.0)
    if solve.kind != "moving":
        return start
    points, eye = solve.bundle.points, solve.bundle.centres.mean(axis=0)
    below = points[(points[:, 1] < eye[1] - 0.2)]
    if len(below) < 30:
        return start
    random, best, most = np.random.default_rng(1), None, 0
    away = np.linalg.norm(below - eye, axis=1)
    for _ in range(400):
        a, b, c = below[random.choice(len(below), 3, replace=False)]
        normal = np.cross(b - a, c - a)
        length = np.linalg.norm(normal)
        if length < 1e-9:
            continue
        normal /= length
        # A ground lies within some degrees of level, as cameras are held.
        if abs(normal[1]) < 0.8:
            continue
        on = np.abs((below - a) @ normal) < 0.006 * away
        if on.sum() > most:
            best, most = below[on], int(on.sum())
    if best is None or most < 0.12 * len(below):
        return start
    found = with_ground(start, best, eye)
    # As high above it as somebody holds a camera, until a distance is told; the origin where it looks.
    height = float(found.placed(eye[None])[0, 1])
    return Alignment(found.origin, found.turn, 1.6 / max(height, 1e-6))


def _aligned(where: Alignment) -> Patch:
    named = {"origin": where.origin, "turn": where.turn}
    patch: Patch = [
        {
            "op": "replace",
            "path": f"/plate/{name}",
            "value": {axis: round(float(v), 9) for axis, v in zip("xyz", values, strict=True)},
        }
        for name, values in named.items()
    ]
    return [*patch, {"op": "replace", "path": "/plate/scale", "value": round(float(where.scale), 9)}]


def picked_points(shot: Shot, solve: Solve, frame: float, places: Floats) -> NDArray[np.int64]:
    """The solved points (n,) nearest to places (n, 2) in the picture, shares of its width and height.
    Contradicts where there is none near."""
    at = round(float(plate_moments(shot, np.array([float(frame)]))[0]))
    here = np.flatnonzero(solve.tracks.frame == at)
    if not len(here):
        raise Contradicts("no point is seen in this frame; go to another one")
    size = np.array(solve.bundle.size)
    where = solve.tracks.xy[here] / size
    off = np.linalg.norm((places[:, None] - where[None]) * [1, size[1] / size[0]], axis=2)
    if (off.min(axis=1) > NEAR).any():
        raise Contradicts("there is no point near a pick; pick at the points that are drawn")
    found: NDArray[np.int64] = solve.tracks.track[here[off.argmin(axis=1)]]
    return found


def boxed_points(shot: Shot, solve: Solve, frame: float, box: Floats) -> NDArray[np.int64]:
    """The solved points that are seen within a box, its corners (2, 2) in shares of the picture."""
    at = round(float(plate_moments(shot, np.array([float(frame)]))[0]))
    here = solve.tracks.frame == at
    where = solve.tracks.xy / np.array(solve.bundle.size)
    inside = here & (where >= box.min(axis=0)).all(axis=1) & (where <= box.max(axis=0)).all(axis=1)
    return np.unique(solve.tracks.track[inside])


def aligned_by(shot: Shot, what: str, frame: float, places: Floats, metres: float, box: bool) -> Patch:
    """The room of the plate, placed by picks in the picture (n, 2): ``ground`` by three points or more, or a
    box of them, ``origin`` by one, ``distance`` by two that are so many metres apart, ``direction`` by two.
    Things keep their place on the ground."""
    solve = library_solve(shot.plate.solve)
    if solve is None:
        raise Contradicts("the plate has no solve yet; solve it first")
    was = alignment_of(shot.plate)
    if solve.kind != "moving":
        return _by_distance(shot, solve, was, what, frame, places, metres)
    if what == "ground":
        chosen = (
            boxed_points(shot, solve, frame, places) if box else picked_points(shot, solve, frame, places)
        )
        points = solve.bundle.points[chosen]
        return _aligned(with_ground(was, points, solve.bundle.centres.mean(axis=0)))
    if what == "origin":
        return _aligned(with_origin(was, was.unplaced(sight(shot, frame).on_ground(places[:1]))[0]))
    points = solve.bundle.points[picked_points(shot, solve, frame, places[:2])]
    if len(points) < 2:
        raise Contradicts("two points make a distance or a direction; pick another one")
    if what == "distance":
        return _aligned(with_distance(was, points[0], points[1], metres))
    return _aligned(with_direction(was, points[0], points[1], "x"))


def _by_distance(
    shot: Shot, solve: Solve, was: Alignment, what: str, frame: float, places: Floats, metres: float
) -> Patch:
    """A camera that only turns, or stands, knows no distance: the ground is told by its horizon, and lies so
    many metres below; a distance and a direction are measured on that ground."""
    seen = sight(shot, frame)
    if what == "ground":
        if len(places) < 2:
            raise Contradicts("this camera only turns: pick two places on the horizon")
        a, b = seen.ways(places[:2])
        normal = np.cross(a, b)
        length = float(np.linalg.norm(normal))
        if length < 1e-6:
            raise Contradicts("these two places are one; pick them further apart on the horizon")
        normal = normal / length * np.sign(normal[1] or 1.0)
        # As a plane of points around the camera, so that it comes upright.
        eye = solve.bundle.centres[0]
        flat = was.rotation.T @ normal
        across = np.cross(flat, [0.3, 0.2, 0.9])
        ring = np.stack([across, np.cross(flat, across), -across])
        found = with_ground(was, eye + ring, eye + flat)
        height = metres if metres > 0 else 1.6
        origin = eye - found.rotation.T @ np.array([0, height, 0]) / was.scale
        return _aligned(Alignment(origin, found.turn, was.scale))
    on = was.unplaced(seen.on_ground(places[:2]))
    if what == "origin":
        return _aligned(with_origin(was, on[0]))
    if len(on) < 2:
        raise Contradicts("two places on the ground make a distance or a direction; pick another one")
    if what == "distance":
        return _aligned(with_distance(was, on[0], on[1], metres))
    return _aligned(with_direction(was, on[0], on[1], "x"))
