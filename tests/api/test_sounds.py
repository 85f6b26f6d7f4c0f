"""Sounds through the door: brought, heard, played, marked, removed; and what does not get in."""

from __future__ import annotations

import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.core.test_sound import clicks, wav

from .test_api import edit, unpack
from .test_offers import shot_of


def brought(client: TestClient) -> str:
    beats = np.arange(0.24, 5.8, 0.5)
    answer = client.post("/api/library/sounds", content=wav(clicks(beats, 6)[:, None]))
    assert answer.status_code == 201 and answer.json()["seconds"] == pytest.approx(6)
    file: str = answer.json()["file"]
    return file


def test_a_sound_is_brought_heard_and_marks_its_beats(client: TestClient, made: str) -> None:
    file = brought(client)
    head, arrays = unpack(client.get(f"/api/library/sounds/{file}/heard").content)
    assert arrays["peaks"].shape == (600, 2) and len(head["beats"]) >= 10
    played = client.get(f"/api/library/sounds/{file}")
    assert played.headers["content-type"] == "audio/wav" and played.content[:4] == b"RIFF"
    part = client.get(f"/api/library/sounds/{file}", headers={"Range": "bytes=0-99"})
    assert part.status_code == 206 and len(part.content) == 100
    edit(client, made, 0, {"op": "add", "path": "/sounds/bell", "value": {"name": "Bell", "file": file}})
    edit(
        client,
        made,
        1,
        {"op": "add", "path": "/couplings/~1camera~1exposure", "value": {"source": "/sounds/bell/heard/low"}},
    )
    assert client.post(f"/api/shots/{made}/sounds/bell/markers", json={"what": "beats"}).json()["changed"]
    frames = [marker["frame"] for marker in shot_of(client, made)["markers"]]
    # 0.24 s is frame 6 at 25 frames a second; the shot has twenty.
    assert len(frames) == 2 and abs(frames[0] - 6) <= 1 and abs(frames[1] - 18) <= 1
    assert not client.post(f"/api/shots/{made}/sounds/bell/markers", json={}).json()["changed"]
    assert client.post(f"/api/shots/{made}/sounds/bell/remove").json()["changed"]
    assert shot_of(client, made)["sounds"] == {} and shot_of(client, made)["couplings"] == {}


@pytest.mark.parametrize(
    "file",
    ["..%2f..%2fetc%2fpasswd", "%2fetc%2fpasswd", "sound-nothing.wav", "a.png", "sound%00.wav", "....wav"],
)
def test_nothing_but_sounds_of_the_library_is_given_out(client: TestClient, file: str) -> None:
    for path in (f"/api/library/sounds/{file}", f"/api/library/sounds/{file}/heard"):
        answer = client.get(path)
        assert answer.status_code in (400, 404) and b"root:" not in answer.content


@pytest.mark.parametrize(
    "data", [b"", b"RIFF" + bytes(60), bytes(2000), b"OggS" + bytes(300), b"fLaC" + bytes(300)]
)
def test_what_is_no_sound_is_refused_in_words(client: TestClient, data: bytes) -> None:
    answer = client.post("/api/library/sounds", content=data)
    assert answer.status_code in (400, 422)
    assert "sound" in answer.text or "file" in answer.text


def test_couplings_to_a_sound_that_is_not_there_are_refused(client: TestClient, made: str) -> None:
    answer = edit(
        client,
        made,
        0,
        {"op": "add", "path": "/couplings/~1camera~1exposure", "value": {"source": "/sounds/none/heard/low"}},
    )
    assert answer.status_code == 422 and "follows" in answer.text
