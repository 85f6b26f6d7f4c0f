"""The library over HTTP: typefaces, drawings, pictures, meshes, profiles."""

from __future__ import annotations

import io
import json
import math
from pathlib import Path

import cv2
import numpy as np
import pytest
import trimesh
from fastapi.testclient import TestClient
from fontTools.fontBuilder import FontBuilder
from fontTools.pens.t2CharStringPen import T2CharStringPen
from fontTools.ttLib import TTCollection, TTFont

from dreizack.core.document import Setting
from dreizack.core.form import build_bodies, examine, profile
from dreizack.core.lettering import glyph_outline, set_words, typefaces

# Handles of a cubic that is a quarter of a circle, in radii.
QUARTER = 0.5522847
BYTES = {"Content-Type": "application/octet-stream"}
ANTON = next(face.path for face in typefaces() if face.name == "anton")


def font(flavor: str | None = None, name: str = "Marrow Grotesk") -> bytes:
    made = TTFont(ANTON)
    for record in made["name"].names:
        if record.nameID in (1, 16):
            record.string = name
    made.flavor = flavor
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()


@pytest.mark.parametrize("flavor", [None, "woff", "woff2"])
def test_a_typeface_is_brought_and_used(client: TestClient, made: str, flavor: str | None) -> None:
    brought = client.post("/api/library/typefaces", content=font(flavor), headers=BYTES)
    assert brought.status_code == 201
    face = brought.json()[0]
    assert face["label"].startswith("Marrow Grotesk") and face["brought"] and face["stem"] > 0.1
    assert face["name"] in [listed["name"] for listed in client.get("/api/typefaces").json()]
    assert client.get(f"/api/typefaces/{face['name']}/font").content[:4] == b"\0\1\0\0"
    base = client.get(f"/api/shots/{made}").json()["revision"]
    patch = [{"op": "replace", "path": "/things/title/setting/typeface", "value": face["name"]}]
    assert client.post(f"/api/shots/{made}/edits", json={"base": base, "patch": patch}).status_code == 200
    assert client.get(f"/api/shots/{made}/things/title/body", params={"kind": "stl"}).status_code == 200


def postscript_font() -> bytes:
    """An OpenType font with cubic outlines (CFF): one glyph, a ring of radius 350 with a counter of 200."""
    pen = T2CharStringPen(700, None)
    for radius, turn in ((350, 1), (200, -1)):
        pen.moveTo((350 + radius, 350))
        for x, y in ((radius, 0), (0, radius), (-radius, 0), (0, -radius)):
            # A quarter of a circle, to (-y, x).
            curve = (x - QUARTER * y, y + QUARTER * x), (-y + QUARTER * x, x + QUARTER * y), (-y, x)
            pen.curveTo(*((350 + u, 350 + turn * v) for u, v in curve))
        pen.closePath()
    build = FontBuilder(1000, isTTF=False)
    build.setupGlyphOrder([".notdef", "O"])
    build.setupCharacterMap({ord("O"): "O"})
    build.setupCFF(
        "MarrowRing",
        {},
        {".notdef": T2CharStringPen(500, None).getCharString(), "O": pen.getCharString()},
        {},
    )
    build.setupHorizontalMetrics({".notdef": (500, 0), "O": (700, 0)})
    build.setupHorizontalHeader(ascent=800, descent=-200)
    build.setupNameTable({"familyName": "Marrow Ring", "styleName": "Regular"})
    build.setupOS2(sCapHeight=700)
    build.setupPost()
    out = io.BytesIO()
    build.save(out)
    return out.getvalue()


def test_a_font_with_postscript_outlines_is_brought_and_has_the_volume_of_its_ring(
    client: TestClient, made: str
) -> None:
    face = client.post("/api/library/typefaces", content=postscript_font(), headers=BYTES).json()[0]
    assert face["label"] == "Marrow Ring" and face["brought"]
    outline = glyph_outline(set_words("O", Setting(typeface=face["name"])).glyphs[0])
    plain = profile("none", 0, 0, 1e-3)
    body = build_bodies([outline], 1.0, 1.0, plain, plain, 1e-5)[0]
    assert examine(body).volume == pytest.approx(math.pi * (0.35**2 - 0.2**2), rel=2e-3)


def test_every_font_of_a_collection_is_brought(client: TestClient, made: str) -> None:
    collection = TTCollection()
    collection.fonts = [TTFont(io.BytesIO(font(name=name))) for name in ("Marrow One", "Marrow Two")]
    out = io.BytesIO()
    collection.save(out, shareTables=True)
    assert out.getvalue()[:4] == b"ttcf"
    brought = client.post("/api/library/typefaces", content=out.getvalue(), headers=BYTES)
    assert brought.status_code == 201
    assert [face["label"].split(" Re")[0] for face in brought.json()] == ["Marrow One", "Marrow Two"]
    for face in brought.json():
        assert client.get(f"/api/typefaces/{face['name']}/font").content[:4] == b"\0\1\0\0"
    assert (
        client.post("/api/library/typefaces", content=out.getvalue()[:500], headers=BYTES).status_code == 422
    )


@pytest.mark.parametrize("cut", [0, 3, 40, 900, 20_000])
def test_fonts_cut_short_are_refused_with_a_sentence(client: TestClient, cut: int) -> None:
    answer = client.post("/api/library/typefaces", content=font()[:cut], headers=BYTES)
    assert answer.status_code == 422 and "font" in answer.json()["detail"]


@pytest.mark.parametrize("seed", range(6))
def test_fonts_with_broken_bytes_are_read_or_refused(client: TestClient, seed: int) -> None:
    rng = np.random.default_rng(seed)
    data = bytearray(font())
    for place in rng.integers(0, len(data) if seed % 2 else 400, 60):
        data[int(place)] = int(rng.integers(0, 256))
    assert client.post("/api/library/typefaces", content=bytes(data), headers=BYTES).status_code in (201, 422)


def test_a_drawing_becomes_the_pieces_of_a_mark(client: TestClient, made: str) -> None:
    drawing = (
        b'<svg xmlns="http://www.w3.org/2000/svg"><rect width="4" height="4" fill="#f00"/>'
        b'<circle cx="9" cy="2" r="2"/><text>EBB</text></svg>'
    )
    found = client.post("/api/library/drawings", content=drawing, headers=BYTES).json()
    assert (
        len(found["pieces"]) == 2
        and found["finishes"][0]["base_colour"]["r"] == 1
        and "text" in found["left_out"][0]
    )
    base = client.get(f"/api/shots/{made}").json()["revision"]
    value = {"kind": "mark", "name": "Ensign", "pieces": found["pieces"], "finishes": found["finishes"]}
    edit = {"base": base, "patch": [{"op": "add", "path": "/things/mark", "value": value}]}
    assert client.post(f"/api/shots/{made}/edits", json=edit).status_code == 200
    glb = client.get(f"/api/shots/{made}/things/mark/body", params={"kind": "glb"})
    scene = trimesh.load_scene(io.BytesIO(glb.content), file_type="glb")
    assert {"face", "face 1"} <= set(scene.geometry)
    assert client.post("/api/library/drawings", content=b"<svg>", headers=BYTES).status_code == 422


def test_a_picture_is_brought_traced_and_put_on_a_sheet(client: TestClient, made: str) -> None:
    image = np.full((120, 200, 3), 255, np.uint8)
    cv2.rectangle(image, (50, 30), (150, 90), (0, 0, 0), -1)
    brought = client.post(
        "/api/library/pictures", content=cv2.imencode(".jpg", image)[1].tobytes(), headers=BYTES
    ).json()
    assert (brought["width"], brought["height"]) == (200, 120)
    at = f"/api/library/pictures/{brought['file']}"
    assert client.get(at).headers["content-type"] == "image/png"
    traced = client.post(f"{at}/trace", json={"smooth": 0.5}).json()
    assert (
        traced["box"] == pytest.approx([0.25, 0.25, 0.755, 0.755], abs=0.02) and 4 <= traced["points"] <= 16
    )
    assert client.post(f"{at}/trace", json={"level": 2}).status_code == 422
    assert client.post("/api/library/pictures/picture-none.png/trace", json={}).status_code == 404
    base = client.get(f"/api/shots/{made}").json()["revision"]
    value = {
        "kind": "sheet",
        "name": "Sheet",
        "fill": {"kind": "picture", "picture": brought["file"]},
        "cut": "title",
    }
    edit = {"base": base, "patch": [{"op": "add", "path": "/things/sheet", "value": value}]}
    assert client.post(f"/api/shots/{made}/edits", json=edit).status_code == 200
    shown = cv2.imdecode(
        np.frombuffer(client.get(f"/api/shots/{made}/things/sheet/fill").content, np.uint8), cv2.IMREAD_COLOR
    )
    assert shown.shape == (120, 200, 3) and shown[60, 100].max() < 12 and shown[5, 5].min() > 240


def test_a_mesh_is_brought(client: TestClient) -> None:
    ring = trimesh.creation.torus(2, 0.5).export(file_type="stl")
    found = client.post("/api/library/meshes", params={"kind": "stl"}, content=ring, headers=BYTES)
    assert found.status_code == 201 and found.json()["size"] == pytest.approx([5, 5, 1], rel=1e-3)
    assert (
        client.post(
            "/api/library/meshes", params={"kind": "stl"}, content=b"solid", headers=BYTES
        ).status_code
        == 422
    )
    assert (
        client.post("/api/library/meshes", params={"kind": "dwg"}, content=ring, headers=BYTES).status_code
        == 422
    )


def test_profiles_are_saved_replaced_and_forgotten(client: TestClient) -> None:
    points = [[0, 0], [0.3, 0.6], [1, 1]]
    assert client.put("/api/profiles/gunwale", json={"points": points}).status_code == 204
    assert {"name": "gunwale", "points": points} in client.get("/api/profiles").json()
    assert (
        client.put("/api/profiles/gunwale", json={"points": [[0, 0], [0.5, 0.1], [1, 1]]}).status_code == 204
    )
    assert [p["points"][1] for p in client.get("/api/profiles").json() if p["name"] == "gunwale"] == [
        [0.5, 0.1]
    ]
    for wrong in ([[0, 0], [1, 0.5]], [[0, 0], [0.5, 0.6], [0.4, 0.7], [1, 1]], [[0, 0]], [[0, 0], [2, 2]]):
        assert client.put("/api/profiles/wrong", json={"points": wrong}).status_code == 422
    assert client.delete("/api/profiles/gunwale").status_code == 204
    assert client.delete("/api/profiles/gunwale").status_code == 404


def test_what_is_too_large_is_not_even_read(client: TestClient) -> None:
    answer = client.post("/api/library/drawings", content=b" " * 25_000_000, headers=BYTES)
    assert answer.status_code == 422 and "MB" in json.loads(answer.content)["detail"]
    assert Path(ANTON).exists()


def test_chips_are_of_finishes_that_there_are(client: TestClient) -> None:
    unknown = client.get("/api/finishes/moonlight/chip")
    assert unknown.status_code == 404 and "moonlight" in unknown.json()["detail"]
    # Ours are there beforehand.
    gold = client.get("/api/finishes/gold/chip")
    assert gold.headers["content-type"] == "image/jpeg" and gold.content.startswith(b"\xff\xd8")
    # Without the tracing process there is no picture of others yet, and that is said.
    own = {"base_colour": {"r": 0.21, "g": 0.4, "b": 0.1}}
    assert client.put("/api/library/finishes/kelp", json=own).status_code == 200
    assert "ask again" in client.get("/api/finishes/kelp/chip").json()["detail"]
