"""Words to letters in their places."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import uharfbuzz as hb
from numpy.typing import NDArray

from .typefaces import Typeface, typeface

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Layout:
    """Set words.

    ``glyphs`` (letters,): glyph numbers; ``places`` (letters, 2): origin of each letter in metres,
    the block centred left to right about x = 0 (or flush), last baseline at y = 0;
    ``sources`` (letters,): index of the first character of the words that made the letter;
    ``em``: metres an em; ``missing``: characters the typeface lacks.
    """

    typeface: str
    glyphs: NDArray[np.int64]
    places: Floats
    sources: NDArray[np.int64]
    em: float
    missing: str


def set_words(
    words: str, name: str, size: float = 0.5, tracking: float = 0.0, leading: float = 1.45, align: str = "centre"
) -> Layout:
    """Shape and place words.

    ``size`` is the cap height in metres, ``tracking`` thousandths of an em, ``leading`` multiples
    of the cap height; lines are split at line feeds.
    """
    face = typeface(name)
    em = size / face.cap_height
    glyphs, places, sources, missing = [], [], [], []
    lines = words.split("\n")
    start = 0
    for row, line in enumerate(lines):
        numbers, advances, offsets, clusters, lacks = _shape(face.name, line)
        missing.extend(lacks)
        steps = advances + tracking / 1000
        x = np.concatenate([[0.0], np.cumsum(steps)])
        width = max(x[-1] - tracking / 1000, 0.0) if len(numbers) else 0.0
        shift = {"left": 0.0, "centre": -width / 2, "right": -width}[align]
        y = (len(lines) - 1 - row) * leading * size
        glyphs.append(numbers)
        places.append(np.column_stack([(x[:-1] + offsets[:, 0] + shift) * em, offsets[:, 1] * em + y]))
        sources.append(clusters + start)
        start += len(line) + 1
    return Layout(
        face.name, np.concatenate(glyphs), np.concatenate(places), np.concatenate(sources), em,
        "".join(dict.fromkeys(missing)),
    )


@lru_cache(maxsize=2048)
def _shape(name: str, line: str) -> tuple[NDArray[np.int64], Floats, Floats, NDArray[np.int64], list[str]]:
    """One line through HarfBuzz; advances and offsets in ems."""
    face: Typeface = typeface(name)
    buffer = hb.Buffer()
    buffer.add_codepoints([ord(c) for c in line])
    buffer.guess_segment_properties()
    hb.shape(face.font, buffer, {})
    infos, positions = buffer.glyph_infos or [], buffer.glyph_positions or []
    numbers = np.array([info.codepoint for info in infos], dtype=np.int64)
    clusters = np.array([info.cluster for info in infos], dtype=np.int64)
    advances = np.array([p.x_advance for p in positions], dtype=np.float64) / face.units
    offsets = np.array([(p.x_offset, p.y_offset) for p in positions], dtype=np.float64).reshape(-1, 2) / face.units
    lacks = [line[c] for c, n in zip(clusters, numbers, strict=True) if n == 0 and not line[c].isspace()]
    return numbers, advances, offsets, clusters, lacks
