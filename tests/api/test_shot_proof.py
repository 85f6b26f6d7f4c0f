"""A shot is proofed through the door; and what is no wish for that is refused."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient

from .test_grading import edit


def test_a_shot_is_proofed_by_its_values_and_by_its_pictures(client: TestClient, made: str) -> None:
    at = f"/api/shots/{made}/proof"
    quick = client.post(at, json={}).json()
    assert all(not one["picture"] for one in quick)
    # Words the colour of what is behind them, in a shot of a few small frames.
    edit(client, made, "/format", {"width": 160, "height": 90, "rate": {"num": 25, "den": 1}, "frames": 2})
    edit(client, made, "/backdrop/kind", "colour")
    shot = client.get(f"/api/shots/{made}").json()["document"]
    title = next(name for name, thing in shot["things"].items() if thing["kind"] == "title")
    for light in [name for name, thing in shot["things"].items() if thing["kind"] == "light"]:
        edit(client, made, f"/things/{light}/on", False)
    edit(client, made, "/surroundings/strength", -16.0)
    edit(client, made, "/backdrop/colour", {"r": 0.0, "g": 0.0, "b": 0.0})
    found = client.post(at, json={"pictures": True}).json()
    weak = [one for one in found if one["kind"] == "contrast"]
    assert weak and weak[0]["picture"].startswith("data:image/jpeg;base64,") and title


@pytest.mark.parametrize("wrong", [{"first": -1}, {"last": "x"}, {"pictures": True, "file": "/etc/passwd"}])
def test_what_is_no_wish_is_refused(client: TestClient, made: str, wrong: dict) -> None:  # type: ignore[type-arg]
    assert client.post(f"/api/shots/{made}/proof", json=wrong).status_code == 422


def test_frames_that_are_not_there_are_refused(client: TestClient, made: str) -> None:
    for pictures in (False, True):
        answer = client.post(f"/api/shots/{made}/proof", json={"first": 5000, "pictures": pictures})
        assert answer.status_code == 404 and "frames" in answer.json()["detail"]
