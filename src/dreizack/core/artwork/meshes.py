"""Imported objects: OBJ with MTL, GLB, PLY and STL, read in a sandbox, kept as plain arrays."""

from __future__ import annotations

import io
import json
import struct
import zipfile
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..document.plain_text import cleaned
from ..library import adopt
from ..sandbox import FileRefused, Unreadable, sandboxed_file
from .obj_text import has_pictures, tidied

MAX_BYTES = 60_000_000
MAX_TRIANGLES = 1_500_000
MAX_PARTS = 32
KINDS = ("obj", "glb", "ply", "stl", "zip")
# A crease sharper than this, in degrees, stays one where a file has no normals.
CREASE = 40.0
# Triangles around one point that are looked at.
MOST_AROUND = 64

Part = tuple[NDArray[np.float32], NDArray[np.float32], NDArray[np.float32], NDArray[np.uint32]]


@dataclass(frozen=True)
class MeshParts:
    """Parts by material: position, normal (n, 3), uv (n, 2), triangles (m, 3); their names and finishes.

    ``finishes``: base colour (scene-linear), metallic and roughness of each.
    """

    parts: list[Part]
    names: list[str]
    finishes: list[dict[str, Any]]
    left_out: list[str] = field(default_factory=list)


@dataclass(frozen=True)
class MeshFacts:
    """An object on a shelf: its file, its parts' names and finishes, what was left out, size in its own
    units, triangles."""

    file: str
    names: list[str]
    finishes: list[dict[str, Any]]
    left_out: list[str]
    size: tuple[float, float, float]
    triangles: int


def bring_mesh(source: bytes | Path, kind: str, folder: Path) -> MeshFacts:
    """Read an object in a sandbox and put it on a shelf; its arrays never come into this process.

    FileRefused for what is no mesh of these kinds, too large or damaged.
    """
    if kind not in KINDS:
        raise FileRefused(
            f"'{kind[:8]}' is none of the formats that are read: OBJ (with its MTL in a ZIP), GLB, PLY, STL"
        )
    if (len(source) if isinstance(source, bytes) else source.stat().st_size) > MAX_BYTES:
        raise FileRefused(f"the mesh is larger than {MAX_BYTES // 1_000_000} MB; reduce it")
    made = sandboxed_file(
        "dreizack.core.artwork.meshes:packed",
        source,
        folder,
        what="mesh",
        seconds=30,
        megabytes=2500,
        kind=kind,
    )
    with made.open("rb") as file:
        (length,) = struct.unpack("<I", file.read(4))
        head = json.loads(file.read(length))
    x, y, z = head["size"]
    triangles = sum(count for _, count in head["counts"])
    return MeshFacts(
        adopt(folder, made, "mesh", "mesh"),
        head["names"],
        head["finishes"],
        head["left_out"],
        (x, y, z),
        triangles,
    )


def packed(data: bytes, kind: str) -> bytes:
    """In the sandbox: a header (JSON, its length in four bytes before it), then the arrays end to end."""
    found = _read(data, kind)
    counts = [(len(p[0]), len(p[3])) for p in found.parts]
    corners = np.concatenate([part[0] for part in found.parts])
    facts = {
        "counts": counts,
        "names": found.names,
        "finishes": found.finishes,
        "left_out": found.left_out,
        "size": np.ptp(corners, axis=0).tolist(),
    }
    head = json.dumps(facts, allow_nan=False).encode()
    return (
        struct.pack("<I", len(head))
        + head
        + b"".join(np.ascontiguousarray(array).tobytes() for part in found.parts for array in part)
    )


def unpacked(data: bytes) -> MeshParts:
    """What :func:`packed` has made."""
    (length,) = struct.unpack_from("<I", data)
    head, at = json.loads(data[4 : 4 + length]), 4 + length
    # Files of before have none.
    head.pop("size", None)
    parts: list[Part] = []
    for points, triangles in head.pop("counts"):
        arrays: list[Any] = []
        for shape, kind in (
            ((points, 3), np.float32),
            ((points, 3), np.float32),
            ((points, 2), np.float32),
            ((triangles, 3), np.uint32),
        ):
            arrays.append(np.frombuffer(data, kind, shape[0] * shape[1], at).reshape(shape))
            at += arrays[-1].nbytes
        parts.append((arrays[0], arrays[1], arrays[2], arrays[3]))
    return MeshParts(parts, **head)


def _read(data: bytes, kind: str) -> MeshParts:
    # Loaded where it is used: the other readers should not wait for it.
    import trimesh

    resolver: Any = None
    materials: dict[str, bytes] = {}
    if kind == "zip":
        data, kind, materials = _from_zip(data)
        resolver = trimesh.resolvers.ZipResolver({name: io.BytesIO(file) for name, file in materials.items()})
    by_name = kind == "obj"
    if by_name:
        data = tidied(data, materials)
    try:
        scene = trimesh.load_scene(io.BytesIO(data), file_type=kind, resolver=resolver, process=False)
    except MemoryError:
        raise
    except Exception as why:
        raise Unreadable(f"the file is no {kind.upper()} that can be read; save it anew") from why
    meshes = []
    known = list(scene.geometry)
    for node in sorted(scene.graph.nodes_geometry, key=lambda node: known.index(scene.graph[node][1])):
        place, name = scene.graph[node]
        found = scene.geometry[name]
        if isinstance(found, trimesh.Trimesh) and len(found.faces):
            found = found.copy()
            if not np.allclose(place, np.eye(4)):
                found.apply_transform(place)
            found.metadata["name"] = name
            meshes.append(found)
    if not meshes:
        raise Unreadable("the file holds no triangles; points and lines have no surface")
    if sum(len(m.faces) for m in meshes) > MAX_TRIANGLES:
        raise Unreadable(f"the mesh has more than {MAX_TRIANGLES} triangles; reduce it")
    left_out = []
    if len(meshes) > MAX_PARTS:
        left_out.append(f"parts beyond the {MAX_PARTS}th are joined to it")
        rest: Any = trimesh.util.concatenate(meshes[MAX_PARTS - 1 :])
        meshes = [*meshes[: MAX_PARTS - 1], rest]
    parts, names, finishes = [], [], []
    for number, mesh in enumerate(meshes):
        part = _part(mesh)
        if part is None:
            left_out.append("parts whose points are no numbers, or that have no area")
            continue
        # What reads an OBJ makes a grey material up where there is none.
        material = getattr(mesh.visual, "material", None) if materials or not by_name else None
        parts.append(part)
        named = cleaned(str(getattr(material, "name", None) or mesh.metadata.get("name") or ""), 60)
        names.append(named or f"part {number + 1}")
        finishes.append(_finish(material))
        if getattr(material, "baseColorTexture", None) is not None or has_pictures(materials):
            left_out.append("pictures on surfaces")
    if not parts:
        raise Unreadable(
            "no part of the mesh has a sound surface: its points are no numbers, or its faces have no area"
        )
    return MeshParts(parts, names, finishes, sorted(set(left_out)))


def _from_zip(data: bytes) -> tuple[bytes, str, dict[str, bytes]]:
    """An OBJ with its materials, from a ZIP; nothing in it may unpack to more than is read of a plain
    file."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            infos = [info for info in archive.infolist() if not info.is_dir()]
            if sum(info.file_size for info in infos) > 4 * MAX_BYTES or len(infos) > 500:
                raise Unreadable(
                    "the archive unpacks to more than is read; bring only the mesh and its materials"
                )
            files = {
                info.filename.rsplit("/", 1)[-1]: archive.read(info)
                for info in infos
                if info.filename.lower().endswith((".obj", ".mtl"))
            }
    except (zipfile.BadZipFile, RuntimeError, OSError, NotImplementedError) as why:
        raise Unreadable("the archive is damaged or locked") from why
    name = next((name for name in files if name.lower().endswith(".obj")), None)
    if name is None:
        raise Unreadable("the archive holds no OBJ file")

    return files.pop(name), "obj", files


def _part(mesh: Any) -> Part | None:
    position = np.asarray(mesh.vertices, np.float64)
    triangles = np.asarray(mesh.faces, np.int64)
    if (
        not np.isfinite(position).all()
        or np.abs(position).max(initial=0) > 1e7
        or triangles.min() < 0
        or triangles.max() >= len(position)
    ):
        return None
    triangles = triangles[_has_area(position, triangles)]
    if not len(triangles):
        return None
    given = mesh._cache.cache.get("vertex_normals")
    uv = getattr(mesh.visual, "uv", None)
    if given is not None and np.isfinite(given).all():
        normal = np.asarray(given, np.float64)
    else:
        position, triangles, normal, uv = _creased(position, triangles, uv)
    if uv is None or len(uv) != len(position) or not np.isfinite(uv).all():
        uv = np.zeros((len(position), 2))
    return (
        position.astype(np.float32),
        normal.astype(np.float32),
        np.asarray(uv, np.float32)[:, :2],
        triangles.astype(np.uint32),
    )


def _has_area(position: Any, triangles: Any) -> NDArray[np.bool_]:
    """Which triangles (m,) are more than a line or a point."""
    corners = position[triangles]
    sides = corners[:, [1, 2]] - corners[:, :1]
    area = np.linalg.norm(np.cross(sides[:, 0], sides[:, 1]), axis=1)
    longest = np.maximum((sides**2).sum(axis=2).max(axis=1), 1e-300)
    found: NDArray[np.bool_] = area > 1e-9 * longest
    return found


def _creased(position: Any, triangles: Any, uv: Any) -> tuple[Any, Any, Any, Any]:
    """Normals where a file has none: around a point, triangles that face about the same way share theirs."""
    _, weld = np.unique(position.astype(np.float32), axis=0, return_inverse=True)
    weld = weld.reshape(-1)[triangles].reshape(-1)
    corners = position[triangles]
    facing = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    unit = facing / np.maximum(np.linalg.norm(facing, axis=1, keepdims=True), 1e-30)
    # Every corner with every corner at the same place, place by place.
    order = np.argsort(weld, kind="stable")
    counts = np.bincount(weld)
    sizes = counts[weld[order]]
    starts = (np.cumsum(counts) - counts)[weld[order]]
    normal = np.zeros((len(weld), 3))
    for step in range(min(int(counts.max()), MOST_AROUND)):
        here = np.flatnonzero(sizes > step)
        mine, other = order[here] // 3, order[starts[here] + (here - starts[here] + step) % sizes[here]] // 3
        near = np.sum(unit[mine] * unit[other], axis=1) > np.cos(np.radians(CREASE))
        normal[order[here]] += np.where(near[:, None], facing[other], 0)
    length = np.linalg.norm(normal, axis=1, keepdims=True)
    normal = np.where(length > 1e-30, normal / np.maximum(length, 1e-30), np.repeat(unit, 3, axis=0))
    spread = None if uv is None or len(uv) != len(position) else np.asarray(uv)[triangles.reshape(-1)]
    return corners.reshape(-1, 3), np.arange(3 * len(triangles)).reshape(-1, 3), normal, spread


def _finish(material: Any) -> dict[str, Any]:
    """A material in our terms: glTF metallic-roughness as it is, older ones by their diffuse colour."""
    base: tuple[float, ...] = (0.6, 0.6, 0.6)
    metallic, roughness = 0.0, 0.5
    factor = getattr(material, "baseColorFactor", None)
    if factor is not None:
        values = np.asarray(factor, np.float64)[:3]
        values = values / 255 if values.max() > 1 else values
        base = tuple(float(v) for v in np.clip(values, 0, 1))  # glTF factors are scene-linear.
        metallic = float(material.metallicFactor if material.metallicFactor is not None else 1.0)
        roughness = float(material.roughnessFactor if material.roughnessFactor is not None else 1.0)
    elif getattr(material, "diffuse", None) is not None:
        codes = np.asarray(material.diffuse, np.float64)[:3]
        from .colours import srgb

        base = srgb("rgb({},{},{})".format(*codes.tolist())) or base
    return {
        "base_colour": dict(zip("rgb", base, strict=True)),
        "metallic": min(max(metallic, 0.0), 1.0),
        "roughness": min(max(roughness, 0.0), 1.0),
    }
