"""The typefaces that ship with the application, all under the SIL Open Font License."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass, field
from functools import cached_property
from pathlib import Path

import uharfbuzz as hb

SHIPPED = Path(__file__).parent / "shipped"


@dataclass(frozen=True)
class Typeface:
    """A font file; lengths are handed out in units of the em."""

    name: str
    label: str
    kind: str
    path: Path = field(repr=False)

    @cached_property
    def font(self) -> hb.Font:
        return hb.Font(hb.Face(self.path.read_bytes()))

    @cached_property
    def units(self) -> int:
        """Font units an em."""
        return int(self.font.face.upem)

    @cached_property
    def fingerprint(self) -> str:
        """Hash of the file: names everything made from it."""
        return hashlib.blake2b(self.path.read_bytes(), digest_size=12).hexdigest()

    @cached_property
    def cap_height(self) -> float:
        """Height of a capital in ems (OpenType OS/2 sCapHeight, else the height of an H)."""
        stated = self.font.get_metric_position(hb.OTMetricsTag.CAP_HEIGHT)
        if not stated:
            extents = self.font.get_glyph_extents(self.font.get_nominal_glyph(ord("H")) or 0)
            stated = extents.y_bearing if extents else 0.7 * self.units
        return float(stated) / self.units


_SHIPPED = [
    ("anton", "Anton", "condensed grotesque", "Anton_400Regular.ttf"),
    ("archivo-black", "Archivo Black", "grotesque", "ArchivoBlack_400Regular.ttf"),
    ("barlow-condensed", "Barlow Condensed SemiBold", "condensed grotesque", "BarlowCondensed_600SemiBold.ttf"),
    ("comfortaa", "Comfortaa Bold", "rounded", "Comfortaa_700Bold.ttf"),
    ("playfair-display", "Playfair Display Black", "high-contrast serif", "PlayfairDisplay_900Black.ttf"),
    ("zilla-slab", "Zilla Slab Bold", "slab serif", "ZillaSlab_700Bold.ttf"),
    ("saira-stencil-one", "Saira Stencil One", "stencil", "SairaStencilOne_400Regular.ttf"),
    ("bungee-inline", "Bungee Inline", "inline", "BungeeInline_400Regular.ttf"),
    ("space-mono", "Space Mono Bold", "monospaced", "SpaceMono_700Bold.ttf"),
    ("pacifico", "Pacifico", "script", "Pacifico_400Regular.ttf"),
    ("noto-sans", "Noto Sans Bold", "grotesque, Greek, Cyrillic", "NotoSans_700Bold.ttf"),
    ("amiri", "Amiri Bold", "Arabic", "Amiri_700Bold.ttf"),
    ("baloo-2", "Baloo 2 ExtraBold", "rounded, Devanagari", "Baloo2_800ExtraBold.ttf"),
]
_ALL = {name: Typeface(name, label, kind, SHIPPED / file) for name, label, kind, file in _SHIPPED}


def typefaces() -> list[Typeface]:
    """Every typeface on offer, by name."""
    return list(_ALL.values())


def typeface(name: str) -> Typeface:
    """The typeface of this name, or the first one where it is not known (a shot may outlive a font)."""
    return _ALL.get(name, _ALL["anton"])
