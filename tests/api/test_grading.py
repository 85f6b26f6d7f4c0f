"""Tables of colours and graphs through the door; and what does not get in."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from fastapi.testclient import TestClient

from dreizack.core.optics import read_cube

from .test_api import unpack
from .test_offers import shot_of

WARM = "LUT_1D_SIZE 2\n0.1 0 0\n1 0.9 0.7\n"


def edit(client: TestClient, made: str, at: str, value: object) -> None:
    revision = client.get(f"/api/shots/{made}").json()["revision"]
    patch = [{"op": "replace", "path": at, "value": value}]
    answer = client.post(f"/api/shots/{made}/edits", json={"base": revision, "patch": patch})
    assert answer.status_code == 200, answer.text


def test_a_table_is_brought_worn_and_taken_away_again(client: TestClient, made: str) -> None:
    brought = client.post("/api/library/tables", content=WARM.encode())
    assert brought.status_code == 201 and brought.json()["steps"] == 2
    edit(client, made, "/optics/table/file", brought.json()["file"])
    _, arrays = unpack(client.get(f"/api/shots/{made}/tones").content)
    assert arrays["table"].shape == (33, 33, 33, 3) and "curves" not in arrays
    out = client.get(f"/api/shots/{made}/grade.cube")
    assert out.headers["content-disposition"].endswith('.cube"')
    table = read_cube(out.content)
    assert np.allclose(table(np.full(3, 0.5, np.float32)), [0.55, 0.45, 0.35], atol=0.01)
    assert shot_of(client, made)["optics"]["table"]["file"].endswith(".cube")


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "no size"),
        (b"\xff\xd8\xff\xe0 a picture", "no table of colours"),
        (b"LUT_3D_SIZE 2\n0 0 nan\n", "there are 1 colours"),
        (b"LUT_3D_SIZE 99999999999\n", "a size lies between"),
    ],
)
def test_what_is_no_table_is_refused(client: TestClient, data: bytes, says: str) -> None:
    answer = client.post("/api/library/tables", content=data)
    assert answer.status_code == 422 and says in answer.json()["detail"]


def test_a_table_of_a_name_that_is_none_changes_nothing(client: TestClient, made: str) -> None:
    for name in ("../../../etc/passwd", "/etc/hostname", "nowhere.cube"):
        edit(client, made, "/optics/table/file", name)
        _, arrays = unpack(client.get(f"/api/shots/{made}/tones").content)
        assert arrays == {}
    assert client.get(f"/api/shots/{made}/grade.cube", params={"frame": 100_000}).status_code in (404, 422)


def test_graphs_are_made_of_raw_pixels_alone(client: TestClient) -> None:
    ask = {"what": "waveform", "width": 8, "height": 4, "across": 64, "down": 32}
    answer = client.post("/api/scopes", params=ask, content=bytes(8 * 4 * 3))
    assert answer.headers["content-type"] == "image/png"
    assert cv2.imdecode(np.frombuffer(answer.content, np.uint8), 1).shape == (32, 64, 3)
    short = client.post("/api/scopes", params=ask, content=b"12")
    assert short.status_code == 422 and "96 bytes, not 2" in short.text
    large = client.post("/api/scopes", params=ask | {"width": 2048, "height": 2048}, content=b"")
    assert large.status_code == 422 and "too large" in large.text
    for wrong in ({"width": 0}, {"across": 5000}, {"what": "secrets"}):
        assert client.post("/api/scopes", params=ask | wrong, content=b"").status_code == 422
    assert {one["name"] for one in client.get("/api/scopes/targets").json()} == set("RYGCBM")
