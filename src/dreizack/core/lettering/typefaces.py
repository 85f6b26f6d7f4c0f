"""Typefaces: those that ship with the application, all under the SIL Open Font License, and those brought
along."""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass, field
from functools import cached_property
from pathlib import Path

import uharfbuzz as hb

from ..library import find, shelves

SHIPPED = Path(__file__).parent / "shipped"
Axes = tuple[tuple[str, float], ...]


@dataclass(frozen=True)
class AxisInfo:
    """An axis of a variable typeface (OpenType fvar)."""

    tag: str
    label: str
    low: float
    default: float
    high: float


@dataclass(frozen=True)
class Typeface:
    """A font file; lengths are handed out in units of the em. ``number`` counts the fonts of a collection."""

    name: str
    label: str
    kind: str
    path: Path = field(repr=False)
    number: int = 0
    brought: bool = False

    @cached_property
    def face(self) -> hb.Face:
        return hb.Face(self.path.read_bytes(), self.number)

    def font(self, axes: Axes = ()) -> hb.Font:
        """The font at a place on its axes."""
        known = self._fonts
        if axes not in known:
            if len(known) > 512:
                known.clear()
            font = hb.Font(self.face)
            if axes:
                font.set_variations(dict(axes))
            known[axes] = font
        return known[axes]

    @cached_property
    def _fonts(self) -> dict[Axes, hb.Font]:
        return {}

    @cached_property
    def units(self) -> int:
        """Font units an em."""
        return int(self.face.upem)

    @cached_property
    def fingerprint(self) -> str:
        """Hash of the file: names everything made from it."""
        return hashlib.blake2b(
            self.path.read_bytes() + bytes([self.number % 256]), digest_size=12
        ).hexdigest()

    @cached_property
    def cap_height(self) -> float:
        """Height of a capital in ems (OpenType OS/2 sCapHeight, else the height of an H)."""
        font = self.font()
        stated = font.get_metric_position(hb.OTMetricsTag.CAP_HEIGHT)
        if not stated or stated <= 0:
            extents = font.get_glyph_extents(font.get_nominal_glyph(ord("H")) or 0)
            stated = extents.y_bearing if extents and extents.y_bearing > 0 else 0.7 * self.units
        return float(stated) / self.units

    @cached_property
    def axes(self) -> tuple[AxisInfo, ...]:
        return tuple(
            AxisInfo(
                axis.tag,
                self.face.get_name(axis.name_id) or axis.tag,
                axis.min_value,
                axis.default_value,
                axis.max_value,
            )
            for axis in self.face.axis_infos
        )

    @cached_property
    def features(self) -> frozenset[str]:
        """OpenType features the typeface knows, by tag."""
        return frozenset(
            tag
            for table in ("GSUB", "GPOS")
            for script in (self.face.get_table_script_tags(table) or [])
            for tag in self.face.get_language_feature_tags(
                table, self.face.get_table_script_tags(table).index(script)
            )
        )

    def has(self, character: str) -> bool:
        return bool(self.font().get_nominal_glyph(ord(character)))


_SHIPPED = [
    ("anton", "Anton", "condensed grotesque", "Anton_400Regular.ttf"),
    ("archivo-black", "Archivo Black", "grotesque", "ArchivoBlack_400Regular.ttf"),
    (
        "barlow-condensed",
        "Barlow Condensed SemiBold",
        "condensed grotesque",
        "BarlowCondensed_600SemiBold.ttf",
    ),
    ("comfortaa", "Comfortaa Bold", "rounded", "Comfortaa_700Bold.ttf"),
    ("playfair-display", "Playfair Display Black", "high-contrast serif", "PlayfairDisplay_900Black.ttf"),
    ("zilla-slab", "Zilla Slab Bold", "slab serif", "ZillaSlab_700Bold.ttf"),
    ("saira-stencil-one", "Saira Stencil One", "stencil", "SairaStencilOne_400Regular.ttf"),
    ("bungee-inline", "Bungee Inline", "inline", "BungeeInline_400Regular.ttf"),
    ("space-mono", "Space Mono Bold", "monospaced", "SpaceMono_700Bold.ttf"),
    ("pacifico", "Pacifico", "script", "Pacifico_400Regular.ttf"),
    ("recursive", "Recursive", "rounded grotesque, variable", "Recursive_Variable.ttf"),
    ("noto-sans", "Noto Sans Bold", "grotesque, Greek, Cyrillic", "NotoSans_700Bold.ttf"),
    ("amiri", "Amiri Bold", "Arabic", "Amiri_700Bold.ttf"),
    ("baloo-2", "Baloo 2 ExtraBold", "rounded, Devanagari", "Baloo2_800ExtraBold.ttf"),
]
_ALL = {name: Typeface(name, label, kind, SHIPPED / file) for name, label, kind, file in _SHIPPED}
_FALLBACKS = ("noto-sans", "amiri", "baloo-2")


def typefaces() -> list[Typeface]:
    """Every typeface on offer: those shipped, then those brought."""
    brought = [_brought(path.stem) for shelf in shelves() for path in sorted(shelf.glob("*.font"))]
    return [*_ALL.values(), *(face for face in brought if face is not None)]


def known(name: str) -> bool:
    """Whether a typeface of this name ships, or was brought."""
    return name in _ALL or _brought(name) is not None


def typeface(name: str) -> Typeface:
    """The typeface of this name, or the first one where it is not known (a shot may outlive a font)."""
    return _ALL.get(name) or _brought(name) or _ALL["anton"]


_taken: dict[str, Typeface] = {}


def _brought(name: str) -> Typeface | None:
    if name not in _taken:
        path, facts = find(f"{name}.font"), find(f"{name}.json")
        if path is None or facts is None:
            return None
        told = json.loads(facts.read_bytes())
        _taken[name] = Typeface(name, str(told["label"]), str(told["kind"]), path, 0, True)
    return _taken[name]


def fallback(character: str) -> Typeface | None:
    """A shipped typeface that has a character."""
    return next((_ALL[name] for name in _FALLBACKS if _ALL[name].has(character)), None)
