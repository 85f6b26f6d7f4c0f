"""OBJ files as other programs write them."""

from __future__ import annotations

import io
import zipfile

import numpy as np
import pytest

from dreizack.core.artwork.meshes import packed, unpacked
from dreizack.core.sandbox import Unreadable

CORNER = b"v 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\n"
FACES = b"f 1 2 3\nf 1 3 4\nf 1 4 2\n"


def read(data: bytes, kind: str = "obj"):  # type: ignore[no-untyped-def]
    return unpacked(packed(data, kind))


def archive(**files: bytes) -> bytes:
    held = io.BytesIO()
    with zipfile.ZipFile(held, "w") as made:
        for name, data in files.items():
            made.writestr(name.replace("_", "."), data)
    return held.getvalue()


def test_a_plain_file_is_as_it_is_and_lacks_nothing() -> None:
    found = read(CORNER + FACES)
    assert found.left_out == [] and len(found.parts) == 1
    assert found.finishes[0]["base_colour"] == {"r": 0.6, "g": 0.6, "b": 0.6}
    assert len(found.parts[0][3]) == 3


@pytest.mark.parametrize(
    "data",
    [
        CORNER.replace(b" ", b"\t") + FACES.replace(b" ", b"\t"),
        CORNER + FACES.replace(b"f 1 2 3", b"f 1 \\\n2 \\\r\n 3"),
        CORNER + b"  f 1 2 3\n\tf 1 3 4\nf  1   4  2\n",
        (CORNER + FACES).replace(b"\n", b"\r\n"),
    ],
)
def test_tabs_and_broken_lines_are_read(data: bytes) -> None:
    found, plain = read(data), read(CORNER + FACES)
    for one, other in zip(found.parts[0], plain.parts[0], strict=True):
        np.testing.assert_array_equal(one, other)


def test_materials_are_found_whatever_the_case() -> None:
    told = b"mtllib sub/Stage.MTL\nusemtl RED\n" + FACES[:16] + b"usemtl blue\n" + FACES[16:]
    made = archive(a_obj=CORNER + told, stage_mtl=b"newmtl Red\nKd 1 0 0\n\tnewmtl Blue\nKd 0 0 1\n")
    found = read(made, "zip")
    assert found.left_out == [] and sorted(found.names) == ["Blue", "Red"]
    colours = dict(zip(found.names, (one["base_colour"] for one in found.finishes), strict=True))
    assert list(colours["Red"].values()) == pytest.approx([1, 0, 0])
    assert list(colours["Blue"].values()) == pytest.approx([0, 0, 1])
    counts = dict(zip(found.names, (len(part[3]) for part in found.parts), strict=True))
    assert counts == {"Red": 2, "Blue": 1}
    pictured = archive(a_obj=CORNER + told, stage_mtl=b"newmtl Red\nKd 1 0 0\nmap_Kd a.png\nnewmtl Blue\n")
    assert read(pictured, "zip").left_out == ["pictures on surfaces"]


def test_faces_without_area_are_left_out() -> None:
    found = read(CORNER + b"v 2 0 0\n" + FACES + b"f 1 2 5\nf 1 1 2\nf 3 3 3\n")
    assert len(found.parts[0][3]) == 3
    corners = found.parts[0][0][found.parts[0][3]]
    assert (
        np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1).min()
        > 0.5
    )
    with pytest.raises(Unreadable, match="no area"):
        read(CORNER + b"v 2 0 0\nf 1 2 5\n")
