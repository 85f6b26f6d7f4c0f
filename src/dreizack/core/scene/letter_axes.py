"""Single letters moved along axes of a variable typeface, over many frames at once."""

from __future__ import annotations

import re

import numpy as np
from numpy.typing import NDArray

from ..document import Bodied, Title
from ..lettering import typeface
from .pieces import Pieces
from .set_motion import set_delays
from .values import Values

Floats = NDArray[np.float64]

# Of each piece, by how much it is moved along axes: (tag, value) pairs.
AxisShifts = tuple[tuple[tuple[str, float], ...], ...]
# Steps from one end of an axis to the other: letters at the same step share their outline.
STEPS = 60
_POINTER = re.compile(r"/sets/\d+/axis_by$")


def axes_of_letters(pointer: str) -> bool:
    """Whether a number of a thing is how far single letters are moved along an axis."""
    return bool(_POINTER.search(pointer))


def letter_axes(
    thing: Bodied, pieces: Pieces, values: Values, frames: int
) -> tuple[list[str], Floats] | None:
    """Tags of axes, and by how much pieces are moved along them (frames, pieces, axes), of all sets together,
    each letter at its own time; None where no set moves any."""
    if not isinstance(thing, Title) or not pieces.listed or thing.welds:
        # Letters that are joined where they touch are one outline.
        return None
    lengths = {axis.tag: axis.high - axis.low for axis in typeface(thing.setting.typeface).axes}
    moved = {
        number: letters.axis
        for number, letters in enumerate(thing.sets)
        if letters.axis in lengths and (letters.axis_by or values.keyed(f"/sets/{number}/axis_by"))
    }
    if not moved:
        return None
    tags = sorted(set(moved.values()))
    shifts = np.zeros((frames, len(pieces.listed), len(tags)))
    for number, tag in moved.items():
        which, late = set_delays(thing.sets[number], pieces)
        shifts[:, which, tags.index(tag)] += values.value_at(f"/sets/{number}/axis_by", late)
    steps = np.array([lengths[tag] / STEPS for tag in tags])
    return tags, np.round(shifts / steps) * steps


def shifts_at(tags: list[str], row: Floats) -> AxisShifts:
    """The shifts of each piece at a frame, of ``row`` (pieces, axes)."""
    return tuple(
        tuple((tag, round(value, 4)) for tag, value in zip(tags, own, strict=True) if value)
        for own in row.tolist()
    )
