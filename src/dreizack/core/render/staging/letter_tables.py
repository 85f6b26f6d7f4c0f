"""Tables of what the letters of glowing things send, each by itself."""

from __future__ import annotations

from typing import Any

import numpy as np

from ...scene import FrameState
from ..kernel.engine import engine
from .letter_attributes import TINT, letter_glow
from .meshes import PartMesh, letter_areas, moved

mi = engine()

# What the tables are where letters do not differ.
NO_LETTERS_GLOW: dict[str, Any] = {
    "glow_rows": mi.UInt32(np.zeros(2, np.uint32)),
    "glow_ends": mi.UInt32(np.zeros(1, np.uint32)),
    "glow_shares": mi.Float(np.ones(1, np.float32)),
    "glow": mi.Float(np.ones(3, np.float32)),
}


def glow_tables(
    state: FrameState, parts: dict[str, dict[tuple[int, str], PartMesh]], size: int, numbers: dict[str, int]
) -> dict[str, Any] | None:
    """Tables by the ``numbers`` of emitters (of ``size`` in all), whose names they go by; None where none has
    letters that differ."""
    from .stage import part_id, surface_index

    rows = np.zeros((size, 2), np.uint32)
    ends: list[Any] = []
    shares: list[Any] = []
    glows: list[Any] = []
    triangles = 0
    for name, title in state.titles.items():
        if title.looks is None:
            continue
        for (finish, part), mesh in parts[name].items():
            at, surface = part_id(name, finish, part), surface_index(title, finish, part)
            if at not in numbers:
                continue
            picture = title.pictures[surface] if title.pictures else None
            glow = (
                title.looks[mesh.letter_pieces][:, TINT]
                if picture is not None and picture.channel == "emission"
                else letter_glow(title, surface, mesh)
            )
            areas = np.cumsum(letter_areas(mesh, moved(mesh, title.matrix, title.poses)[0]))
            row = len(ends) + 1
            rows[numbers[at]] = row, triangles
            ends.append(mesh.ends + triangles)
            shares.append(row + areas / max(areas[-1], 1e-20))
            glows.append(glow)
            triangles += len(mesh.triangles)
    if not ends:
        return None
    # Few different lengths, as each is a kernel of its own.
    count = sum(map(len, ends))
    beyond = max(16, 1 << count.bit_length()) - count
    last = np.full(beyond, np.iinfo(np.uint32).max, np.uint32)
    return {
        "glow_rows": mi.UInt32(rows.ravel()),
        "glow_ends": mi.UInt32(np.concatenate([*ends, last]).astype(np.uint32)),
        "glow_shares": mi.Float(np.concatenate([*shares, np.full(beyond, 1e9)]).astype(np.float32)),
        "glow": mi.Float(np.concatenate([*glows, np.zeros((beyond, 3))]).astype(np.float32).ravel()),
    }
