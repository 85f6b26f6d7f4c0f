"""Typefaces people bring: read in a sandbox, checked, and put on a shelf of their own."""

from __future__ import annotations

import hashlib
import io
import json
import re
import struct
from pathlib import Path

import uharfbuzz as hb
from fontTools.ttLib import TTCollection, TTFont

from ..files import write_whole
from ..library import shelve
from ..sandbox import FileRefused, Unreadable, sandboxed
from .typefaces import Typeface, typeface

MAX_FONT_BYTES = 40_000_000
MAX_UNPACKED = 120_000_000
MAX_FONTS = 24
MAX_GLYPHS = 66_000


def bring_file(data: bytes, shelf: Path) -> list[Typeface]:
    """Read a font file (TTF, OTF, TTC, WOFF, WOFF2; variable ones too) and put its fonts on the shelf.

    FileRefused, with a sentence, for files that hold no usable font.
    """
    if len(data) > MAX_FONT_BYTES:
        raise FileRefused(f"the font file is larger than {MAX_FONT_BYTES // 1_000_000} MB")
    answer = sandboxed("dreizack.core.lettering.brought:read", data, what="font file")
    (length,) = struct.unpack_from("<I", answer)
    facts, at = json.loads(answer[4 : 4 + length]), 4 + length
    names = []
    for fact in facts:
        font = answer[at : at + fact.pop("bytes")]
        at += len(font)
        digest = hashlib.blake2b(font, digest_size=4).hexdigest()
        slug = re.sub(r"[^a-z0-9]+", "-", fact["label"].lower()).strip("-")[:40].strip("-") or "font"
        names.append(f"{slug}-{digest}")
        write_whole(shelf / f"{names[-1]}.font", font)
        write_whole(shelf / f"{names[-1]}.json", json.dumps(fact).encode())
    shelve(shelf)
    return [typeface(name) for name in names]


def read(data: bytes) -> bytes:
    """In the sandbox: facts (JSON, its length in four bytes before it) and plain fonts, end to end."""
    facts, fonts = [], []
    for font in _fonts(data):
        out = io.BytesIO()
        font.flavor = None
        try:
            label, kind = _named(font), _kind(font)
            font.save(out, reorderTables=None)
        except Exception as why:
            raise Unreadable(
                "the font file is damaged: a table in it cannot be read; save or download it anew"
            ) from why
        plain = out.getvalue()
        if len(plain) > MAX_UNPACKED:
            raise Unreadable(f"the font unpacks to more than {MAX_UNPACKED // 1_000_000} MB")
        _try(plain)
        facts.append({"label": label, "kind": kind, "bytes": len(plain)})
        fonts.append(plain)
    head = json.dumps(facts).encode()
    return struct.pack("<I", len(head)) + head + b"".join(fonts)


def _fonts(data: bytes) -> list[TTFont]:
    if data[:4] not in (b"\0\1\0\0", b"OTTO", b"true", b"ttcf", b"wOFF", b"wOF2"):
        raise Unreadable("this is no font file; bring TTF, OTF, TTC, WOFF or WOFF2")
    try:
        collected = data[:4] == b"ttcf"
        fonts = (
            list(TTCollection(io.BytesIO(data), lazy=False).fonts)
            if collected
            else [TTFont(io.BytesIO(data), lazy=False)]
        )
        if len(fonts) > MAX_FONTS:
            raise Unreadable(f"the collection holds more than {MAX_FONTS} fonts")
        for font in fonts:
            if "cmap" not in font or not any(table in font for table in ("glyf", "CFF ", "CFF2")):
                raise Unreadable(
                    "the font has no outlines that can be extruded; colour or bitmap fonts have no shape"
                )
    except Unreadable:
        raise
    except Exception as why:
        raise Unreadable("the font file is damaged or cut short; save or download it anew") from why
    return fonts


def _named(font: TTFont) -> str:
    names = font.get("name")
    family = names and (names.getDebugName(16) or names.getDebugName(1))
    style = names and (names.getDebugName(17) or names.getDebugName(2))
    text = " ".join(str(part) for part in (family, style) if part and part != "Regular")
    return re.sub(r"[^\x20-\x7e\xa0-\uffff]", "", text)[:80].strip() or "Unnamed font"


_SERIFS = {"rounded": (15,), "grotesque": (11, 12, 13), "slab serif": (6, 7, 8), "serif": (2, 3, 4, 5, 9, 10)}


def _kind(font: TTFont) -> str:
    """The class of a typeface, from its PANOSE classification (OpenType OS/2)."""
    kinds = []
    panose = font["OS/2"].panose if "OS/2" in font else None
    if panose is not None:
        if panose.bFamilyType == 3:
            kinds.append("script")
        elif panose.bFamilyType == 2:
            serif = panose.bSerifStyle
            kinds.append(next((kind for kind, numbers in _SERIFS.items() if serif in numbers), ""))
            if panose.bProportion == 9:
                kinds.append("monospaced")
    if "fvar" in font:
        kinds.append("variable")
    return ", ".join(kind for kind in kinds if kind) or "brought"


def _try(plain: bytes) -> None:
    """Draw glyphs with the shaper itself, so that whatever fails does so here."""
    face = hb.Face(plain)
    if not 0 < face.glyph_count <= MAX_GLYPHS or not 16 <= face.upem <= 16384:
        raise Unreadable("the font states sizes that cannot be; it is damaged")
    font = hb.Font(face)
    drawn = 0
    for number in range(0, face.glyph_count, max(1, face.glyph_count // 400)):
        extents = font.get_glyph_extents(number)
        drawn += bool(extents and extents.width)
    if not drawn:
        raise Unreadable("none of the font's glyphs has a shape")
