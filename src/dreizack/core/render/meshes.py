"""A title's letters as arrays in the world, part by part."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..form import PARTS
from ..scene import BodyStore, TitleState

Floats = NDArray[np.float32]


@dataclass(frozen=True)
class PartMesh:
    """All letters' triangles of one part: ``position``, ``normal`` (n, 3), ``uv`` (n, 2), ``triangles`` (m, 3)."""

    position: Floats
    normal: Floats
    uv: Floats
    triangles: NDArray[np.uint32]


def title_parts(title: TitleState, bodies: BodyStore) -> dict[str, PartMesh]:
    """Parts of a title that have any triangles, in the title's own space."""
    letters = bodies.letters(title.form)
    parts = {}
    for part in PARTS:
        pieces, base = [], 0
        for letter in letters:
            body = bodies.get(letter.body)
            if body is None:
                continue
            triangles = body.part(part)
            if not len(triangles):
                continue
            low, high = int(triangles.min()), int(triangles.max()) + 1
            shift = np.array([letter.x, letter.y, 0], dtype=np.float32)
            pieces.append((body.position[low:high] + shift, body.normal[low:high], body.uv[low:high], triangles - low + base))
            base += high - low
        if pieces:
            position, normal, uv, triangles = (np.concatenate(column) for column in zip(*pieces, strict=True))
            parts[part] = PartMesh(position, normal, uv, triangles.astype(np.uint32))
    return parts


def moved(mesh: PartMesh, matrix: NDArray[np.float64]) -> tuple[Floats, Floats]:
    """Position and normal in the world; normals by the inverse transpose."""
    linear = matrix[:3, :3].astype(np.float32)
    position = mesh.position @ linear.T + matrix[:3, 3].astype(np.float32)
    normal = mesh.normal @ np.linalg.inv(matrix[:3, :3]).astype(np.float32)
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-12)
    return position, normal
