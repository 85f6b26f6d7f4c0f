"""A title's letters as arrays in the world, part by part."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ...form import PARTS
from ...scene import BodyState, BodyStore, aspect_of, uv_maps

Floats = NDArray[np.float32]


@dataclass(frozen=True)
class PartMesh:
    """All letters' triangles of one part, each letter in its own space: ``position``, ``normal`` (n, 3),
    ``uv`` (n, 2), ``triangles`` (m, 3), ``piece`` (n,) the piece a point moves with.

    ``ends`` is the end of each letter's triangles, ``sources`` the character each letter comes from,
    ``letter_pieces`` the piece it moves with.
    """

    position: Floats
    normal: Floats
    uv: Floats
    piece: NDArray[np.int32]
    triangles: NDArray[np.uint32]
    ends: NDArray[np.int64]
    sources: NDArray[np.int64]
    letter_pieces: NDArray[np.int64]

    def source_of(self, triangle: int) -> int:
        """The character that a triangle belongs to."""
        return int(
            self.sources[min(int(np.searchsorted(self.ends, triangle, side="right")), len(self.sources) - 1)]
        )


def body_parts(title: BodyState, bodies: BodyStore) -> dict[tuple[int, str], PartMesh]:
    """Meshes of a title by finish and part, its letters each in its own space; those without triangles are
    left out."""
    letters = [(letter, bodies.get(letter.body)) for letter in bodies.letters(title.form)]
    pieces: dict[tuple[int, str], list[_Piece]] = {}
    for letter, body in letters:
        if body is None:
            continue
        position = (
            body.position + np.array([0, 0, letter.shift], np.float32) if letter.shift else body.position
        )
        for part in PARTS:
            triangles = body.part(part)
            if not len(triangles):
                continue
            low, high = int(triangles.min()), int(triangles.max()) + 1
            mesh = (
                position[low:high],
                body.normal[low:high],
                body.uv[low:high],
                triangles.astype(np.int64) - low,
                letter.source,
                letter.piece,
            )
            pieces.setdefault((letter.finish, part), []).append(mesh)
    return {
        key: _joined(pieces[key]) for key in sorted(pieces, key=lambda key: (key[0], PARTS.index(key[1])))
    }


def picture_uv(title: BodyState, bodies: BodyStore) -> dict[tuple[int, str], Floats]:
    """Picture coordinates (n, 2) of those meshes of a title whose surface has a picture, in the order of
    :func:`body_parts`."""
    if not any(title.pictures):
        return {}
    letters = bodies.letters(title.form)
    built = [bodies.get(letter.body) for letter in letters]
    lying = {
        number: uv_maps(
            picture,
            title.texture_transform[number],
            aspect_of(picture),
            letters,
            built,
            title.matrix,
            title.poses,
        )
        for number, picture in enumerate(title.pictures)
        if picture is not None
    }
    found: dict[tuple[int, str], list[Floats]] = {}
    for index, (letter, body) in enumerate(zip(letters, built, strict=True)):
        if body is None:
            continue
        for place, part in enumerate(PARTS):
            number = int(title.surface_index[min(letter.finish, len(title.surface_index) - 1), place])
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


_Piece = tuple[Floats, Floats, Floats, NDArray[np.int64], int, int]


def _joined(meshes: list[_Piece]) -> PartMesh:
    counts = [len(mesh[0]) for mesh in meshes]
    shifts = np.cumsum([0, *counts[:-1]])
    triangles = np.concatenate([mesh[3] + shift for mesh, shift in zip(meshes, shifts, strict=True)])
    position, normal, uv = (np.concatenate([mesh[i] for mesh in meshes]) for i in (0, 1, 2))
    ends = np.cumsum([len(mesh[3]) for mesh in meshes])
    piece = np.repeat(np.array([mesh[5] for mesh in meshes], np.int32), counts)
    return PartMesh(
        position,
        normal,
        uv,
        piece,
        triangles.astype(np.uint32),
        ends,
        np.array([mesh[4] for mesh in meshes]),
        np.array([mesh[5] for mesh in meshes], np.int64),
    )


def letter_areas(mesh: PartMesh, position: Floats) -> NDArray[np.float64]:
    """Area (letters,) of the triangles of each letter of a mesh whose points stand at ``position`` (n, 3)."""
    a, b, c = (position[mesh.triangles[:, k]].astype(np.float64) for k in range(3))
    areas = np.linalg.norm(np.cross(b - a, c - a), axis=1) / 2
    starts = np.concatenate([[0], mesh.ends[:-1]])
    found: NDArray[np.float64] = np.add.reduceat(areas, starts)
    return found


def moved(mesh: PartMesh, matrix: NDArray[np.float64], poses: NDArray[np.float64]) -> tuple[Floats, Floats]:
    """Position and unit normal (n, 3) in the world, of letters at ``poses`` (pieces, 3, 4); normals by the
    inverse transpose."""
    world = matrix[:3, :3] @ poses
    world[..., 3] += matrix[:3, 3]
    linear = world[..., :3]
    position = _gathered(world.astype(np.float32), mesh.piece, mesh.position)
    # Where something is drawn together to nothing it has no normals; any will do.
    flat = np.abs(np.linalg.det(linear)) < 1e-12
    inverse = np.linalg.inv(np.where(flat[:, None, None], np.eye(3), linear)).swapaxes(-1, -2)
    normal = _gathered(
        np.concatenate([inverse, np.zeros((len(inverse), 3, 1))], axis=2).astype(np.float32),
        mesh.piece,
        mesh.normal,
    )
    normal /= np.maximum(np.sqrt(np.einsum("ni,ni->n", normal, normal))[:, None], 1e-12)
    return position, normal


def _gathered(matrices: Floats, piece: NDArray[np.int32], points: Floats) -> Floats:
    """Points (n, 3) under the matrix (pieces, 3, 4) of the piece each belongs to."""
    if len(matrices) == 1:
        return points @ matrices[0, :, :3].T + matrices[0, :, 3]
    of = matrices[piece]
    made: Floats = of[:, :, 0] * points[:, :1]
    made += of[:, :, 1] * points[:, 1:2]
    made += of[:, :, 2] * points[:, 2:]
    made += of[:, :, 3]
    return made
