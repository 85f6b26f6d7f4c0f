"""What the letters of a thing look like beside its finish, over many frames at once."""

from __future__ import annotations

import re

import numpy as np
from numpy.typing import NDArray

from ..document import Bodied, Lettered, LetterSet
from .pieces import Pieces
from .set_motion import set_delays
from .values import Values

Floats = NDArray[np.float64]

# Numbers a letter: opacity and tint (red, green, blue) are factors, glow and roughness are added.
LOOK_VALUES = ("opacity", "glow", "roughness", "tint/r", "tint/g", "tint/b")
_NEUTRAL = np.array([1.0, 0.0, 0.0, 1.0, 1.0, 1.0])
_FACTORS = np.array([True, False, False, True, True, True])
_POINTER = re.compile(r"/sets/\d+/(opacity|glow|roughness|tint/[rgb])$")


def looks_of_letters(pointer: str) -> bool:
    """Whether a number of a thing only changes what letters look like."""
    return bool(_POINTER.search(pointer))


def letter_looks(thing: Bodied, pieces: Pieces, values: Values, frames: int) -> Floats | None:
    """:data:`LOOK_VALUES` (frames, pieces, 6) of the pieces of a thing, of all sets together, each letter at
    its own time; None where no set changes what they look like."""
    if not isinstance(thing, Lettered):
        return None
    changed = [
        number
        for number, letters in enumerate(thing.sets)
        if _row(letters) != _NEUTRAL.tolist() or any(values.keyed(f"/sets/{number}/{v}") for v in LOOK_VALUES)
    ]
    if not changed or not pieces.listed:
        return None
    looks = np.broadcast_to(_NEUTRAL, (frames, len(pieces.listed), len(_NEUTRAL))).copy()
    for number in changed:
        which, late = set_delays(thing.sets[number], pieces)
        every = len(which) == looks.shape[1]
        for column, value in enumerate(LOOK_VALUES):
            own = values.value_at(f"/sets/{number}/{value}", late)
            if (own == _NEUTRAL[column]).all():
                continue
            by = np.multiply if _FACTORS[column] else np.add
            looks[:, slice(None) if every else which, column] = by(
                looks[:, slice(None) if every else which, column], own
            )
    return looks


def _row(letters: LetterSet) -> list[float]:
    tint = letters.tint
    return [letters.opacity, letters.glow, letters.roughness, tint.r, tint.g, tint.b]
