"""Edits that put words into footage: the plate taken, its camera, its ground, its sun."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...clips import plate_facts
from ...colour import LUMINANCE
from ...document import MAX_FRAMES, Floor, Light, Shot
from ...light import around_picture, sun_angles, sun_direction
from ...match import (
    AS_SOLVED,
    Alignment,
    Contradicts,
    Solve,
    library_solve,
    sun_from_shadows,
    with_direction,
    with_distance,
    with_ground,
    with_origin,
)
from ..baking import alignment_of, bake, plate_moments
from ..frame import frame_state
from ..sight import sight

Floats = NDArray[np.float64]
Patch = list[dict[str, Any]]

# A pick takes the nearest point within so many shares of the picture's width.
NEAR = 0.03
SUN = "plate-sun"
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
    many metres below."""
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
    if what == "origin":
        return _aligned(with_origin(was, was.unplaced(seen.on_ground(places[:1]))[0]))
    raise Contradicts("this camera only turns, so that no distance can be measured; tell its height instead")


def with_sun(shot: Shot, frame: float, picks: Floats) -> tuple[Patch, float]:
    """The sun stands where shadows in the plate say: picks (n, 3, 2) of feet, tips and shadows' tips. The
    patch, and how far they differ in degrees. Other lights than the sun go off: the place is lit by it and by
    what is around."""
    seen = sight(shot, frame)
    ways = seen.ways(picks.reshape(-1, 2)).reshape(-1, 3, 3)
    towards, spread = sun_from_shadows(seen.eye, ways[:, 0], ways[:, 1], ways[:, 2])
    return _lit_from(shot, towards), spread


def with_sun_at(
    shot: Shot, frame: float, place: tuple[float, float], day: int, hour: float, bearing: float
) -> tuple[Patch, float, float]:
    """The sun stands where it is at a ``place`` (latitude, longitude) at an hour UTC of a day of the year,
    while the camera looks towards a ``bearing``, degrees clockwise from north. The patch, elevation and
    azimuth; where the sun is down, Contradicts."""
    elevation, azimuth = (float(v) for v in sun_angles(*place, float(day), np.array(hour)))
    if elevation <= 0:
        raise Contradicts(
            f"the sun is {-elevation:.0f}° below the horizon there and then; hours are universal time (UTC)"
        )
    ahead = sight(shot, frame).axes[2]
    # What the camera looks at, as if north were -z.
    heading = np.degrees(np.arctan2(ahead[0], -ahead[2]))
    towards = sun_direction(np.array([elevation]), np.array([azimuth - bearing + heading]))[0]
    return _lit_from(shot, towards), elevation, azimuth


def _lit_from(shot: Shot, towards: Floats) -> Patch:
    """The first sun stands in a direction (3,), or a new one does; other lights go off."""
    position = {axis: round(float(v) * 10, 5) for axis, v in zip("xyz", towards, strict=True)}
    aim = {"x": 0.0, "y": 0.0, "z": 0.0}
    suns = [name for name, light in shot.lights.items() if light.source == "sun"]
    patch: Patch = [
        {"op": "replace", "path": f"/things/{name}/on", "value": False}
        for name, light in shot.lights.items()
        if light.on and name not in suns[:1]
    ]
    if suns:
        patch += [
            {"op": "replace", "path": f"/things/{suns[0]}/position", "value": position},
            {"op": "replace", "path": f"/things/{suns[0]}/aim", "value": aim},
            {"op": "replace", "path": f"/things/{suns[0]}/on", "value": True},
        ]
    else:
        sun = Light(name="Sun of the plate", source="sun").model_dump(mode="json")
        patch.append(
            {"op": "add", "path": f"/things/{SUN}", "value": {**sun, "position": position, "aim": aim}}
        )
    return patch


def with_shadow(shot: Shot, frame: float, left: Floats) -> Patch:
    """Shadows are as dark as measured: ``left`` (3,) of the light is left in them. The sun is made as strong
    against what is around that its shadow is as dark on the whole; colour is what differs between channels.
    """
    suns = {name: light for name, light in shot.lit.items() if light.source == "sun"}
    mean = float(np.clip(left @ LUMINANCE, 0.02, 0.97))
    tone = np.clip((1 - left) / (1 - mean), 0, 2)
    patch: Patch = []
    if suns:
        name, light = next(iter(suns.items()))
        state = frame_state(shot, bake(shot, np.array([float(frame)])), 0)
        around = _ground_light(state)
        towards = state.lights[name].matrix[:3, 3]
        slope = float(towards[1] / np.linalg.norm(towards))
        if slope > 0.02 and around > 0 and light.measured_in == "stops":
            stops = float(np.log2(max(around * (1 - mean) / mean / slope, 1e-4)))
            patch.append(
                {
                    "op": "replace",
                    "path": f"/things/{name}/intensity",
                    "value": round(float(np.clip(stops, -16, 12)), 3),
                }
            )
    density = float(min(tone.max(), 2.0))
    colour = 1 - tone / max(density, 1e-6)
    patch += [
        {"op": "replace", "path": "/plate/shadow_density", "value": round(density, 4)},
        {
            "op": "replace",
            "path": "/plate/shadow_colour",
            "value": {c: round(float(np.clip(v, 0, 1)), 4) for c, v in zip("rgb", colour, strict=True)},
        },
    ]
    return patch


def _ground_light(state: Any) -> float:
    """What surroundings bring to the ground, where the sun at 0 stops, straight above, brings 1."""
    picture = around_picture(state.around)
    rows = len(picture)
    up = np.cos((np.arange(rows) + 0.5) / rows * np.pi)
    weight = np.clip(up, 0, None) * np.sin((np.arange(rows) + 0.5) / rows * np.pi)
    light = (picture @ LUMINANCE.astype(np.float32)).mean(axis=1)
    # E / π of an even sky of 1 is 1.
    return float((light * weight).sum() / weight.sum()) * float(state.surroundings_strength)
