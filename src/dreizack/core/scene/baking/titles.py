"""Titles over time: where they stand, what their surfaces are like, and their forms."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ...document import Bodied, Sheet, Shot, resolve
from ...finish import COLOURS, TERMS, TEXTURE_TRANSFORM
from ...motion import Motion, present
from ..form import surfaces
from ..reveal import baked_reveal
from ..viewing import camera_axes, seen_of_plane
from .baked import BakedBody
from .forms import baked_forms, baked_looks, baked_poses
from .places import placed
from .playing import surface_playing

Floats = NDArray[np.float64]
# A sheet that fills the frame reaches a little beyond it: edges of lenses and pixels need something to see.
MARGIN = 1.02


@dataclass(frozen=True)
class Watching:
    """The camera over time: ``position``, ``aim`` (frames, 3), ``roll`` and vertical ``angle`` of view
    (frames,) in degrees."""

    position: Floats
    aim: Floats
    roll: Floats
    angle: Floats


def baked_body(motion: Motion, name: str, thing: Bodied, camera: Watching) -> BakedBody:
    """The title, floor or sheet called ``name`` at all frames, as this camera looks at it."""
    at = f"/things/{name}"
    matrix = placed(motion, name)
    if isinstance(thing, Sheet) and thing.fit == "fill the frame":
        matrix = _filling(motion.shot, thing, matrix, camera)
    forms, form = baked_forms(motion, at, thing, matrix, camera.position, camera.angle)
    pointers, surface_index = surfaces(thing)
    own = [resolve(thing, pointer) for pointer in pointers]
    return BakedBody(
        there=present(thing.span, motion.frames),
        matrix=matrix,
        poses=baked_poses(motion, at, thing, matrix, camera.position, forms, form),
        looks=baked_looks(motion, at, forms, form),
        colours=np.stack(
            [np.stack([motion.vector(f"{at}{p}/{c}", "rgb") for c in COLOURS], axis=1) for p in pointers],
            axis=1,
        ),
        terms=np.stack(
            [np.stack([motion.value(f"{at}{p}/{term}") for term in TERMS], axis=1) for p in pointers], axis=1
        ),
        surface_index=surface_index,
        bumps=tuple((surface.bump, surface.bump_size) for surface in own),
        pictures=tuple(surface.picture if surface.picture.fill != "none" else None for surface in own),
        texture_transform=np.stack(
            [
                np.stack([motion.value(f"{at}{p}/picture/{name}") for name in TEXTURE_TRANSFORM], axis=1)
                for p in pointers
            ],
            axis=1,
        ),
        playing=np.stack(
            [
                surface_playing(motion, f"{at}{p}/picture", surface.picture)
                for p, surface in zip(pointers, own, strict=True)
            ],
            axis=1,
        ),
        forms=forms,
        form=form,
        reveal=baked_reveal(motion, at, thing),
    )


def _filling(shot: Shot, sheet: Sheet, matrix: Floats, camera: Watching) -> Floats:
    """Matrices that scale a sheet so that it covers the picture from wherever the camera looks at it, facing
    as it does."""
    axes = camera_axes(camera.position, camera.aim, camera.roll)
    reach = seen_of_plane(matrix, camera.position, axes, camera.angle, shot.format.aspect) * MARGIN
    wide = np.maximum(reach[:, 0] * 2 / sheet.width, reach[:, 1] * 2 / sheet.height)
    grown = matrix.copy()
    grown[:, :3, :2] *= wide[:, None, None]
    return grown
