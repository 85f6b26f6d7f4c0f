"""Bodies of marks, and of meshes that are brought."""

from __future__ import annotations

import io
import zipfile

import numpy as np
import pytest
import trimesh

from dreizack.core.artwork.meshes import packed, unpacked
from dreizack.core.document import Mark, Mesh, Piece
from dreizack.core.form import examine
from dreizack.core.library import keep, shelve
from dreizack.core.scene import BodyStore, Form


@pytest.mark.parametrize("kind", ["obj", "ply", "stl", "glb"])
def test_meshes_keep_their_shape_and_get_sound_normals(kind: str) -> None:
    ball = trimesh.creation.icosphere(subdivisions=3, radius=2.0)
    data = ball.export(file_type=kind)
    found = unpacked(packed(data if isinstance(data, bytes) else data.encode(), kind))
    position, normal, uv, triangles = found.parts[0]
    assert len(triangles) == len(ball.faces) and len(uv) == len(position)
    np.testing.assert_allclose(np.linalg.norm(position, axis=1), 2, rtol=1e-4)
    assert np.sum(normal * position / 2, axis=1).min() > 0.99


def test_a_box_without_normals_keeps_its_edges() -> None:
    found = unpacked(packed(trimesh.creation.box((1, 1, 1)).export(file_type="stl"), "stl"))
    assert np.allclose(np.abs(found.parts[0][1]).max(axis=1), 1)


def test_an_obj_brings_its_materials_in_a_zip() -> None:
    obj = "mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nv 1 1 0\nusemtl red\nf 1 2 3\nusemtl blue\nf 2 4 3\n"
    mtl = "newmtl red\nKd 1 0 0\nnewmtl blue\nKd 0 0 1\n"
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("folder/a.obj", obj)
        archive.writestr("folder/a.mtl", mtl)
    found = unpacked(packed(out.getvalue(), "zip"))
    assert sorted(found.names) == ["blue", "red"]
    reds = [
        f["base_colour"]["r"]
        for _, f in sorted(zip(found.names, found.finishes, strict=True), key=lambda pair: pair[0])
    ]
    assert reds == [pytest.approx(0, abs=0.01), pytest.approx(1, abs=0.01)]


@pytest.mark.parametrize(
    ("data", "kind"),
    [
        (b"", "obj"),
        (b"v 0 0 0\nf 1 2 3\n", "obj"),
        (b"v nan 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "obj"),
        (b"ply\nformat", "ply"),
        (b"glTF", "glb"),
        (b"PK\x03\x04", "zip"),
        (b"solid x", "stl"),
    ],
)
def test_bad_meshes_get_a_sentence(data: bytes, kind: str) -> None:
    with pytest.raises(ValueError, match=r"\w"):
        packed(data, kind)


# As things


def test_marks_have_closed_bodies_of_their_height() -> None:
    mark = Mark(
        size=0.4,
        pieces=[
            Piece(path="M-0.5 0L0.5 0L0.5 1L-0.5 1ZM-0.2 0.3L-0.2 0.7L0.2 0.7L0.2 0.3Z"),
            Piece(path="M0.6 0C0.6 1 1 1 1 0Z"),
        ],
    )
    bodies = BodyStore()
    letters = bodies.letters(Form(mark))
    assert len(letters) == 2
    for letter in letters:
        body = bodies.get(letter.body)
        assert body is not None and examine(body).open_edges == 0
    first = bodies.get(letters[0].body)
    assert first is not None and np.ptp(first.position[:, 1]) == pytest.approx(0.4, rel=1e-4)
    with pytest.raises(ValueError, match="path data"):
        Piece(path="M0 0 nonsense")


def test_an_imported_mesh_is_turned_scaled_and_set_on_its_foot(tmp_path: object) -> None:
    import pathlib

    folder = pathlib.Path(str(tmp_path))
    shelve(folder)
    box = trimesh.creation.box((10, 20, 40))
    name = keep(folder, packed(box.export(file_type="stl"), "stl"), "mesh", "mesh")
    bodies = BodyStore()
    body = bodies.get(bodies.letters(Form(Mesh(file=name, unit="cm", up="z")))[0].body)
    assert body is not None
    np.testing.assert_allclose(np.ptp(body.position, axis=0), [0.1, 0.4, 0.2], rtol=1e-4)
    assert body.position[:, 1].min() == pytest.approx(0, abs=1e-6)
    fitted_body = bodies.get(bodies.letters(Form(Mesh(file=name, fitted=2.0)))[0].body)
    assert fitted_body is not None and np.ptp(fitted_body.position, axis=0).max() == pytest.approx(2)
    assert bodies.letters(Form(Mesh(file="mesh-not-there.mesh"))) == []
