"""Whole looks through the door; and what is none."""

from __future__ import annotations

from fastapi.testclient import TestClient

from .test_offers import shot_of


def test_a_shot_begins_with_a_start(client: TestClient, made: str) -> None:
    names = [one["name"] for one in client.get("/api/starts").json()]
    assert len(names) >= 13 and names[0] == "plain"
    production = client.get(f"/api/shots/{made}").json()["production"]
    wish = {"name": "Ebb", "words": "EBB", "format": {"width": 1920, "height": 1080}, "start": "haze"}
    begun = client.post(f"/api/productions/{production}/shots", json=wish).json()["id"]
    assert shot_of(client, begun)["optics"]["rays"]["light"] == "behind"
    refused = client.post(f"/api/productions/{production}/shots", json=wish | {"start": "nothing"})
    assert refused.status_code == 404 and "no start of this name" in refused.text
    # The look of that shot for the first one, in one edit.
    assert client.post(f"/api/shots/{made}/wear", json={"shot": begun}).json()["changed"]
    assert "behind" in shot_of(client, made)["things"]
    client.post(f"/api/shots/{made}/undo", json={})
    assert "behind" not in shot_of(client, made)["things"]


def test_pictures_of_starts_are_of_sound_wishes(client: TestClient, made: str) -> None:
    for query in ("words=", "words=" + "x" * 81, "width=1", "height=99999"):
        assert client.get(f"/api/starts/plain/picture?{query}").status_code == 422, query
    assert client.get("/api/starts/..%2F..%2Fetc/picture").status_code == 404
    nobody = "00000000-0000-0000-0000-000000000000"
    assert client.post(f"/api/shots/{made}/wear", json={"shot": nobody}).status_code == 404
    assert client.post(f"/api/shots/{made}/wear", json={"shot": "../x"}).status_code == 422


def test_subtitles_come_and_leave(client: TestClient, made: str) -> None:
    at = f"/api/shots/{made}/subtitles"
    srt = b"1\n00:00:00,000 --> 00:00:01,000\nEBB\n"
    assert client.post(at, content=srt).json()["changed"]
    assert "subtitles" in shot_of(client, made)["things"]
    out = client.get(f"{at}/vtt")
    assert out.text.startswith("WEBVTT") and "EBB" in out.text
    assert out.headers["content-disposition"].endswith('.vtt"')
    for data in (b"", b"\x00\x01", b"00:00 --> x\n"):
        answer = client.post(at, content=data)
        assert answer.status_code == 422 and answer.json()["title"] == "The subtitles were refused"
    assert client.get(f"{at}/exe").status_code == 422
