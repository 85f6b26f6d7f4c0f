"""Which letters belong to a set."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ..document import LetterSet


def in_sets(letters: LetterSet, sources: Sequence[int], words: Sequence[int]) -> NDArray[np.bool_]:
    """(pieces,): whether each belongs; pieces of the same ``source`` are one letter, counted in the order
    they are read."""
    order, number = np.unique(np.asarray(sources, np.int64), return_inverse=True)
    count, number = len(order), number.reshape(-1)
    if letters.rule == "word":
        word = np.asarray(words, np.int64)
        inside: NDArray[np.bool_] = (word >= letters.first) & (word <= max(letters.last, letters.first))
        return inside
    index = np.arange(count)
    if letters.rule == "every":
        chosen = (index >= letters.first) & ((index - letters.first) % letters.step == 0)
    elif letters.rule == "range":
        chosen = (index >= letters.first) & (index <= max(letters.last, letters.first))
    elif letters.rule == "by hand":
        chosen = np.isin(index, [int(word) for word in letters.chosen.split() if word.isdecimal()])
    else:
        # As many as the share says, and the same ones for the same seed.
        drawn = np.random.default_rng(letters.seed).permutation(count)[: round(letters.share * count)]
        chosen = np.isin(index, drawn)
    picked: NDArray[np.bool_] = chosen[number] if count else np.zeros(0, bool)
    return picked
