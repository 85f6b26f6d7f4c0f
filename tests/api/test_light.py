"""Routes of light: surroundings, bumps, backdrops, lights placed by pointing, finishes and looks that are kept."""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
from fastapi.testclient import TestClient

from dreizack.core.document import Finish, write_shot
from dreizack.demo import demo_shots

from .test_api import edit, unpack


def test_surroundings_come_tinted_and_blurred(client: TestClient) -> None:
    plain, red = (unpack(client.get("/api/surroundings", params=p).content)[1]["picture"] for p in ({"room": "ring"}, {"room": "ring", "green": 0, "blue": 0}))
    np.testing.assert_allclose(red[..., 0], plain[..., 0])
    assert red[..., 1:].max() == 0
    sky = unpack(client.get("/api/surroundings", params={"source": "sky", "elevation": 30, "azimuth": 90}).content)[1]["picture"]
    assert np.isfinite(sky).all() and sky.max() > 0
    assert client.get("/api/surroundings?room=attic").status_code == 404
    assert client.get("/api/surroundings?blur=nan").status_code == 422


def test_bumps_are_pictures(client: TestClient) -> None:
    heights = cv2.imdecode(np.frombuffer(client.get("/api/bumps/hammered").content, np.uint8), cv2.IMREAD_GRAYSCALE)
    assert heights.shape == (256, 256) and np.ptp(heights) > 100
    assert client.get("/api/bumps/velcro").status_code == 404


def test_the_scene_names_lights_surfaces_and_surroundings(client: TestClient, production: str) -> None:
    text = write_shot(demo_shots()["main-title"])
    made = client.post(f"/api/productions/{production}/files", content=text, headers={"Content-Type": "application/json"}).json()["id"]
    facts, arrays = unpack(client.get(f"/api/shots/{made}/scene").content)
    assert facts["lights"]["key"] == "panel" and facts["behind"] == "surroundings"
    assert facts["titles"]["title"]["worn"] == [[1, 0, 0, 0]] and facts["titles"]["title"]["bumps"][1][0] == "brushed"
    assert arrays["surroundings/around"].max() == 0 and len(facts["around"]) == 1
    backdrop = client.get(f"/api/shots/{made}/backdrop")
    assert cv2.imdecode(np.frombuffer(backdrop.content, np.uint8), cv2.IMREAD_COLOR).shape == (720, 1280, 3)


def test_lights_are_placed_by_what_they_should_do(client: TestClient, made: str) -> None:
    wish: dict[str, Any] = {"light": "key", "point": [0, 0.2, 0.1], "normal": [0, 0, 1]}
    place = client.post(f"/api/shots/{made}/highlight", json=wish).json()
    assert place["aim"] == {"x": 0, "y": 0.2, "z": 0.1} and place["position"]["z"] > 0.1
    shadow = client.post(f"/api/shots/{made}/shadow", json={"light": "key", "thing": "title", "target": [1.5, -0.5, 1.0]}).json()
    # The shadow falls away from the light.
    assert shadow["position"]["y"] > 0 and shadow["position"]["x"] < 1.5
    assert client.post(f"/api/shots/{made}/highlight", json={**wish, "light": "nobody"}).status_code == 404
    above = client.post(f"/api/shots/{made}/shadow", json={"light": "key", "thing": "title", "target": [0, 9, 0]})
    assert above.status_code == 422 and "not below" in above.json()["detail"]
    assert client.post(f"/api/shots/{made}/ask", json={"x": 2, "y": 0.5}).status_code == 422


def test_without_a_renderer_questions_are_refused_politely(client: TestClient, made: str, monkeypatch: Any) -> None:
    monkeypatch.setattr("dreizack.api.traced.PATIENCE", 0.2)
    answer = client.post(f"/api/shots/{made}/ask", json={"x": 0.5, "y": 0.5})
    assert answer.status_code == 503 and "try again" in answer.json()["detail"]


def test_finishes_and_looks_are_kept_followed_and_exchanged(client: TestClient, made: str) -> None:
    finish = Finish(roughness=0.11).model_dump()
    assert client.put("/api/library/finishes/Hull", json=finish).json() == {"name": "Hull", "shots": 0}
    assert edit(client, made, 0, {"op": "replace", "path": "/things/title/finish/named", "value": "Hull"}).status_code == 200
    assert client.put("/api/library/finishes/Hull", json={**finish, "roughness": 0.66}).json()["shots"] == 1
    assert client.get(f"/api/shots/{made}").json()["document"]["things"]["title"]["finish"]["roughness"] == 0.66
    assert [one["name"] for one in client.get("/api/library/finishes").json()] == ["Hull"]
    assert client.delete("/api/library/finishes/Hull").status_code == 204 and client.delete("/api/library/finishes/Hull").status_code == 404

    look = {"sections": {"finish": finish}}
    assert client.put("/api/looks/Dusk", json=look).status_code == 200
    file = client.get("/api/looks/Dusk/file")
    assert "Dusk.look.json" in file.headers["content-disposition"]
    assert client.delete("/api/looks/Dusk").status_code == 204
    assert client.post("/api/library/looks", content=file.content).json()["name"] == "Dusk"
    refused = client.post("/api/library/looks", content=b"{}")
    assert refused.status_code == 422 and "not a look file" in refused.json()["detail"]
    assert client.put("/api/looks/Dusk", json={"sections": {"words": "X"}}).status_code == 422
    assert client.get("/api/looks/nowhere/chip").status_code == 404
    assert client.get("/api/finishes/nowhere/chip").status_code == 404
    broken = client.post("/api/library/panoramas", content=b"nothing")
    assert broken.status_code == 422 and "HDR, EXR" in broken.json()["detail"]
