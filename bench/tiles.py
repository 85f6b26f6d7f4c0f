"""A part of a picture that stands for the whole."""

from __future__ import annotations

import numpy as np

SIZE = (1280, 720)


def tiles() -> list[tuple[slice, slice]]:
    """A sixteenth of the picture, in tiles that lie anywhere, one in each of 8 × 5 equal parts of it."""
    rng = np.random.default_rng(3)
    wide, tall = SIZE[0] // 8, SIZE[1] // 5
    places = [
        (wide * i + rng.integers(wide * 3 // 4), tall * j + rng.integers(tall * 3 // 4))
        for j in range(5)
        for i in range(8)
    ]
    return [(slice(y, y + tall // 4), slice(x, x + wide // 4)) for x, y in places]
