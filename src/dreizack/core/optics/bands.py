"""What is done to every pixel by itself, in bands of rows: small enough for the cache of a core, several at a
time."""

from __future__ import annotations

import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from functools import cache

import numpy as np
from numpy.typing import NDArray

# Rows of a band, and rows below which it is not worth while.
BAND, FEW = 64, 256
# Threads at most: what is done is done in NumPy, which lets others run meanwhile.
MOST = 4


@cache
def _threads() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(min(MOST, os.cpu_count() or 1), "bands")


def by_bands(
    apply: Callable[..., NDArray[np.generic]],
    *pictures: NDArray[np.generic],
    kind: type[np.generic] = np.float32,
) -> NDArray[np.generic]:
    """``apply`` on pictures (rows, ...) of as many rows, each row by itself; what comes out has the shape of
    the first, and numbers of a ``kind``.

    >>> by_bands(lambda a, b: a + b, np.ones((300, 2)), np.ones((300, 2))).sum()
    np.float32(1200.0)
    """
    rows = len(pictures[0])
    if rows < FEW:
        return np.asarray(apply(*pictures), kind)
    made = np.empty(pictures[0].shape, kind)

    def one(top: int) -> None:
        made[top : top + BAND] = apply(*(picture[top : top + BAND] for picture in pictures))

    list(_threads().map(one, range(0, rows, BAND)))
    return made
