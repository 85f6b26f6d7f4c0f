"""How far the edges of single letters reach, over many frames at once."""

from __future__ import annotations

import re

import numpy as np
from numpy.typing import NDArray

from ..document import Bodied, Lettered
from .pieces import Pieces
from .set_motion import set_delays
from .values import Values

Floats = NDArray[np.float64]

# Steps in which edges grow: letters at the same step share their body, over frames and letters alike.
STEPS = 50
_POINTER = re.compile(r"/sets/\d+/edges$")


def edges_of_letters(pointer: str) -> bool:
    """Whether a number of a thing is how far edges of single letters reach."""
    return bool(_POINTER.search(pointer))


def letter_edges(thing: Bodied, pieces: Pieces, values: Values, frames: int) -> Floats | None:
    """By how much the edges of pieces reach and rise further (frames, pieces), of all sets together, each
    letter at its own time, in steps of 1 / :data:`STEPS`; None where no set changes them."""
    if not isinstance(thing, Lettered) or not pieces.listed:
        return None
    changed = [
        number
        for number, letters in enumerate(thing.sets)
        if letters.edges != 1 or values.keyed(f"/sets/{number}/edges")
    ]
    if not changed:
        return None
    reach = np.ones((frames, len(pieces.listed)))
    for number in changed:
        which, late = set_delays(thing.sets[number], pieces)
        reach[:, which] *= values.value_at(f"/sets/{number}/edges", late)
    stepped: Floats = np.round(reach * STEPS) / STEPS
    return stepped
