"""Words to letters in their places."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
import uharfbuzz as hb
from numpy.typing import NDArray

from ..document import Range, Setting
from ..document.joining import joins
from .outlines import Glyph, glyph_outline
from .segments import Style, segments, styles
from .spacing import Shaped, Spacing, spaced

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True)
class Layout:
    """Set words, letter by letter from left to right, line by line.

    ``glyphs`` and ``shaped.ems`` (letters,): what is drawn and its metres an em; ``places`` (letters, 2):
    origin of each letter in metres, the block centred about x = 0 (or flush), last baseline at y = 0;
    ``middle`` (letters,): middle along the line of the cluster a letter belongs to; ``word``, ``finish``
    (letters,): numbers from 0; ``section`` (letters,) the range a letter lies in, -1 where there is none.
    ``missing``: characters no typeface has; ``borrowed``: characters taken from another typeface.
    """

    glyphs: list[Glyph]
    shaped: Shaped
    places: Floats
    middle: Floats
    word: Ints
    finish: Ints
    section: Ints
    missing: str
    borrowed: str

    @property
    def ems(self) -> Floats:
        return self.shaped.ems

    @property
    def sources(self) -> Ints:
        return self.shaped.sources

    @property
    def line(self) -> Ints:
        return self.shaped.line

    @property
    def em(self) -> float:
        """Metres an em of the first letter."""
        return float(self.ems[0]) if len(self.ems) else 1.0


def joined(arrays: list[Any], like: Any) -> Any:
    """Arrays one after the other; ``like``, without rows, says shape and kind where there are none."""
    return np.concatenate([like, *arrays])


def set_words(
    words: str, setting: Setting, ranges: list[Range] | None = None, finishes: list[int] | None = None
) -> Layout:
    """Shape and place words; lines are split at line feeds.

    ``finishes`` numbers the finish of each of the ``ranges`` (0 is that of the title).
    """
    ranges = ranges or []
    looks = styles(words, setting, ranges, finishes or [0] * len(ranges))
    lines = words.split("\n")
    parts, line, start = [], [], 0
    for number, text in enumerate(lines):
        row = segments(text, start, looks, setting.case)
        parts += row
        line += [number] * len(row)
        start += len(text) + 1
    made = [_shape(part.text, part.style, part.script, part.leftward) for part in parts]
    counts = np.array([len(one.numbers) for one in made], np.int64)

    pairs = list(zip(parts, made, strict=True))
    glyphs = [Glyph(p.style.face.name, p.style.axes, int(n)) for p, one in pairs for n in one.numbers]
    sources = joined([np.array(p.sources, np.int64)[one.clusters] for p, one in pairs], np.empty(0, np.int64))
    ink = np.full((len(glyphs), 2), np.nan)
    if setting.optical:
        ink = np.array([_ink(glyph) for glyph in glyphs]).reshape(-1, 2)
    shaped = Shaped(
        np.repeat([p.style.em for p in parts], counts),
        joined([one.advances for one in made], np.empty(0)),
        joined([one.offsets for one in made], np.empty((0, 2))),
        ink,
        sources,
        np.repeat(np.array(line, np.int64), counts),
        len(lines),
        np.array([joins(one) for one in words], bool)[sources] if len(words) else np.zeros(0, bool),
    )
    section = np.full(len(words), -1, np.int64)
    for index, one in enumerate(ranges):
        section[one.start : one.end] = index
    of_letter = section[sources] if len(words) else sources
    places, middle = spaced(shaped, constant_spacing(shaped, of_letter, setting, ranges))
    return Layout(
        glyphs,
        shaped,
        places[0],
        middle[0],
        _word_numbers(words)[sources] if len(words) else sources,
        np.repeat(np.array([p.style.finish for p in parts], np.int64), counts),
        of_letter,
        "".join(dict.fromkeys("".join(p.missing for p in parts))),
        "".join(dict.fromkeys("".join(p.borrowed for p in parts))),
    )


def constant_spacing(shaped: Shaped, section: Ints, setting: Setting, ranges: list[Range]) -> Spacing:
    """The room between letters as it is set, for one frame."""
    more = np.array([one.tracking for one in ranges] + [0.0])[section]
    lift = np.array([one.lift for one in ranges] + [0.0])[section]
    gap = np.zeros(len(section))
    for name, value in setting.gaps.items():
        gap[shaped.sources == int(name)] = value.value / 1000
    return Spacing(
        (setting.tracking + more)[None] / 1000,
        gap[None],
        lift[None] * setting.size,
        np.array([setting.leading * setting.size]),
        setting.align,
        setting.optical,
    )


def _word_numbers(words: str) -> Ints:
    """The number of the word each character belongs to (spaces to the one before)."""
    numbers = np.zeros(len(words), np.int64)
    for number, found in enumerate(re.finditer(r"\S+\s*", words)):
        numbers[found.start() : found.end()] = number
    return numbers


def _ink(glyph: Glyph) -> tuple[float, float]:
    """Left and right end of a letter's ink in ems; NaN where there is none."""
    outline = glyph_outline(glyph)
    return (
        (np.nan, np.nan)
        if outline.empty
        else (float(outline.controls[..., 0].min()), float(outline.controls[..., 0].max()))
    )


@dataclass(frozen=True)
class _Stretch:
    numbers: Ints
    advances: Floats
    offsets: Floats
    clusters: Ints


@lru_cache(maxsize=2048)
def _shape(text: str, style: Style, script: str, leftward: bool) -> _Stretch:
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
    return _Stretch(
        np.array([info.codepoint for info in infos], dtype=np.int64),
        np.array([p.x_advance for p in positions], dtype=np.float64) / units,
        np.array([(p.x_offset, p.y_offset) for p in positions], dtype=np.float64).reshape(-1, 2) / units,
        np.array([info.cluster for info in infos], dtype=np.int64),
    )
