"""Imported objects as bodies: one a part, all of it its face."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterator

import numpy as np

from ..artwork.meshes import MeshParts, unpacked
from ..caching import cached_by_size
from ..document import UNITS, Mesh
from ..form import GlyphBody
from ..library import find

TURNS = {
    "y": np.eye(3),
    "z": np.array([[1.0, 0, 0], [0, 0, 1], [0, -1, 0]]),
    "x": np.array([[0.0, -1, 0], [1, 0, 0], [0, 0, 1]]),
}


def mesh_letters(mesh: Mesh) -> Iterator[tuple[str, int, Callable[[], GlyphBody]]]:
    """Name, finish and maker of each part of an object; nothing where its file is not in the library."""
    parts = _parts(mesh.file)
    if parts is None or not parts.parts:
        return
    stem = hashlib.blake2b(
        f"{mesh.file}/{mesh.unit}/{mesh.up}/{mesh.centred}/{mesh.fitted}".encode(), digest_size=12
    ).hexdigest()
    turn = TURNS[mesh.up] * UNITS[mesh.unit]
    corners = np.concatenate([position @ turn.T for position, _, _, _ in parts.parts])
    low, high = corners.min(axis=0), corners.max(axis=0)
    scale = mesh.fitted / max(float((high - low).max()), 1e-9) if mesh.fitted > 0 else 1.0
    foot = np.array([(low[0] + high[0]) / 2, low[1], (low[2] + high[2]) / 2]) if mesh.centred else np.zeros(3)
    for number, (position, normal, uv, triangles) in enumerate(parts.parts):

        def make(p=position, n=normal, u=uv, t=triangles) -> GlyphBody:  # type: ignore[no-untyped-def]
            placed = ((p @ turn.T - foot) * scale).astype(np.float32)
            facing = (n @ TURNS[mesh.up].T).astype(np.float32)
            count = len(t)
            return GlyphBody(placed, facing, u, t, (count, count, count, count), False)

        yield f"{stem}-{number}", min(number, len(mesh.finishes) - 1), make


@cached_by_size(96)
def _parts(file: str) -> MeshParts | None:
    path = find(file)
    return unpacked(path.read_bytes()) if path is not None else None
