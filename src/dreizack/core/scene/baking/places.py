"""Where things stand over time."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...affine import rotation
from ...document import Bodied, Floor, Pivot, Placed, hanging
from ...motion import Motion

Floats = NDArray[np.float64]


def placed(motion: Motion, name: str) -> Floats:
    """Object-to-world matrices (frames, 4, 4) of the thing called ``name``, through all that it hangs on."""
    at = f"/things/{name}"
    own = place_matrix(
        motion.vector(f"{at}/place/position"),
        motion.vector(f"{at}/place/rotation"),
        motion.value(f"{at}/place/scale"),
    )
    thing = motion.shot.things[name]
    if isinstance(thing, Pivot) and thing.goes_with:
        # Where that is hangs on the camera, which may hang on something itself.
        from .on_patch import patch_space

        space = patch_space(motion, name)
        if space is not None:
            return space @ own
    if isinstance(thing, Pivot) and thing.rides:
        from .riding import ridden_space

        space = ridden_space(motion, name)
        if space is not None:
            own = space @ own
    return hung(motion, hanging(thing)) @ own


def hung(motion: Motion, name: str) -> Floats:
    """Matrices (frames or 1, 4, 4) of the space in which what hangs on a thing stands; the room where there
    is no such thing."""
    on = motion.shot.things.get(name)
    return placed(motion, name) if isinstance(on, Placed) else np.eye(4)[None]


def middle_of(motion: Motion, name: str) -> Floats:
    """The middle (frames, 3) of a thing: of letters that of their capitals, of others where they stand."""
    thing = motion.shot.things[name]
    height = 0.36 * thing.extent if isinstance(thing, Bodied) and not isinstance(thing, Floor) else 0.0
    middle: Floats = (placed(motion, name) @ np.array([0.0, height, 0.0, 1.0]))[:, :3]
    return middle


def points_under(matrices: Floats, points: Floats) -> Floats:
    """Points (frames, 3), each under its matrix (frames or 1, 4, 4)."""
    moved: Floats = (matrices[:, :3, :3] @ points[:, :, None])[:, :, 0] + matrices[:, :3, 3]
    return moved


def place_matrix(position: Floats, turn: Floats, scale: Floats) -> Floats:
    """Object-to-world matrices (frames, 4, 4): scale, then x, y, z rotation in degrees, then move."""
    matrix = np.zeros((len(position), 4, 4))
    matrix[:, :3, :3] = rotation(turn) * scale[:, None, None]
    matrix[:, :3, 3] = position
    matrix[:, 3, 3] = 1
    return matrix
