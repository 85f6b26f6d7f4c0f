"""Titles over time: where they stand, what their surfaces are like, and their forms."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...document import Bodied, Sheet, Shot, resolve
from ...finish import COLOURS, PLACING, TERMS
from ...motion import Motion
from ..form import surfaces
from .baked import BakedTitle
from .forms import baked_forms
from .places import placed
from .playing import surface_playing

Floats = NDArray[np.float64]


def baked_title(motion: Motion, name: str, thing: Bodied, camera: Floats, angle: Floats) -> BakedTitle:
    """The title, floor or sheet called ``name`` at all frames, for a camera there with these angles of view."""
    at = f"/things/{name}"
    matrix = placed(motion, at)
    if isinstance(thing, Sheet) and thing.fit == "fill the frame":
        matrix = _filling(motion.shot, thing, matrix, camera, angle)
    forms, form = baked_forms(motion, at, thing, matrix, camera, angle)
    pointers, worn = surfaces(thing)
    own = [resolve(thing, pointer) for pointer in pointers]
    return BakedTitle(
        matrix=matrix,
        colours=np.stack([np.stack([motion.vector(f"{at}{p}/{c}", "rgb") for c in COLOURS], axis=1) for p in pointers], axis=1),
        terms=np.stack([np.stack([motion.value(f"{at}{p}/{term}") for term in TERMS], axis=1) for p in pointers], axis=1),
        worn=worn,
        bumps=tuple((surface.bump, surface.bump_size) for surface in own),
        pictures=tuple(surface.picture if surface.picture.fill != "none" else None for surface in own),
        placing=np.stack([np.stack([motion.value(f"{at}{p}/picture/{name}") for name in PLACING], axis=1) for p in pointers], axis=1),
        playing=np.stack([surface_playing(motion, f"{at}{p}/picture", surface.picture) for p, surface in zip(pointers, own, strict=True)], axis=1),
        forms=forms,
        form=form,
    )


def _filling(shot: Shot, sheet: Sheet, matrix: Floats, camera: Floats, angle: Floats) -> Floats:
    """Matrices that scale a sheet so that it covers the picture where it stands, facing as it does."""
    away = np.linalg.norm(camera - matrix[:, :3, 3], axis=1)
    high = 2 * away * np.tan(np.radians(angle) / 2)
    scale = np.linalg.norm(matrix[:, :3, 0], axis=1)
    wide = np.maximum(high * shot.format.aspect / sheet.width, high / sheet.height) / scale
    grown = matrix.copy()
    grown[:, :3, :2] *= wide[:, None, None]
    return grown
