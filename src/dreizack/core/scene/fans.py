"""When each letter of a set does what the set does, for whoever draws it."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from ..document import Lettered, Shot
from .form import Form
from .set_motion import set_delays

Floats = NDArray[np.float64]


def fans(shot: Shot, name: str) -> Iterator[tuple[int, Floats, Floats, int]]:
    """Of each set of a thing whose letters do not begin together and that has keys: its number, the frames
    (letters,) at which letters begin and are done, in the order they are read, and the steps from the first
    to the last to begin."""
    thing = shot.bodied[name]
    for number, letters in enumerate(thing.sets if isinstance(thing, Lettered) else ()):
        at = f"/things/{name}/sets/{number}/"
        keys = [
            key.frame
            for pointer, channel in shot.channels.items()
            if pointer.startswith(at)
            for key in channel.keys
        ]
        if letters.timing.order == "together" or not keys:
            continue
        pieces = Form(thing).pieces
        listed = pieces.listed
        which, late = set_delays(letters, pieces)
        _, first = np.unique([listed[index].source for index in which], return_index=True)
        begun = late[first]
        grows = letters.timing.length == "grows" and letters.timing.delay > 0
        steps = round(late.max() / letters.timing.delay) if grows else len(np.unique(begun.round(6))) - 1
        yield number, begun + min(keys), begun + max(keys), steps
