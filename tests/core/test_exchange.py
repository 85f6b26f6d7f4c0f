"""Bodies in files, read again."""

from __future__ import annotations

import io
import json
import re
import struct

import numpy as np
import pathops
import pytest
import trimesh

from dreizack.core.document import Body, Edge, Finish, Range, Setting, Title
from dreizack.core.exchange import write_body
from dreizack.core.form import examine
from dreizack.core.scene import BodyStore, Form

EDGE = Edge(profile="roundover", reach=0.012, rise=0.012)
TITLE = Title(
    words="EB", setting=Setting(typeface="archivo-black"), body=Body(depth=0.2, front=EDGE, back=EDGE)
)
FORM = Form(TITLE)


def volume() -> float:
    bodies = BodyStore()
    return sum(examine(bodies.get(letter.body)).volume for letter in bodies.letters(FORM))


def test_glb_and_obj_keep_parts_normals_and_size() -> None:
    for kind in ("glb", "obj"):
        scene = trimesh.load_scene(io.BytesIO(write_body(FORM, [Finish()], kind)), file_type=kind)
        whole = scene.to_mesh()
        assert whole.extents[1] == pytest.approx(0.5, rel=0.03) and whole.extents[2] == pytest.approx(
            0.2, abs=1e-5
        )
        whole.merge_vertices(merge_norm=True, merge_tex=True)
        assert whole.volume == pytest.approx(volume(), rel=1e-3)
    scene = trimesh.load_scene(
        io.BytesIO(write_body(FORM, [Finish(metallic=0.25, roughness=0.75)], "glb")), file_type="glb"
    )
    assert set(scene.geometry) == {"face", "bevel", "wall", "back"}
    face = scene.geometry["face"]
    np.testing.assert_allclose(face.vertex_normals, np.tile([0, 0, 1], (len(face.vertices), 1)), atol=1e-6)
    material = face.visual.material
    assert (material.metallicFactor, material.roughnessFactor) == (0.25, 0.75)
    assert len(face.visual.uv) == len(face.vertices)


def test_stl_is_one_closed_shell() -> None:
    mesh = trimesh.load_mesh(io.BytesIO(write_body(FORM, [Finish()], "stl")), file_type="stl")
    assert mesh.is_watertight and mesh.is_winding_consistent
    assert mesh.volume == pytest.approx(volume(), rel=1e-4)


def test_svg_holds_the_outlines_with_their_area() -> None:
    text = write_body(FORM, [Finish()], "svg").decode()
    assert [m for m in re.findall(r'aria-label="(.)"', text)] == ["E", "B"]
    areas = []
    for d in re.findall(r' d="([^"]+)"', text):
        path = pathops.Path()
        for verb, numbers in re.findall(r"([MLCZ])([^MLCZ]*)", d):
            n = [float(x) for x in numbers.split()]
            {"M": path.moveTo, "L": path.lineTo, "C": path.cubicTo, "Z": path.close}[verb](*n)
        areas.append(abs(path.area) / 1e6)
    assert sum(areas) * 0.2 == pytest.approx(volume(), rel=0.06), (
        "a little more than the body, whose edges are rounded"
    )
    assert sum(areas) * 0.2 > volume()


def test_nothing_to_write_is_said() -> None:
    for kind in ("glb", "stl", "svg"):
        with pytest.raises(ValueError, match="no letters"):
            write_body(Form(Title(words="  ")), [Finish()], kind)


def test_finishes_of_ranges_are_parts_of_their_own() -> None:
    title = TITLE.model_copy(update={"ranges": [Range(start=1, end=2, own_finish=True)]})
    data = write_body(Form(title), [Finish(), Finish(metallic=0.5)], "glb")
    scene = trimesh.load_scene(io.BytesIO(data), file_type="glb")
    assert {"face", "face 1", "wall", "wall 1"} <= set(scene.geometry)
    assert scene.geometry["face 1"].visual.material.metallicFactor == 0.5


@pytest.mark.parametrize("profile", ["cove", "ogee", "step", "roundover", "chamfer"])
@pytest.mark.parametrize("typeface", ["anton", "playfair-display", "space-mono"])
def test_every_normal_is_of_unit_length_even_where_an_edge_has_no_reach(profile: str, typeface: str) -> None:
    for counter in (0.0, 1.0):
        edge = Edge(profile=profile, reach=0.018, rise=0.018, counter=counter)  # type: ignore[arg-type]
        title = Title(
            words="ban 80Qr Ä",
            setting=Setting(typeface=typeface, size=0.5),
            body=Body(depth=0.18, front=edge, back=edge),
        )
        data = write_body(Form(title, 1e-4), [Finish()], "glb")
        (length,) = struct.unpack_from("<I", data, 12)
        head, held = json.loads(data[20 : 20 + length]), data[28 + length :]
        for mesh in head["meshes"]:
            for part in mesh["primitives"]:
                told = head["accessors"][part["attributes"]["NORMAL"]]
                view = head["bufferViews"][told["bufferView"]]
                begin = view.get("byteOffset", 0) + told.get("byteOffset", 0)
                normals = np.frombuffer(held, np.float32, 3 * told["count"], begin).reshape(-1, 3)
                np.testing.assert_allclose(np.linalg.norm(normals, axis=1), 1, atol=1e-3)
