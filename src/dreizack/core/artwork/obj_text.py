"""OBJ files as other programs write them, in one form that is read."""

from __future__ import annotations

import re

_USES = re.compile(rb"^(usemtl|mtllib)[ \t]+(.*?)[ \t\r]*$", re.MULTILINE)
_NEW = re.compile(rb"^[ \t]*newmtl[ \t]+(.*?)[ \t\r]*$", re.MULTILINE)


def tidied(data: bytes, materials: dict[str, bytes]) -> bytes:
    """An OBJ without tabs and broken lines, whose materials are called as the files of ``materials`` call
    them (by file name), whatever the case; every corner has a texture coordinate, as without them its
    materials would be lost in reading."""
    data = re.sub(rb"\\[ \t]*\r?\n", b" ", data).replace(b"\t", b" ")
    data = re.sub(rb"^ +", b"", data, flags=re.MULTILINE)
    called: dict[bytes, bytes] = {
        name.lower(): name for text in materials.values() for name in _NEW.findall(text)
    }
    called |= {name.lower().encode(): name.encode() for name in materials}

    def named(found: re.Match[bytes]) -> bytes:
        name: bytes = found[2].rsplit(b"/", 1)[-1] if found[1] == b"mtllib" else found[2]
        kind: bytes = found[1]
        return kind + b" " + called.get(name.lower(), name)

    return _with_uv(_USES.sub(named, data))


def has_pictures(materials: dict[str, bytes]) -> bool:
    """Whether materials name pictures, which are not read."""
    return any(re.search(rb"^[ \t]*(map_|bump|disp|norm)", text, re.MULTILINE) for text in materials.values())


def _with_uv(data: bytes) -> bytes:
    if re.search(rb"^vt\s", data, re.MULTILINE):
        return data
    corners = re.compile(rb"(-?\d+)(?:/(?:/(-?\d+))?)?(?=\s|$)")

    def face(found: re.Match[bytes]) -> bytes:
        return b"f " + b" ".join(a + b"/1" + (b"/" + n if n else b"") for a, n in corners.findall(found[1]))

    return b"vt 0 0\n" + re.sub(rb"^f\s+(.*)$", face, data, flags=re.MULTILINE)
