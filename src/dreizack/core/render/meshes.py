"""A title's letters as arrays in the world, part by part."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..form import PARTS
from ..form.placed import placed
from ..scene import BodyStore, TitleState, aspect_of, laid

Floats = NDArray[np.float32]


@dataclass(frozen=True)
class PartMesh:
    """All letters' triangles of one part: ``position``, ``normal`` (n, 3), ``uv`` (n, 2), ``triangles`` (m, 3).

    ``ends`` is the end of each letter's triangles, ``sources`` the character each letter comes from.
    """

    position: Floats
    normal: Floats
    uv: Floats
    triangles: NDArray[np.uint32]
    ends: NDArray[np.int64]
    sources: NDArray[np.int64]

    def source_of(self, triangle: int) -> int:
        """The character that a triangle belongs to."""
        return int(self.sources[min(int(np.searchsorted(self.ends, triangle, side="right")), len(self.sources) - 1)])


def title_parts(title: TitleState, bodies: BodyStore) -> dict[tuple[int, str], PartMesh]:
    """Meshes of a title in its own space by finish and part; those without triangles are left out."""
    letters = [(letter, bodies.get(letter.body)) for letter in bodies.letters(title.form)]
    pieces: dict[tuple[int, str], list[_Piece]] = {}
    for letter, body in letters:
        if body is None:
            continue
        position, normal = placed(body.position, body.normal, letter.matrix)
        for part in PARTS:
            triangles = body.part(part)
            if not len(triangles):
                continue
            low, high = int(triangles.min()), int(triangles.max()) + 1
            mesh = (position[low:high], normal[low:high], body.uv[low:high], triangles.astype(np.int64) - low, letter.source)
            pieces.setdefault((letter.finish, part), []).append(mesh)
    return {key: _joined(pieces[key]) for key in sorted(pieces, key=lambda key: (key[0], PARTS.index(key[1])))}


def picture_uv(title: TitleState, bodies: BodyStore) -> dict[tuple[int, str], Floats]:
    """Picture coordinates (n, 2) of those meshes of a title whose surface has a picture, in the order of :func:`title_parts`."""
    if not any(title.pictures):
        return {}
    letters = bodies.letters(title.form)
    built = [bodies.get(letter.body) for letter in letters]
    lying = {
        number: laid(picture, title.placing[number], aspect_of(picture), letters, built, title.matrix)
        for number, picture in enumerate(title.pictures) if picture is not None
    }
    found: dict[tuple[int, str], list[Floats]] = {}
    for index, (letter, body) in enumerate(zip(letters, built, strict=True)):
        if body is None:
            continue
        for place, part in enumerate(PARTS):
            number = int(title.worn[min(letter.finish, len(title.worn) - 1), place])
            triangles = body.part(part)
            if number not in lying or not len(triangles):
                continue
            low, high = int(triangles.min()), int(triangles.max()) + 1
            lies = lying[number][index]
            if lies.running and part in ("wall", "bevel"):
                uv = body.uv[low:high] @ lies.run[:, :2].T + lies.run[:, 2]
            else:
                uv = body.position[low:high] @ lies.plane[:, :3].T + lies.plane[:, 3]
            found.setdefault((letter.finish, part), []).append(uv.astype(np.float32))
    return {key: np.concatenate(pieces) for key, pieces in found.items()}


_Piece = tuple[Floats, Floats, Floats, NDArray[np.int64], int]


def _joined(meshes: list[_Piece]) -> PartMesh:
    shifts = np.cumsum([0, *(len(mesh[0]) for mesh in meshes[:-1])])
    triangles = np.concatenate([mesh[3] + shift for mesh, shift in zip(meshes, shifts, strict=True)])
    position, normal, uv = (np.concatenate([mesh[i] for mesh in meshes]) for i in (0, 1, 2))
    ends = np.cumsum([len(mesh[3]) for mesh in meshes])
    return PartMesh(position, normal, uv, triangles.astype(np.uint32), ends, np.array([mesh[4] for mesh in meshes]))


def moved(mesh: PartMesh, matrix: NDArray[np.float64]) -> tuple[Floats, Floats]:
    """Position and normal in the world."""
    return placed(mesh.position, mesh.normal, matrix)
