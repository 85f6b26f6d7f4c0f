"""Shadows on catchers that are longer or shorter than lights make them, or ripple."""

from __future__ import annotations

from typing import Any

import numpy as np

from ...scene import RIPPLES
from ..kernel.engine import arrays, engine
from .tables import SceneTables

mi, dr = engine(), arrays()


def lowered(on: SceneTables, lamp: Any) -> Any:
    """Where a lamp would stand that throws shadows on the ground as long as they are to be: those of one at
    a height h / s are s times as long."""
    length = dr.gather(mi.Float, on.caught, 1)
    return mi.Point3f(lamp.x, dr.select(lamp.y > 0, lamp.y / length, lamp.y), lamp.z)


def rippled(on: SceneTables, si: Any, to_place: Any) -> Any:
    """Whose shadow is seen at ``si``: on rippled ground (``to_place``) that of a place near by."""
    ripple, size = dr.gather(mi.Float, on.caught, 2), dr.gather(mi.Float, on.caught, 3)
    shift = mi.Vector3f(0.0)
    for x, z, begins, lead_x, lead_z in RIPPLES.tolist():
        high = dr.sin(2 * np.pi * ((x * si.p.x + z * si.p.z) / size + begins)) * ripple
        shift += mi.Vector3f(lead_x * high, 0, lead_z * high)
    found = mi.SurfaceInteraction3f(si)
    found.p = dr.select(to_place, si.p + shift, si.p)
    return found
