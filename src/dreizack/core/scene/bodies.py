"""Forms and the bodies of their letters, each made once and named by its content."""

from __future__ import annotations

import hashlib
import threading
from collections import OrderedDict, deque
from collections.abc import Iterable
from dataclasses import astuple, dataclass
from functools import lru_cache

from ..form import GlyphBody, build_bodies, profile
from ..lettering import Layout, glyph_outline, set_words, typeface

# Share of the depth that lies before the plane of the words.
FORWARD = {"both": 0.5, "forward": 1.0, "back": 0.0}
# Chords stay within this share of the em: a quarter pixel for a capital a third of 1080 high.
TOLERANCE_EMS = 0.0006


@dataclass(frozen=True)
class Form:
    """Everything that shapes the letters of a title at one moment; lengths in metres."""

    words: str
    typeface: str
    size: float
    tracking: float
    leading: float
    align: str
    depth: float
    front: tuple[str, float, float]
    back: tuple[str, float, float]
    direction: str = "both"

    def layout(self) -> Layout:
        """The words, set."""
        return _layout(self.words, self.typeface, self.size, self.tracking, self.leading, self.align)

    def body_key(self, glyph: int) -> str:
        """Name of one letter's body: a hash of all that shapes it."""
        shape = (typeface(self.typeface).fingerprint, glyph, self.size, self.depth, self.direction, self.front, self.back)
        return hashlib.blake2b(repr(shape).encode(), digest_size=12).hexdigest()

    @property
    def key(self) -> str:
        """Name of the whole form."""
        return hashlib.blake2b(repr(astuple(self)).encode(), digest_size=12).hexdigest()


_layout = lru_cache(maxsize=256)(set_words)


@dataclass(frozen=True)
class LetterBody:
    """One letter of a set title: its body's name, its place in metres, the character it stands for."""

    body: str
    x: float
    y: float
    source: int


class BodyStore:
    """Keeps the most recently used bodies; safe to share between threads."""

    def __init__(self, limit: int = 4096) -> None:
        self._bodies: OrderedDict[str, GlyphBody] = OrderedDict()
        self._built: deque[tuple[int, str]] = deque(maxlen=512)
        self._count = 0
        self._limit = limit
        self._lock = threading.Lock()

    def letters(self, form: Form) -> list[LetterBody]:
        """The letters of a form; bodies not yet known are built together."""
        layout = form.layout()
        names = {int(g): form.body_key(int(g)) for g in dict.fromkeys(layout.glyphs.tolist())}
        self._build(form, layout.em, names)
        return [
            LetterBody(names[int(glyph)], float(place[0]), float(place[1]), int(source))
            for glyph, place, source in zip(layout.glyphs, layout.places, layout.sources, strict=True)
            if not self._bodies[names[int(glyph)]].empty
        ]

    def get(self, name: str) -> GlyphBody | None:
        """A body by name, if it is (still) here."""
        with self._lock:
            body = self._bodies.get(name)
            if body is not None:
                self._bodies.move_to_end(name)
            return body

    def mark(self) -> int:
        """A moment, for :meth:`since`."""
        return self._count

    def since(self, mark: int) -> list[str]:
        """Names of the bodies built after a moment (the latest few hundred at most)."""
        with self._lock:
            return [name for count, name in self._built if count > mark]

    def limited(self, letters: Iterable[LetterBody]) -> set[int]:
        """Sources of the letters whose edges had to be limited."""
        return {letter.source for letter in letters if (b := self.get(letter.body)) is not None and b.limited}

    def _build(self, form: Form, em: float, names: dict[int, str]) -> None:
        with self._lock:
            lacking = [glyph for glyph, name in names.items() if name not in self._bodies]
            tolerance = em * TOLERANCE_EMS
            front, back = (profile(kind, reach, rise, tolerance) for kind, reach, rise in (form.front, form.back))
            if form.front == form.back:
                back = front
            outlines = [glyph_outline(form.typeface, glyph) for glyph in lacking]
            built = build_bodies(outlines, em, form.depth, front, back, tolerance, FORWARD[form.direction]) if lacking else []
            for glyph, body in zip(lacking, built, strict=True):
                self._bodies[names[glyph]] = body
                self._count += 1
                self._built.append((self._count, names[glyph]))
            for name in names.values():
                self._bodies.move_to_end(name)
            while len(self._bodies) > max(self._limit, len(names)):
                self._bodies.popitem(last=False)
