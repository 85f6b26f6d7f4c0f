"""Cameras over the API: added, cut to, removed; and what cannot be."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient


@pytest.fixture
def shot(made: str) -> str:
    return f"/api/shots/{made}"


def document(client: TestClient, shot: str) -> Any:
    return client.get(shot).json()["document"]


def test_a_camera_is_added_cut_to_and_removed_each_with_one_undo(client: TestClient, shot: str) -> None:
    added = client.post(f"{shot}/cameras", json={"frame": 10}).json()
    assert added["changed"] and added["name"] == "camera:camera-2"
    rig = {"rig": "orbit", "camera": added["name"], "frame": 10}
    assert client.post(f"{shot}/camera/rig", json=rig).json()["changed"]
    now = document(client, shot)
    assert now["cameras"]["camera-2"]["rig"] == "orbit" and now["camera"]["rig"] == "free"
    cut = {"camera": "camera", "frame": 10}
    assert client.post(f"{shot}/cameras/cut", json=cut).json()["changed"]
    assert document(client, shot)["changes"] == {}
    assert client.post(f"{shot}/cameras/camera-2/remove").json()["changed"]
    assert document(client, shot)["cameras"] == {}
    for _ in range(4):
        client.post(f"{shot}/undo")
    assert document(client, shot)["cameras"] == {}


@pytest.mark.parametrize(
    ("route", "body", "status"),
    [
        ("cameras", {"like": "camera:none"}, 404),
        ("cameras", {"like": "title"}, 404),
        ("cameras/cut", {"camera": "camera:none", "frame": 3}, 404),
        ("cameras/cut", {"camera": "../x", "frame": 3}, 404),
        ("cameras/cut", {"camera": "camera", "frame": -3}, 422),
        ("cameras/none/remove", None, 404),
        ("camera/rig", {"rig": "orbit", "camera": "camera:none"}, 404),
        ("motions", {"motion": "push", "thing": "camera:none"}, 404),
    ],
)
def test_cameras_that_are_not_there_change_nothing(
    client: TestClient, shot: str, route: str, body: dict[str, Any] | None, status: int
) -> None:
    before = document(client, shot)
    answer = client.post(f"{shot}/{route}", json=body)
    assert answer.status_code == status and answer.json()["detail"]
    assert document(client, shot) == before


def test_there_are_at_most_eight_further_cameras(client: TestClient, shot: str) -> None:
    for _ in range(8):
        assert client.post(f"{shot}/cameras", json={}).status_code == 200
    assert client.post(f"{shot}/cameras", json={}).status_code == 422
