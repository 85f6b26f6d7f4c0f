"""What a stage does to light beside what surfaces do: cones, slides and falloff, floors that end, pictures
that lie on the frame."""

from __future__ import annotations

from typing import Any

from ..kernel.engine import arrays, engine
from .tables import LAMP, SLIDE, SceneTables

mi, dr = engine(), arrays()


def wanted(on: SceneTables, active: Any) -> Any:
    """Which of ``active`` go on: none once work has been called off."""
    # Depends on what is active, or it would be looked up once before the loop.
    return active & (dr.gather(mi.UInt32, on.halt, dr.select(active, mi.UInt32(0), 1), active) == 0)


def ended(on: SceneTables, si: Any, shape: Any) -> Any:
    """How far a floor has gone over into what lies behind it, 0..1."""
    floor = dr.gather(mi.Vector4f, on.fades, shape, si.is_valid())
    away = dr.sqrt(dr.square(si.p.x - floor.z) + dr.square(si.p.z - floor.w))
    share = dr.clip((away / dr.maximum(floor.y, 1e-3) - 0.3) / 0.7, 0, 1)
    return dr.select(floor.y > 0, share * share * (3 - 2 * share), 0.0)


def faded(
    on: SceneTables, sampler: Any, si: Any, shape: Any, flags: Any, origin: Any, origin_shape: Any, depth: Any
) -> Any:
    """Where, by sampler, what is mirrored is a floor beyond its end, or something too far away for the floor
    that mirrors it."""
    ends = (depth > 0) & (sampler.one() < ended(on, si, shape))
    mirrored = dr.gather(mi.Vector4f, on.fades, origin_shape, depth > 0)
    left = dr.exp(-dr.norm(si.p - origin) / dr.maximum(mirrored.x, 1e-3))
    out_of_reach = (depth > 0) & (mirrored.x > 0) & ((flags & LAMP) == 0) & (sampler.one() > left)
    return ends | out_of_reach


def unlinked(on: SceneTables, si: Any, flags: Any, origin_shape: Any, active: Any) -> Any:
    """Where what is met is a lamp that does not reach the surface a ray left: that mirrors no lamp there, nor
    its dark back."""
    lamp = active & si.is_valid() & ((flags & LAMP) > 0)
    number = dr.reinterpret_array(mi.UInt32, si.emitter(on.scene, lamp))
    return lamp & (dr.gather(mi.Float, on.links, origin_shape * on.stride + number, lamp) == 0)


def reach(falloffs: Any, number: Any, distance: Any, active: Any) -> Any:
    """What makes light weaken less than it does, alike three metres from its light."""
    power = dr.gather(mi.Float, falloffs, number, active)
    return dr.select(power > 0, dr.power(distance / 3, power), 1.0)


def slide(slides: Any, cones: Any, number: Any, away: Any, active: Any) -> Any:
    """What a slide lets through in a direction ``away`` from its light (white where there is none)."""
    up = dr.gather(mi.Vector3f, cones, number * 4 + 2, active)
    wide = dr.gather(mi.Vector3f, cones, number * 4 + 3, active)
    axis = dr.gather(mi.Vector3f, cones, number * 4, active)
    there = active & (wide.x > 0)
    scale = 0.5 / dr.maximum(dr.dot(axis, away) * wide.x, 1e-6)
    x, y = 0.5 + dr.dot(dr.cross(axis, up), away) * scale, 0.5 - dr.dot(up, away) * scale
    return dr.select(
        there,
        _looked_up(
            slides, mi.UInt32(wide.y) * SLIDE * SLIDE, mi.UInt32(SLIDE), mi.UInt32(SLIDE), x, y, there
        ),
        1.0,
    )


def seen_behind(on: SceneTables, ray: Any, active: Any) -> Any:
    """The backdrop where a ray meets the plane it lies in; its outermost pixels go on beyond it."""
    right, up, forward, eye, size, grid = (dr.gather(mi.Vector3f, on.view, mi.UInt32(k)) for k in range(6))
    ahead = dr.dot(ray.d, forward)
    distance = (size.z - dr.dot(ray.o - eye, forward)) / dr.maximum(ahead, 1e-3)
    point = ray.o + ray.d * dr.maximum(distance, 0) - eye
    x, y = 0.5 + dr.dot(point, right) / (2 * size.x * size.z), 0.5 - dr.dot(point, up) / (2 * size.y * size.z)
    return _looked_up(on.behind, mi.UInt32(0), mi.UInt32(grid.x), mi.UInt32(grid.y), x, y, active)


def seen_at(on: SceneTables, point: Any, active: Any) -> Any:
    """The backdrop where the camera sees points of it; its outermost pixels go on beyond it."""
    right, up, forward, eye, size, grid = (dr.gather(mi.Vector3f, on.view, mi.UInt32(k)) for k in range(6))
    away = point - eye
    ahead = dr.maximum(dr.dot(away, forward), 1e-6) * 2
    x, y = 0.5 + dr.dot(away, right) / (ahead * size.x), 0.5 - dr.dot(away, up) / (ahead * size.y)
    return _looked_up(on.behind, mi.UInt32(0), mi.UInt32(grid.x), mi.UInt32(grid.y), x, y, active)


def on_plate(on: SceneTables, si: Any, shape: Any) -> Any:
    """Picture coordinates of hits: where the camera sees them, on shapes whose picture fills the frame; else
    their own."""
    turn = dr.gather(mi.Vector4f, on.plates, shape * 2, si.is_valid())
    shift = dr.gather(mi.Vector4f, on.plates, shape * 2 + 1, si.is_valid())
    right, up, forward, eye, size = (dr.gather(mi.Vector3f, on.view, mi.UInt32(k)) for k in range(5))
    away = si.p - eye
    ahead = dr.maximum(dr.dot(away, forward), 1e-6) * 2
    x, y = dr.dot(away, right) / (ahead * size.x), dr.dot(away, up) / (ahead * size.y)
    seen = mi.Point2f(0.5 + shift.x + turn.x * x + turn.y * y, 0.5 + shift.y + turn.z * x + turn.w * y)
    return dr.select(shift.z > 0, seen, si.uv)


def _looked_up(pictures: Any, start: Any, columns: Any, rows: Any, x: Any, y: Any, active: Any) -> Any:
    """Bilinear values of a picture that begins at pixel ``start``; x and y from 0 to 1 from the top left,
    held at its edge."""
    across = dr.clip(x * mi.Float(columns) - 0.5, 0, mi.Float(columns) - 1.001)
    down = dr.clip(y * mi.Float(rows) - 0.5, 0, mi.Float(rows) - 1.001)
    left, top = mi.UInt32(across), mi.UInt32(down)
    fx, fy = across - mi.Float(left), down - mi.Float(top)

    def at(dx: int, dy: int) -> Any:
        return dr.gather(mi.Vector3f, pictures, start + (top + dy) * columns + left + dx, active)

    above, below = at(0, 0) * (1 - fx) + at(1, 0) * fx, at(0, 1) * (1 - fx) + at(1, 1) * fx
    return above * (1 - fy) + below * fy


def cone(cones: Any, number: Any, away: Any, active: Any) -> Any:
    """What a cone lets through in a direction ``away`` from its light (2 where there is none)."""
    axis = dr.gather(mi.Vector3f, cones, number * 4, active)
    edge = dr.gather(mi.Vector3f, cones, number * 4 + 1, active)
    cosine = dr.dot(axis, away)
    share = dr.clip((cosine - edge.x) / dr.maximum(edge.y - edge.x, 1e-6), 0, 1)
    # Even within the cone, whatever a flat opening would do.
    shaped = share * share * (3 - 2 * share) / dr.maximum(cosine, 1e-3)
    return dr.select(edge.z > 0, shaped, 1.0)
