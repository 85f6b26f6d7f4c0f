"""Spots on the surfaces of words, marks and meshes, as those rest."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...caching import SizedCache
from ...document import Bodied, Lettered
from ..bodies import BodyStore, body_matrices
from ..form import Form
from ..on_triangles import areas_summed, on_triangles

Floats = NDArray[np.float64]

_BODIES = BodyStore(64_000_000)
_SURFACES: SizedCache[str, tuple[Floats, Floats]] = SizedCache(64_000_000)
# Roberts, The Unreasonable Effectiveness of Quasirandom Sequences, 2018: R3.
STEPS = np.array([0.8191725133961645, 0.6710436067037893, 0.5497004779019703])


def spot_on(thing: Bodied, spot: int) -> tuple[Floats, Floats] | None:
    """Place (3,) and normal (3,) of a spot, in the space of the thing; spots in a row lie evenly over all of
    its surface. None where it has none."""
    unmoved = thing.model_copy(update={"sets": []}) if isinstance(thing, Lettered) else thing
    form = Form(unmoved)
    surface = _SURFACES.get(form.key)
    if surface is None:
        surface = _surface(form)
        if surface is None:
            return None
        _SURFACES.put(form.key, surface)
    corners, summed = surface
    place, normal = on_triangles(corners, summed, np.mod((spot + 0.5) * STEPS, 1.0)[None])
    return place[0], normal[0]


def _surface(form: Form) -> tuple[Floats, Floats] | None:
    """Corners (triangles, 3, 3) of all bodies of a form, and their areas added up (triangles,)."""
    letters = _BODIES.letters(form)
    matrices = body_matrices(letters, form.rest)
    found = []
    for letter, at in zip(letters, matrices, strict=True):
        body = _BODIES.get(letter.body)
        if body is not None and not body.empty:
            found.append((body.position @ at[:3, :3].T + at[:3, 3])[body.triangles])
    if not found:
        return None
    corners = np.concatenate(found).astype(np.float64)
    return corners, areas_summed(corners)
