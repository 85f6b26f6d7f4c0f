"""Lights placed by what they should do in the picture."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


class CannotPlace(ValueError):
    """A light that cannot do what it is asked to; the text says why."""


def for_highlight(point: Floats, normal: Floats, eye: Floats, light: Floats) -> Floats:
    """Where a light (3,) must go so that its mirror image lies at ``point`` for somebody at ``eye``; it keeps
    its distance.

    The law of reflection: the normal halves the angle between eye and light.
    """
    towards = point - eye
    towards = towards / max(float(np.linalg.norm(towards)), 1e-9)
    facing = normal / max(float(np.linalg.norm(normal)), 1e-9)
    away = towards - 2 * float(towards @ facing) * facing
    result: Floats = point + away * max(float(np.linalg.norm(light - point)), 0.05)
    return result


def shadow_tip(
    points: Floats, ground: float, light: Floats, sun: bool, aim: Floats
) -> tuple[Floats, Floats] | None:
    """The point (of ``points`` (n, 3)) whose shadow on the plane y = ``ground`` falls furthest from its foot,
    and that shadow.

    None where no shadow falls on the ground: the light stands below, or everything above it.
    """
    way = np.broadcast_to(aim - light, points.shape) if sun else points - light
    falls = (way[:, 1] < -1e-6) & (points[:, 1] > ground + 1e-6)
    if not falls.any():
        return None
    above, way = points[falls], way[falls]
    shadow = above + way * ((ground - above[:, 1]) / way[:, 1])[:, None]
    reach = np.hypot(shadow[:, 0] - above[:, 0], shadow[:, 2] - above[:, 2])
    furthest = int(np.argmax(reach))
    return above[furthest], shadow[furthest]


def for_shadow(tip: Floats, target: Floats, light: Floats) -> Floats:
    """Where a light (3,) must go so that the shadow of ``tip`` falls on ``target``; it keeps its distance
    from the tip."""
    way = tip - target
    length = float(np.linalg.norm(way))
    if length < 1e-9 or way[1] <= 0:
        raise CannotPlace("the shadow cannot fall there: the spot is not below what casts it")
    result: Floats = tip + way / length * max(float(np.linalg.norm(light - tip)), 0.05)
    return result
