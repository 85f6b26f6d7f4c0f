"""Letters of one emitter that glow differently.

The letters of all such emitters stand in one row, in the order of their triangles, so that one search finds
them.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..kernel.engine import arrays, engine
from .tables import SceneTables

mi, dr = engine(), arrays()


def glow_of_triangle(on: SceneTables, number: Any, triangle: Any, active: Any) -> Any:
    """What the letter that a triangle of an emitter belongs to sends (1 where all letters send the same)."""
    known, _, first = _emitter(on, number, active)
    at = first + triangle
    return _glow(on, lambda index: dr.gather(mi.UInt32, on.glow_ends, index, known) <= at, known)


def glow_of_sample(on: SceneTables, number: Any, spot: Any, active: Any) -> Any:
    """What the letter sends that a place on an emitter, drawn by ``spot``, belongs to.

    Triangles of a mesh are drawn by their area, in order, with the second number of a sample.
    """
    known, row, _ = _emitter(on, number, active)
    at = mi.Float(row) + spot.y
    return _glow(on, lambda index: dr.gather(mi.Float, on.glow_shares, index, known) < at, known)


def _emitter(on: SceneTables, number: Any, active: Any) -> tuple[Any, Any, Any]:
    """Whether letters of an emitter differ, which of such emitters it is, and where its triangles begin."""
    row = dr.gather(mi.UInt32, on.glow_rows, number * 2, active)
    return active & (row > 0), row, dr.gather(mi.UInt32, on.glow_rows, number * 2 + 1, active)


def _glow(on: SceneTables, before: Callable[[Any], Any], known: Any) -> Any:
    letter = dr.binary_search(0, dr.width(on.glow_ends) - 1, before)
    return mi.Spectrum(dr.select(known, dr.gather(mi.Vector3f, on.glow, letter, known), 1.0))
