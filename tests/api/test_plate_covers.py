"""Flat areas and covers through the door: drawn, followed, shown; and what does not get in."""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.core.match.plates import dolly

from .test_offers import shot_of
from .test_plates import brought

LEFT = [(0.02, 0.05), (0.48, 0.05), (0.48, 0.95), (0.02, 0.95)]


def hidden(client: TestClient, made: str, frame: int) -> np.ndarray[Any, Any]:
    answer = client.get(f"/api/shots/{made}/plate/cover", params={"frame": frame})
    assert answer.headers["content-type"] == "image/png"
    return cv2.imdecode(np.frombuffer(answer.content, np.uint8), cv2.IMREAD_GRAYSCALE)


def test_a_cover_is_drawn_keyed_by_frames_and_hides(client: TestClient, made: str) -> None:
    brought(client, made, dolly(12))
    at = f"/api/shots/{made}/plate"
    assert client.post(f"{at}/covers", json={"frame": 0, "points": LEFT}).json()["changed"]
    moved = [(x + 0.4, y) for x, y in LEFT]
    assert client.post(f"{at}/covers", json={"frame": 10, "points": moved, "index": 0}).json()["changed"]
    cover = shot_of(client, made)["plate"]["covers"][0]
    assert [shape["frame"] for shape in cover["shapes"]] == [0, 10]
    seen = client.get(f"{at}/outlines", params={"frame": 5}).json()["covers"][0]
    assert not seen["drawn"] and np.allclose(seen["points"], np.add(LEFT, [0.2, 0]), atol=1e-5)
    matte = hidden(client, made, 0)
    assert matte[270, 200] == 255 and matte[270, 700] == 0
    matte = hidden(client, made, 10)
    assert matte[270, 200] == 0 and matte[270, 700] == 255
    client.post(f"/api/shots/{made}/undo", json={})
    assert len(shot_of(client, made)["plate"]["covers"][0]["shapes"]) == 1


def test_a_flat_area_is_followed_and_carries_what_is_drawn_on_it(client: TestClient, made: str) -> None:
    brought(client, made, dolly(16))
    at = f"/api/shots/{made}/plate"
    area = [(0.4, 0.25), (0.5, 0.25), (0.5, 0.4), (0.4, 0.4)]
    found = client.post(f"{at}/patches", json={"frame": 2, "points": area}).json()
    assert found["frames"] == found["found"] == 16
    inside = [(0.42, 0.28), (0.48, 0.28), (0.48, 0.36)]
    client.post(f"{at}/covers", json={"frame": 2, "points": inside})
    plate = shot_of(client, made)["plate"]
    assert plate["covers"][0]["carried_by"] == plate["patches"][0]["name"] == "Patch 1"
    seen = [client.get(f"{at}/outlines", params={"frame": k}).json() for k in (2, 4)]
    assert np.allclose(seen[0]["patches"][0]["points"], area, atol=1e-5)
    assert np.allclose(seen[0]["covers"][0]["points"], inside, atol=1e-5)
    # A cover by itself is carried by what is inside, once that is followed.
    away = [(x + 0.2, y + 0.1) for x, y in area]
    client.post(f"{at}/covers", json={"frame": 0, "points": away})
    assert shot_of(client, made)["plate"]["covers"][1]["carried_by"] == ""
    carried = client.post(f"{at}/covers/1/carry", json={"frame": 2}).json()
    assert carried["changed"] and carried["frames"] == 16
    plate = shot_of(client, made)["plate"]
    assert plate["covers"][1]["carried_by"] == plate["patches"][1]["name"] == "Patch 2"
    assert [shape["frame"] for shape in plate["covers"][1]["shapes"]] == [2]
    for number, body, status in ((7, {}, 404), (-1, {}, 404), (1, {"frame": -1}, 422), (1, {"more": 1}, 422)):
        assert client.post(f"{at}/covers/{number}/carry", json=body).status_code == status
    # Words are put on it, and what cannot stand there changes nothing.
    words = f"{at}/patches/0/words"
    title = next(name for name, thing in shot_of(client, made)["things"].items() if thing["kind"] == "title")
    assert client.post(words, json={"thing": title}).json()["changed"]
    now = shot_of(client, made)["things"]
    pivot = now[now[title]["place"]["hangs_on"]]
    assert pivot["kind"] == "pivot" and pivot["goes_with"] == "Patch 1" and pivot["width"] > 0.1
    for wrong, body, status in (
        (words, {"thing": "nobody"}, 404),
        (f"{at}/patches/7/words", {"thing": title}, 404),
        (f"{at}/patches/-1/words", {"thing": title}, 404),
        (words, {"thing": title, "more": 1}, 422),
    ):
        assert client.post(wrong, json=body).status_code == status
    assert shot_of(client, made)["things"] == now
    # What is drawn moves as the area does.
    went = [np.array(s["patches"][0]["points"]).mean(axis=0) for s in seen]
    carried = [np.array(s["covers"][0]["points"]).mean(axis=0) for s in seen]
    assert np.linalg.norm(went[1] - went[0]) > 1e-3
    assert np.allclose(carried[1] - carried[0], went[1] - went[0], atol=2e-3)


@pytest.mark.parametrize(
    ("what", "body", "status", "says"),
    [
        ("covers", {"frame": 0, "points": [(0, 0), (1, 1)]}, 422, "at least 3"),
        ("covers", {"frame": 0, "points": [(0.1, 0.1)] * 201}, 422, "at most 200"),
        ("covers", {"frame": 0, "points": [(99.0, 0), (1, 0), (1, 1)]}, 422, "outside the picture"),
        ("covers", {"frame": 0, "points": LEFT, "index": 3}, 404, "no cover of this number"),
        ("patches", {"frame": 0, "points": [(0.5, 0.5), (0.501, 0.5), (0.501, 0.501)]}, 422, "too small"),
        ("patches", {"frame": -1, "points": LEFT}, 422, "greater than or equal to 0"),
        ("patches", {"frame": 0, "points": LEFT, "track": "../../etc/passwd"}, 422, "Extra inputs"),
    ],
)
def test_what_is_no_outline_is_refused(
    client: TestClient, made: str, what: str, body: dict[str, Any], status: int, says: str
) -> None:
    brought(client, made, dolly(3))
    answer = client.post(f"/api/shots/{made}/plate/{what}", json=body)
    assert answer.status_code == status and says in answer.text
    assert not shot_of(client, made)["plate"][what]


def test_an_outline_keeps_its_corners_and_needs_a_plate(client: TestClient, made: str) -> None:
    at = f"/api/shots/{made}/plate"
    for what in ("covers", "patches"):
        assert client.post(f"{at}/{what}", json={"frame": 0, "points": LEFT}).status_code == 404
    assert not hidden(client, made, 0).any()
    brought(client, made, dolly(3))
    client.post(f"{at}/covers", json={"frame": 0, "points": LEFT})
    answer = client.post(f"{at}/covers", json={"frame": 1, "points": LEFT[:3], "index": 0})
    assert answer.status_code == 422 and "as many points" in answer.text


def test_guides_are_told_for_a_size_that_a_picture_may_have(client: TestClient) -> None:
    found = client.get("/api/guides", params={"width": 1920, "height": 1080}).json()
    assert [guide["name"] for guide in found][:2] == ["action safe", "title safe"]
    for width in (0, 15, 9000):
        assert client.get("/api/guides", params={"width": width, "height": 1080}).status_code == 422
