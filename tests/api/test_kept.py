"""Eases and looks of whole shots, kept by name."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

EASE = {"kind": "cubic-bezier", "x1": 0.1, "y1": -0.4, "x2": 0.2, "y2": 1.4}


def test_an_ease_is_kept_replaced_and_forgotten(client: TestClient) -> None:
    for y2 in (1.4, 1.2):
        assert client.put("/api/library/eases/over the quay", json=EASE | {"y2": y2}).status_code == 200
    (found,) = client.get("/api/library/eases").json()
    assert found["name"] == "over the quay" and found["ease"]["y2"] == 1.2
    assert client.delete("/api/library/eases/over the quay").status_code == 204
    assert client.get("/api/library/eases").json() == []
    assert client.delete("/api/library/eases/over the quay").status_code == 404


@pytest.mark.parametrize(
    ("name", "ease"),
    [
        ("back", EASE | {"x1": -0.2}),
        ("odd", {"kind": "wobble"}),
        ("x" * 61, EASE),
        ("more", EASE | {"run": "this"}),
    ],
)
def test_eases_that_are_none_are_refused(client: TestClient, name: str, ease: dict[str, Any]) -> None:
    assert client.put(f"/api/library/eases/{name}", json=ease).status_code == 422
    assert client.get("/api/library/eases").json() == []


def test_the_look_of_a_shot_is_kept_and_worn_by_another(
    client: TestClient, made: str, production: str
) -> None:
    shot = f"/api/shots/{made}"
    light = {"kind": "light", "name": "Lantern"}
    key = {"keys": [{"frame": 0, "value": 1}, {"frame": 9, "value": 3}]}
    patch = [
        {"op": "replace", "path": "/optics/vignette/amount", "value": 0.4},
        {"op": "add", "path": "/things/lantern", "value": light},
        {"op": "add", "path": "/channels/~1things~1lantern~1intensity", "value": key},
    ]
    assert client.post(f"{shot}/edits", json={"base": 0, "patch": patch}).status_code == 200
    kept = client.put("/api/library/whole-looks/lantern light", json={"shot": made}).json()
    assert kept["lights"] >= 1
    file = client.get("/api/library/whole-looks/lantern light/file")
    assert "EBB" not in file.text
    other = client.post(
        f"/api/productions/{production}/shots",
        json={"name": "Flood", "format": {"width": 320, "height": 180, "frames": 20}, "words": "FLOOD"},
    ).json()["id"]
    wish = {"name": "lantern light"}
    assert client.post(f"/api/shots/{other}/whole-looks", json=wish).json()["changed"]
    now = client.get(f"/api/shots/{other}").json()["document"]
    assert now["optics"]["vignette"]["amount"] == 0.4
    assert any(thing["name"] == "Lantern" for thing in now["things"].values())
    assert any(pointer.endswith("/intensity") for pointer in now["channels"])
    assert any(thing.get("words") == "FLOOD" for thing in now["things"].values())
    # One undo takes it back; forgotten, the file brings it again.
    client.post(f"/api/shots/{other}/undo")
    assert client.get(f"/api/shots/{other}").json()["document"]["optics"]["vignette"]["amount"] != 0.4
    assert client.delete("/api/library/whole-looks/lantern light").status_code == 204
    brought = client.post("/api/library/whole-looks", content=file.content)
    assert brought.status_code == 201 and brought.json() == kept
    assert [one["name"] for one in client.get("/api/library/whole-looks").json()] == ["lantern light"]


def test_looks_that_are_not_there_change_nothing(client: TestClient, made: str) -> None:
    assert client.post(f"/api/shots/{made}/whole-looks", json={"name": "none"}).status_code == 404
    nobody = "00000000-0000-0000-0000-000000000000"
    assert client.put("/api/library/whole-looks/none", json={"shot": nobody}).status_code == 404
    assert client.post("/api/library/whole-looks", content=b"{").status_code == 422
    assert client.get("/api/library/whole-looks").json() == []
