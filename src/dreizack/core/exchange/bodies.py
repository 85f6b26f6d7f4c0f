"""A title's body in files other programs read."""

from __future__ import annotations

from typing import Any
from xml.sax.saxutils import escape

import numpy as np
import trimesh
from numpy.typing import NDArray

from ..document import Finish
from ..form import PARTS
from ..form.placed import placed
from ..scene import BodyStore, Form, body_matrices

Floats = NDArray[np.float64]
BODY_FORMATS = ("glb", "obj", "stl", "svg")


def write_body(
    form: Form, worn: list[Finish], kind: str, bodies: BodyStore | None = None, poses: Floats | None = None
) -> bytes:
    """A form as a file of one of :data:`BODY_FORMATS`; metres, y up.

    ``worn`` are its finishes by number, ``poses`` (pieces, 3 or 4, 4) where its pieces stand (by default as
    they rest). GLB and OBJ keep parts and finishes apart, with normals and UVs (glTF 2.0; Wavefront OBJ). STL
    is one closed shell. SVG holds the outlines of the letters in millimetres, curves as curves. ValueError
    for letters without any body.
    """
    if kind == "svg":
        return _svg(form, form.rest if poses is None else poses)
    parts = _parts(form, bodies or BodyStore(), form.rest if poses is None else poses)
    if not parts:
        raise ValueError("there is no body: the words have no letters that can be drawn")
    if kind == "stl":
        return _closed_shell(parts)
    visual: Any = trimesh.visual
    scene: Any = trimesh.Scene()
    for (number, part), (position, normal, uv, triangles) in parts.items():
        finish = worn[number] if number < len(worn) else worn[0]
        material = visual.material.PBRMaterial(
            name="finish" if number == 0 else f"finish {number}",
            baseColorFactor=[*_codes(finish), 255],
            metallicFactor=finish.metallic,
            roughnessFactor=finish.roughness,
        )
        mesh: Any = trimesh.Trimesh(position, triangles, vertex_normals=normal, process=False, validate=False)
        mesh.visual = visual.TextureVisuals(uv=uv, material=material)
        name = part if number == 0 else f"{part} {number}"
        scene.add_geometry(mesh, node_name=name, geom_name=name)
    data = scene.export(file_type=kind, **({"include_normals": True} if kind in ("glb", "obj") else {}))
    return data.encode() if isinstance(data, str) else bytes(data)


Part = tuple[NDArray[np.float32], NDArray[np.float32], NDArray[np.float32], NDArray[np.int64]]


def _parts(form: Form, bodies: BodyStore, poses: Floats) -> dict[tuple[int, str], Part]:
    """Each part of all letters by finish: position, normal, UV, triangles."""
    letters = bodies.letters(form)
    found: dict[tuple[int, str], list[Part]] = {}
    for letter, matrix in zip(letters, body_matrices(letters, poses), strict=True):
        body = bodies.get(letter.body)
        if body is None:
            continue
        for name in PARTS:
            if not len(body.part(name)):
                continue
            used, corners = np.unique(body.part(name), return_inverse=True)
            position, normal = placed(body.position[used], body.normal[used], matrix)
            found.setdefault((letter.finish, name), []).append(
                (position, normal, body.uv[used], corners.reshape(-1, 3))
            )
    joined = {}
    for key in sorted(found, key=lambda key: (key[0], PARTS.index(key[1]))):
        shifts = np.cumsum([0, *(len(part[0]) for part in found[key][:-1])])
        triangles = np.concatenate([part[3] + shift for part, shift in zip(found[key], shifts, strict=True)])
        position, normal, uv = (np.concatenate([part[i] for part in found[key]]) for i in range(3))
        joined[key] = (position, normal, uv, triangles)
    return joined


def _closed_shell(parts: dict[tuple[int, str], Part]) -> bytes:
    """Binary STL; corners of the same place are one, so that the shell is closed."""
    shifts = np.cumsum([0, *(len(part[0]) for part in parts.values())])
    position = np.concatenate([part[0] for part in parts.values()])
    triangles = np.concatenate([part[3] + shift for part, shift in zip(parts.values(), shifts, strict=False)])
    places, weld = np.unique(position, axis=0, return_inverse=True)
    corners = weld.reshape(-1)[triangles]
    whole = (
        (corners[:, 0] != corners[:, 1]) & (corners[:, 1] != corners[:, 2]) & (corners[:, 2] != corners[:, 0])
    )
    mesh: Any = trimesh.Trimesh(places, corners[whole], process=False, validate=False)
    return bytes(mesh.export(file_type="stl"))


def _codes(finish: Finish) -> list[int]:
    """Base colour as glTF's linear factor, in steps of 1/255."""
    colour = finish.base_colour
    return [round(255 * value) for value in (colour.r, colour.g, colour.b)]


def _svg(form: Form, poses: Floats) -> bytes:
    """Outlines as cubic paths, one a letter, as they stand in the title's plane, y down as SVG has it."""
    paths, low, high = [], np.full(2, np.inf), np.full(2, -np.inf)
    for piece, matrix in zip(form.pieces.listed, poses, strict=False):
        controls = piece.outline.controls * piece.em
        points = (controls @ matrix[:2, :2].T + matrix[:2, 3]) * [1000.0, -1000.0]
        low, high = np.minimum(low, points.min(axis=(0, 1))), np.maximum(high, points.max(axis=(0, 1)))
        steps: list[str] = []
        contour = -1
        for (a, b, c, d), line, number in zip(points, piece.outline.line, piece.outline.contour, strict=True):
            if number != contour:
                steps.append(f"{'Z' if steps else ''}M{_pair(a)}")
                contour = number
            steps.append(f"L{_pair(d)}" if line else f"C{_pair(b)} {_pair(c)} {_pair(d)}")
        letter = escape(form.label(piece), {'"': "&quot;"})
        paths.append(f'<path aria-label="{letter}" d="{"".join(steps)}Z"/>')
    if not paths:
        raise ValueError("there is no outline: the words have no letters that can be drawn")
    width, height = high - low
    box = f"{low[0]:.3f} {low[1]:.3f} {width:.3f} {height:.3f}"
    head = (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:.3f}mm" height="{height:.3f}mm" '
        f'viewBox="{box}">'
    )
    return "\n".join([head, *paths, "</svg>", ""]).encode()


def _pair(point: NDArray[np.float64]) -> str:
    return f"{point[0]:.4f} {point[1]:.4f}"
