"""Edits that let things stand in a plate: on its ground, on a wall, along a line, far away; and what stands
for its own boxes and walls.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...affine import rotation
from ...document import Colour, Edge, Finish, Floor, Light, Mark, Piece, Pivot, Sheet, Shot, Vector
from ...document.ground import Turn
from ...match import Contradicts, heights_over
from ..baking import bake
from ..bodies import BodyStore
from ..points import body_points
from ..sight import Sight, sight

Floats = NDArray[np.float64]
Patch = list[dict[str, Any]]

# A surface whose normal rises so steeply is stood on; on any other one things hang.
LEVEL = 0.7
# Metres by which the back of a thing clears what it hangs on.
CLEAR = 0.002
# Thickness in metres of what stands for a wall.
WALL = 0.01
GREY = Finish(base_colour=Colour(r=0.3, g=0.3, b=0.3), metallic=0, roughness=0.9)


@dataclass(frozen=True)
class Surface:
    """A place (3,) on something and its unit normal (3,), towards whoever looks."""

    point: Floats
    normal: Floats


def surface_at(shot: Shot, frame: float, place: Floats, bodies: BodyStore, without: str = "") -> Surface:
    """What is seen of the plate's room at a place (2,) of the picture: a box or a wall that stands for it, or
    the ground. Contradicts where there is none. Rays meet triangles as in Möller & Trumbore, Fast, Minimum
    Storage Ray/Triangle Intersection, 1997."""
    seen = sight(shot, frame)
    way = seen.ways(place[None])[0]
    best, normal = np.inf, np.array([0.0, 1.0, 0.0])
    if way[1] * seen.eye[1] < -1e-9:
        best = float(-seen.eye[1] / way[1])
    baked = bake(shot, np.array([float(frame)]))
    for name, title in baked.titles.items():
        thing = shot.things[name]
        if isinstance(thing, Floor | Pivot | Light) or name == without or not thing.visibility.catches:
            continue
        points, triangles = body_points(title.forms[0], title.matrix[0], title.poses_at(0), bodies)
        a, b, c = (points[triangles[:, k]] for k in range(3))
        e, f = b - a, c - a
        across = np.cross(way, f)
        size = np.einsum("nk,nk->n", e, across)
        with np.errstate(divide="ignore", invalid="ignore"):
            u = np.einsum("nk,nk->n", seen.eye - a, across) / size
            over = np.cross(seen.eye - a, e)
            v, away = over @ way / size, np.einsum("nk,nk->n", f, over) / size
        met = (u >= 0) & (v >= 0) & (u + v <= 1) & (away > 1e-6) & (np.abs(size) > 1e-12)
        if met.any() and away[met].min() < best:
            first = int(np.flatnonzero(met)[away[met].argmin()])
            best, normal = float(away[first]), np.cross(e[first], f[first])
    if not np.isfinite(best):
        raise Contradicts("this place lies above the horizon, not on the ground; pick one below it")
    normal = normal / np.linalg.norm(normal)
    return Surface(seen.eye + best * way, normal if normal @ way < 0 else -normal)


def stood(
    shot: Shot, thing: str, frame: float, places: Floats, bodies: BodyStore, facing: bool = True
) -> Patch:
    """A title, or another thing, stands where one place (1, 2) of the picture shows the ground or the top of
    something, and turns to the camera where ``facing``; or hangs on the wall that is seen there; or stands
    along the line between two places (2, 2) of the ground."""
    _standing(shot, thing)
    seen = sight(shot, frame)
    if len(places) > 1:
        a, b = seen.on_ground(places[:2])
        along = b - a
        if np.linalg.norm(along) < 1e-3:
            raise Contradicts("these two places are one; pick them further apart")
        middle = (a + b) / 2
        # Its face looks to the side that the camera is on.
        if np.cross(along, [0.0, 1.0, 0.0]) @ (seen.eye - middle) < 0:
            along = -along
        return _put(thing, middle, float(np.degrees(np.arctan2(-along[2], along[0]))))
    there = surface_at(shot, frame, places[0], bodies, without=thing)
    if there.normal[1] > LEVEL:
        away = seen.eye - there.point
        yaw = float(np.degrees(np.arctan2(away[0], away[2]))) if facing else None
        return _put(thing, there.point, yaw)
    low, high = _box(shot, thing, frame, bodies)
    x, y, z = there.normal
    yaw, pitch = float(np.degrees(np.arctan2(x, z))), float(np.degrees(-np.arcsin(y)))
    turn = rotation(np.array([pitch, yaw, 0.0]))
    middle = np.array([(low[0] + high[0]) / 2, (low[1] + high[1]) / 2, low[2]])
    return _put(thing, there.point + CLEAR * there.normal - turn @ middle, yaw, pitch)


def stood_far(
    shot: Shot, thing: str, frame: float, place: Floats, metres: float, share: float, bodies: BodyStore
) -> Patch:
    """A thing stands so many metres away under a place (2,) of the picture, on the ground, and is as large as
    it must be to take up a ``share`` of the picture's width; it turns to the camera."""
    found = _standing(shot, thing)
    seen = sight(shot, frame)
    way = seen.ways(place[None])[0] * [1, 0, 1]
    length = float(np.linalg.norm(way))
    if length < 1e-6:
        raise Contradicts("this place lies straight above or below; pick one towards the horizon")
    at = seen.eye * [1, 0, 1] + way / length * metres
    low, high = _box(shot, thing, frame, bodies)
    wide, front = float(high[0] - low[0]) / found.place.scale, float(high[2]) / found.place.scale
    if wide < 1e-6:
        raise Contradicts("it has no width yet; give it words first")
    # Their front, which is nearer than they stand, takes it up.
    taken = share * 2 * seen.half * seen.aspect
    ahead = float((at - seen.eye) @ seen.axes[2])
    scale = float(np.clip(taken * ahead / (wide + taken * front), 0.001, 1000))
    yaw = float(np.degrees(np.arctan2(-way[0], -way[2])))
    path = f"/things/{thing}/place/scale"
    return [*_put(thing, at, yaw), {"op": "replace", "path": path, "value": round(scale, 4)}]


def with_wall(shot: Shot, frame: float, places: Floats) -> Patch:
    """A wall that stands for one in the plate: a catcher. Places (3, 2): both ends of its foot on the ground,
    and its top over the first one."""
    seen = sight(shot, frame)
    a, b = seen.on_ground(places[:2])
    height, width = _height(seen, a, places[2]), float(np.linalg.norm(b - a))
    if width < 1e-3 or height < 1e-3:
        raise Contradicts("a wall needs two ends apart from each other, and a top above the first one")
    middle = (a + b) / 2
    along = (b - a) / width
    if np.cross(along, [0.0, 1.0, 0.0]) @ (seen.eye - middle) < 0:
        along = -along
    yaw = float(np.degrees(np.arctan2(-along[2], along[0])))
    wall = Sheet(name="Wall of the plate", width=round(width, 4), height=round(height, 4), thickness=WALL)
    wall.finish = GREY.model_copy(deep=True)
    x, y, z = (round(float(v), 4) for v in middle + np.array([0, height / 2, 0]))
    wall.place.position, wall.place.rotation = Vector(x=x, y=y, z=z), Turn(y=round(yaw, 3))
    wall.visibility.catches = True
    return _added(shot, "plate-wall", wall.model_dump(mode="json"))


def with_box(shot: Shot, frame: float, places: Floats) -> Patch:
    """A box that stands for something in the plate: a catcher that takes shadow and hides what is behind it.
    Places (4, 2): a corner of its foot, the next one along its front, the one behind that, and its top over
    the first one."""
    seen = sight(shot, frame)
    a, b, c = seen.on_ground(places[:3])
    height = _height(seen, a, places[3])
    along, width = b - a, float(np.linalg.norm(b - a))
    if width < 1e-3 or height < 1e-3:
        raise Contradicts("a box needs two corners apart from each other, and a top above the first one")
    along = along / width
    # Its depth grows away from its front, which local z faces.
    front = np.array([along[2], 0.0, -along[0]]) * -1.0
    depth = float((c - b) @ front)
    if depth > 0:
        along, front = -along, -front
    depth = abs(depth)
    if depth < 1e-3:
        raise Contradicts("the third corner lies behind the second one, not on the line of the front")
    middle, yaw = (a + b) / 2, float(np.degrees(np.arctan2(-along[2], along[0])))
    half = width / height / 2
    box = Mark(name="Box of the plate", size=round(height, 4))
    box.pieces = [Piece(path=f"M{-half:.5f} 0L{half:.5f} 0L{half:.5f} 1L{-half:.5f} 1Z")]
    box.body.depth, box.body.direction = round(depth, 4), "back"
    box.body.front = box.body.back = Edge(profile="none", reach=0, rise=0)
    box.finishes = [GREY.model_copy(deep=True)]
    x, y, z = (round(float(v), 4) for v in middle)
    box.place.position, box.place.rotation = Vector(x=x, y=y, z=z), Turn(y=round(yaw, 3))
    box.visibility.catches = True
    return _added(shot, "plate-box", box.model_dump(mode="json"))


def _standing(shot: Shot, thing: str) -> Any:
    found = shot.things.get(thing)
    if found is None or isinstance(found, Light | Floor):
        raise KeyError(thing)
    return found


def _box(shot: Shot, thing: str, frame: float, bodies: BodyStore) -> tuple[Floats, Floats]:
    """Lowest and highest (3,) of a thing's points in its own space, as large as it is in the room."""
    title = bake(shot, np.array([float(frame)])).titles[thing]
    points, _ = body_points(title.forms[0], np.eye(4), title.poses_at(0), bodies)
    if not len(points):
        return np.zeros(3), np.zeros(3)
    points = points * float(np.cbrt(abs(np.linalg.det(title.matrix[0][:3, :3]))))
    return points.min(axis=0), points.max(axis=0)


def _height(seen: Sight, foot: Floats, top: Floats) -> float:
    return float(heights_over(seen.eye, foot[None], seen.ways(top[None]))[0])


def _put(thing: str, at: Floats, yaw: float | None, pitch: float = 0.0) -> Patch:
    path = f"/things/{thing}/place"
    position = {axis: round(float(v), 5) for axis, v in zip("xyz", at, strict=True)}
    patch: Patch = [{"op": "replace", "path": f"{path}/position", "value": position}]
    if yaw is not None:
        turn = {"x": round(pitch, 3), "y": round(yaw, 3), "z": 0}
        patch.append({"op": "replace", "path": f"{path}/rotation", "value": turn})
    return patch


def _added(shot: Shot, stem: str, value: dict[str, Any]) -> Patch:
    name = next(f"{stem}-{n}" for n in range(1, 1000) if f"{stem}-{n}" not in shot.things)
    return [{"op": "add", "path": f"/things/{name}", "value": value}]
