"""Lines cut into stretches of one typeface, script and direction, as HarfBuzz wants them."""

from __future__ import annotations

from dataclasses import dataclass

from fontTools import unicodedata as scripts

from ..document import Range, Setting
from .bidi import levels, visual_order
from .typefaces import Axes, Typeface, fallback, typeface

SMALL_CAPS = 0.8
# Joiners, marks and selectors go with what they stand beside.
_WITH_BEFORE = {0x200C, 0x200D, 0xFE0E, 0xFE0F, 0x20E3}


@dataclass(frozen=True)
class Style:
    """How a stretch is set: typeface and place on its axes, metres an em, tracking in ems, lift in metres,
    finish."""

    face: Typeface
    axes: Axes
    em: float
    tracking: float
    lift: float
    finish: int
    features: tuple[tuple[str, int], ...]


@dataclass(frozen=True)
class Segment:
    """Characters from ``start`` on that are shaped together; ``text`` may differ from what was typed
    (case)."""

    text: str
    sources: tuple[int, ...]
    style: Style
    script: str
    leftward: bool
    missing: str
    borrowed: str


def styles(words: str, setting: Setting, ranges: list[Range], finishes: list[int]) -> list[Style]:
    """The style of each character; ``finishes`` numbers the finish of each range."""
    features = _features(setting)
    axes = tuple(sorted((tag, axis.value) for tag, axis in setting.axes.items()))
    face = typeface(setting.typeface)
    plain = Style(
        face, _on(face, axes), setting.size / face.cap_height, setting.tracking / 1000, 0.0, 0, features
    )
    found = [plain] * len(words)
    for section, finish in zip(ranges, finishes, strict=True):
        own = typeface(section.typeface) if section.typeface else face
        style = Style(
            own,
            _on(own, axes),
            setting.size * section.size / own.cap_height,
            (setting.tracking + section.tracking) / 1000,
            section.lift * setting.size,
            finish,
            features,
        )
        for i in range(section.start, min(section.end, len(words))):
            found[i] = style
    return found


def _on(face: Typeface, axes: Axes) -> Axes:
    """Only the axes a typeface has, within their limits."""
    limits = {axis.tag: axis for axis in face.axes}
    return tuple(
        (tag, min(max(value, limits[tag].low), limits[tag].high)) for tag, value in axes if tag in limits
    )


def _features(setting: Setting) -> tuple[tuple[str, int], ...]:
    found: dict[str, int] = {} if setting.kerning else {"kern": 0}
    for word in setting.features.split():
        tag, _, value = word.lstrip("+-").partition("=")
        found[tag] = int(value) if value else int(not word.startswith("-"))
    return tuple(sorted(found.items()))


def segments(line: str, start: int, looks: list[Style], case: str) -> list[Segment]:
    """A line's segments from left to right; ``start`` is the place of its first character in the words."""
    units: list[tuple[str, int, Style, bool]] = []
    direction = levels(line)
    for i, character in enumerate(line):
        shown, style = _cased(character, looks[start + i], case)
        borrowed = False
        before = units[-1] if units and units[-1][1] == start + i - 1 else None
        if before is not None and (ord(character) in _WITH_BEFORE or scripts.combining(character)):
            style, borrowed = before[2], before[3]
        elif not character.isspace() and not all(style.face.has(c) for c in shown):
            other = fallback(shown[0])
            if other is not None:
                size = style.em * style.face.cap_height
                style = Style(
                    other,
                    (),
                    size / other.cap_height,
                    style.tracking,
                    style.lift,
                    style.finish,
                    style.features,
                )
                borrowed = True
        units += [(c, start + i, style, borrowed) for c in shown]
    of_source = {start + i: level for i, level in enumerate(direction)}
    runs: list[list[tuple[str, int, Style, bool]]] = []
    script_before = ""
    for unit in units:
        script = scripts.script(unit[0])
        common = script in ("Zyyy", "Zinh", "Zzzz")
        if runs:
            last = runs[-1][-1]
            same = (
                last[2] == unit[2]
                and of_source[last[1]] == of_source[unit[1]]
                and (common or script_before in ("", script))
            )
            if same:
                runs[-1].append(unit)
                script_before = script_before or ("" if common else script)
                continue
        runs.append([unit])
        script_before = "" if common else script
    found = [_segment(run, of_source[run[0][1]]) for run in runs]
    order = visual_order([of_source[run[0][1]] for run in runs])
    return [found[i] for i in order]


def _cased(character: str, style: Style, case: str) -> tuple[str, Style]:
    if case == "upper":
        return character.upper(), style
    if case == "lower":
        return character.lower(), style
    if case == "small caps" and character.upper() != character:
        if "smcp" in style.face.features:
            return character, Style(
                style.face,
                style.axes,
                style.em,
                style.tracking,
                style.lift,
                style.finish,
                (*style.features, ("smcp", 1)),
            )
        return character.upper(), Style(
            style.face,
            style.axes,
            style.em * SMALL_CAPS,
            style.tracking,
            style.lift,
            style.finish,
            style.features,
        )
    return character, style


def _segment(run: list[tuple[str, int, Style, bool]], level: int) -> Segment:
    text = "".join(unit[0] for unit in run)
    style = run[0][2]
    script = next((s for s in map(scripts.script, text) if s not in ("Zyyy", "Zinh", "Zzzz")), "Zyyy")
    missing = "".join(
        c
        for c in text
        if not c.isspace() and not style.face.has(c) and ord(c) not in _WITH_BEFORE and not _unseen(c)
    )
    borrowed = "".join(unit[0] for unit in run if unit[3])
    return Segment(text, tuple(unit[1] for unit in run), style, script, level % 2 == 1, missing, borrowed)


def _unseen(character: str) -> bool:
    """Format characters and controls have no picture and are not missed."""
    return scripts.category(character) in ("Cf", "Cc", "Zs", "Zl", "Zp")
