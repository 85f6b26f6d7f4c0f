"""Shots are found by their words; files that nothing names are shown, and go when one says so."""

from __future__ import annotations

import os
import time
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from .test_archives import picture
from .test_grading import edit


def found(client: TestClient, text: str) -> list[str]:
    answer = client.get("/api/search", params={"text": text})
    assert answer.status_code == 200, answer.text
    return [one["name"] for one in answer.json()]


def test_shots_and_sequences_are_found_by_name_words_and_production(client: TestClient, made: str) -> None:
    production = client.get(f"/api/shots/{made}").json()["production"]
    edit(client, made, "/things/title/words", "MARROW\nLIGHT")
    client.post(f"/api/productions/{production}/sequences", json={"name": "The whole opening", "shots": []})
    assert found(client, "marrow light") == ["Ebb"] and found(client, "EBB") == ["Ebb"]
    assert found(client, "opening") == ["The whole opening"]
    assert set(found(client, "slack water")) == {"Ebb", "The whole opening"}
    (one,) = client.get("/api/search", params={"text": "marrow"}).json()
    assert one["id"] == made and one["production"] == production and one["of"] == "SLACK WATER"
    # What is no word of any is nowhere; signs mean what they are.
    for odd in ("nowhere", "%", "_", "' OR 1=1 --", "\x00", "  "):
        assert found(client, odd) == []
    assert client.get("/api/search", params={"text": ""}).status_code == 422
    assert client.get("/api/search", params={"text": "x" * 121}).status_code == 422
    client.delete(f"/api/shots/{made}")
    assert found(client, "marrow") == []


def brought(client: TestClient, folder: Path, value: int) -> str:
    """A picture that was brought two hours ago."""
    file: str = client.post("/api/library/pictures", content=picture(value)).json()["file"]
    before = time.time() - 7200
    os.utime(folder / "library" / file, (before, before))
    return file


def unused(client: TestClient) -> list[str]:
    answer = client.get("/api/library/unused")
    assert answer.status_code == 200, answer.text
    return [one["file"] for one in answer.json()]


def test_only_what_nothing_names_goes(client: TestClient, made: str, tmp_path: Path) -> None:
    worn, undone, taken, left = (brought(client, tmp_path, value) for value in (10, 60, 120, 200))
    client.put(f"/api/library/names/{left}", json={"name": "left over.png"})
    assert set(unused(client)) == {worn, undone, taken, left}
    edit(client, made, "/backdrop/picture", taken)
    assert client.put(f"/api/shots/{made}/takes/first").status_code == 204
    edit(client, made, "/backdrop/picture", undone)
    edit(client, made, "/backdrop/picture", worn)
    assert unused(client) == [left]
    # What is brought just now is somebody's, and what is no brought file is not asked about.
    fresh = client.post("/api/library/pictures", content=picture(250)).json()["file"]
    (tmp_path / "library" / "notes.txt").write_text("mine", encoding="utf-8")
    assert unused(client) == [left]
    wish = {
        "files": [worn, undone, taken, fresh, left, left, "notes.txt", "../postgres/password", "/etc/passwd"]
    }
    gone = client.post("/api/library/unused/remove", json=wish).json()
    assert gone["files"] == 1 and gone["bytes"] > 0
    there = {path.name for path in (tmp_path / "library").iterdir()}
    assert {worn, undone, taken, fresh, "notes.txt"} <= there and left not in there
    assert unused(client) == []


@pytest.mark.parametrize("wish", [{}, {"files": []}, {"files": "all"}, {"files": ["a"], "all": True}])
def test_what_is_no_wish_removes_nothing(client: TestClient, tmp_path: Path, wish: dict[str, object]) -> None:
    file = brought(client, tmp_path, 33)
    assert client.post("/api/library/unused/remove", json=wish).status_code == 422
    assert unused(client) == [file]
