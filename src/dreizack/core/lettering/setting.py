"""Words to letters in their places."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import uharfbuzz as hb
from numpy.typing import NDArray

from ..document import Range, Setting
from .outlines import Glyph, glyph_outline
from .segments import Segment, Style, segments, styles

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True)
class Layout:
    """Set words, letter by letter from left to right, line by line.

    ``glyphs`` and ``ems`` (letters,): what is drawn and its metres an em; ``places`` (letters, 2):
    origin of each letter in metres, the block centred about x = 0 (or flush), last baseline at
    y = 0; ``middle`` (letters,): middle along the line of the cluster a letter belongs to;
    ``sources`` (letters,): first character of the words that made it; ``line``, ``word``, ``finish``
    (letters,): numbers from 0. ``missing``: characters no typeface has; ``borrowed``: characters
    taken from another typeface.
    """

    glyphs: list[Glyph]
    ems: Floats
    places: Floats
    middle: Floats
    sources: Ints
    line: Ints
    word: Ints
    finish: Ints
    missing: str
    borrowed: str

    @property
    def em(self) -> float:
        """Metres an em of the first letter."""
        return float(self.ems[0]) if len(self.ems) else 1.0


def set_words(words: str, setting: Setting, ranges: list[Range] | None = None, finishes: list[int] | None = None) -> Layout:
    """Shape and place words; lines are split at line feeds.

    ``finishes`` numbers the finish of each of the ``ranges`` (0 is that of the title).
    """
    ranges = ranges or []
    looks = styles(words, setting, ranges, finishes or [0] * len(ranges))
    lines = words.split("\n")
    words_at = _word_numbers(words)
    rows = []
    start = 0
    for number, line in enumerate(lines):
        parts = segments(line, start, looks, setting.case)
        y = (len(lines) - 1 - number) * setting.leading * setting.size
        rows.append(_row(parts, setting, y, number))
        start += len(line) + 1
    glyphs = [glyph for row in rows for glyph in row.glyphs]
    sources = np.concatenate([row.sources for row in rows])
    return Layout(
        glyphs, np.concatenate([row.ems for row in rows]), np.concatenate([row.places for row in rows]),
        np.concatenate([row.middle for row in rows]), sources, np.concatenate([row.line for row in rows]),
        words_at[sources] if len(words) else sources, np.concatenate([row.finish for row in rows]),
        "".join(dict.fromkeys("".join(row.missing for row in rows))),
        "".join(dict.fromkeys("".join(row.borrowed for row in rows))),
    )


def _word_numbers(words: str) -> Ints:
    """The number of the word each character belongs to (spaces to the one before)."""
    numbers = np.zeros(len(words), np.int64)
    for number, found in enumerate(re.finditer(r"\S+\s*", words)):
        numbers[found.start() : found.end()] = number
    return numbers


def _row(parts: list[Segment], setting: Setting, y: float, number: int) -> Layout:
    shaped = [_shape(part.text, part.style, part.script, part.leftward) for part in parts]
    ems = np.concatenate([np.empty(0), *(np.full(len(s.numbers), p.style.em) for p, s in zip(parts, shaped, strict=True))])
    tracking = np.concatenate([np.empty(0), *(np.full(len(s.numbers), p.style.tracking) for p, s in zip(parts, shaped, strict=True))])
    lift = np.concatenate([np.empty(0), *(np.full(len(s.numbers), p.style.lift) for p, s in zip(parts, shaped, strict=True))])
    finish = np.concatenate([np.empty(0, np.int64), *(np.full(len(s.numbers), p.style.finish) for p, s in zip(parts, shaped, strict=True))])
    advances = np.concatenate([np.empty(0), *(s.advances for s in shaped)])
    offsets = np.concatenate([np.empty((0, 2)), *(s.offsets for s in shaped)])
    sources = np.concatenate([np.empty(0, np.int64), *(np.array(p.sources, np.int64)[s.clusters] for p, s in zip(parts, shaped, strict=True))])
    glyphs = [Glyph(p.style.face.name, p.style.axes, int(n)) for p, s in zip(parts, shaped, strict=True) for n in s.numbers]
    # The last letter of a cluster carries the room after it.
    last = np.append(sources[1:] != sources[:-1], True) if len(sources) else np.empty(0, bool)
    by_hand = np.array([setting.gaps[str(s)].value / 1000 if str(s) in setting.gaps else 0.0 for s in sources.tolist()])
    steps = (advances + np.where(last, tracking + by_hand, 0)) * ems
    x = np.concatenate([[0.0], np.cumsum(steps)])
    room = float((tracking + by_hand)[-1] * ems[-1]) if len(ems) else 0.0
    low, high = 0.0, max(float(x[-1]) - room, 0.0)
    origin = x[:-1] + offsets[:, 0] * ems
    if setting.optical and len(glyphs):
        ink = [_ink(glyph) for glyph in glyphs]
        seen = [(o + i[0] * em, o + i[1] * em) for o, i, em in zip(origin, ink, ems, strict=True) if i is not None]
        if seen:
            low, high = min(a for a, _ in seen), max(b for _, b in seen)
    shift = {"left": -low, "centre": -(low + high) / 2, "right": -high}[setting.align]
    group = np.cumsum(np.append(0, last[:-1])) if len(last) else np.empty(0, np.int64)
    middle = np.empty(0)
    if len(group):
        begins = np.flatnonzero(np.diff(group, prepend=-1))
        width = np.add.reduceat(advances * ems, begins)
        middle = (x[begins] + width / 2)[group] + shift
    return Layout(
        glyphs, ems, np.column_stack([origin + shift, offsets[:, 1] * ems + lift + y]), middle, sources,
        np.full(len(glyphs), number, np.int64), np.zeros(len(glyphs), np.int64), finish,
        "".join(part.missing for part in parts), "".join(part.borrowed for part in parts),
    )


def _ink(glyph: Glyph) -> tuple[float, float] | None:
    """Left and right end of a letter's ink in ems."""
    outline = glyph_outline(glyph)
    return None if outline.empty else (float(outline.controls[..., 0].min()), float(outline.controls[..., 0].max()))


@dataclass(frozen=True)
class _Shaped:
    numbers: Ints
    advances: Floats
    offsets: Floats
    clusters: Ints


@lru_cache(maxsize=2048)
def _shape(text: str, style: Style, script: str, leftward: bool) -> _Shaped:
    """A stretch through HarfBuzz, from left to right; advances and offsets in ems."""
    buffer = hb.Buffer()
    buffer.add_codepoints([ord(c) for c in text])
    buffer.guess_segment_properties()
    buffer.direction = "rtl" if leftward else "ltr"
    if script != "Zyyy":
        buffer.script = script
    hb.shape(style.face.font(style.axes), buffer, dict(style.features))
    infos, positions = buffer.glyph_infos or [], buffer.glyph_positions or []
    units = style.face.units
    return _Shaped(
        np.array([info.codepoint for info in infos], dtype=np.int64),
        np.array([p.x_advance for p in positions], dtype=np.float64) / units,
        np.array([(p.x_offset, p.y_offset) for p in positions], dtype=np.float64).reshape(-1, 2) / units,
        np.array([info.cluster for info in infos], dtype=np.int64),
    )
