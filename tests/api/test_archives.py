"""Productions as archives: taken away, opened elsewhere unchanged; and what does not get in."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import pytest
from fastapi.testclient import TestClient

from .test_grading import WARM, edit
from .test_offers import shot_of


def picture(value: int) -> bytes:
    _, data = cv2.imencode(".png", np.full((8, 8, 3), value, np.uint8))
    return data.tobytes()


@pytest.fixture
def full(client: TestClient, made: str) -> tuple[str, bytes]:
    """A production whose shot wears a table and a picture, with a sequence; and its archive."""
    table = client.post("/api/library/tables", content=WARM.encode()).json()["file"]
    brought = client.post("/api/library/pictures", content=picture(90)).json()["file"]
    edit(client, made, "/optics/table/file", table)
    edit(client, made, "/backdrop/picture", brought)
    production = client.get(f"/api/shots/{made}").json()["production"]
    sequence = {"name": "Opening", "shots": [made]}
    assert client.post(f"/api/productions/{production}/sequences", json=sequence).status_code == 201
    answer = client.get(f"/api/productions/{production}/archive")
    assert answer.status_code == 200 and answer.headers["content-type"] == "application/zip"
    return production, answer.content


def test_an_archive_opens_as_what_it_was(
    client: TestClient, made: str, full: tuple[str, bytes], tmp_path: Path
) -> None:
    before, data = full
    names = zipfile.ZipFile(io.BytesIO(data)).namelist()
    assert names[0] == "production.json" and len([n for n in names if n.startswith("library/")]) == 2
    opened = client.post("/api/library/productions", content=data)
    assert opened.status_code == 201, opened.text
    found = opened.json()
    assert (found["shots"], found["sequences"], found["lost"]) == (1, 1, [])
    page = client.get(f"/api/productions/{found['id']}").json()
    copy = page["shots"][0]["id"]
    assert copy != made and found["id"] != before
    assert shot_of(client, copy) == shot_of(client, made)
    assert page["sequences"][0]["line"] == [copy]


def test_takes_and_looks_go_along(client: TestClient, made: str) -> None:
    before = shot_of(client, made)
    kept = {"sections": {"finish": before["things"]["title"]["finish"]}, "size": 0.3}
    assert client.put("/api/looks/brass", json=kept).status_code == 200
    edit(client, made, "/things/title/look", "brass")
    assert client.put(f"/api/shots/{made}/takes/first idea").status_code == 204
    edit(client, made, "/things/title/words", "EBB")
    production = client.get(f"/api/shots/{made}").json()["production"]
    for address in (f"/api/shots/{made}/archive", f"/api/productions/{production}/archive"):
        answer = client.get(address)
        assert answer.status_code == 200, answer.text
        found = client.post("/api/library/productions", content=answer.content).json()
        # A look of this name is here already, and stays as it is.
        assert found["looks"] == []
        (copy,) = client.get(f"/api/productions/{found['id']}").json()["shots"]
        assert shot_of(client, copy["id"])["things"]["title"]["words"] == "EBB"
        takes = client.get(f"/api/shots/{copy['id']}/takes").json()
        assert [take["name"] for take in takes] == ["first idea"]
        assert client.post(f"/api/shots/{copy['id']}/takes/first idea/recall").status_code == 200
        assert shot_of(client, copy["id"])["things"]["title"]["words"] == before["things"]["title"]["words"]
    assert client.delete("/api/looks/brass").status_code == 204
    again = client.post("/api/library/productions", content=answer.content).json()
    assert again["looks"] == ["brass"]
    assert "brass" in [one["name"] for one in client.get("/api/looks").json()]


def test_files_that_are_gone_are_said_to_be(client: TestClient, made: str, full: tuple[str, bytes]) -> None:
    edit(client, made, "/backdrop/picture", "picture-00000000000000000000.png")
    production, _ = full
    data = client.get(f"/api/productions/{production}/archive").content
    found = client.post("/api/library/productions", content=data).json()
    assert found["lost"] == ["picture-00000000000000000000.png"]


Change = Callable[[dict[str, bytes]], None]


def changed(data: bytes, change: Change) -> bytes:
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        files = {name: archive.read(name) for name in archive.namelist()}
    change(files)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, content in files.items():
            archive.writestr(name, content)
    return out.getvalue()


def index(files: dict[str, bytes], **values: Any) -> None:
    files["production.json"] = json.dumps({**json.loads(files["production.json"]), **values}).encode()


def spoilt(files: dict[str, bytes]) -> None:
    for name in files:
        if name.startswith("library/"):
            files[name] = b"nothing of the kind"


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda files: files.pop("production.json"), "there is no production.json"),
        (lambda files: files.update({"production.json": b"{"}), "is no JSON"),
        (lambda files: index(files, dreizack_production=99), "later version"),
        (lambda files: index(files, shots=[]), "shots of the production are missing"),
        (lambda files: index(files, shots={"a": {"dreizack_shot": 1, "things": 5}}), "shot 'a'"),
        (lambda files: index(files, sequences={"b": {"line": 7}}), "sequence 'b'"),
        (lambda files: index(files, takes={"a": 5}), "takes of the production are damaged"),
        (lambda files: index(files, looks={"brass": {"sections": {}}}), "look 'brass'"),
        (lambda files: index(files, looks={"\x00": {"sections": {"finish": {}}}}), "has no name"),
        (lambda files: files.update({"library/../../evil.png": b"x"}), "none that an archive holds"),
        (lambda files: files.update({"/etc/passwd": b"x"}), "none that an archive holds"),
        (lambda files: files.update({"library/tool.exe": b"x"}), "nothing that a library holds"),
        (lambda files: files.update({"library/a.solve": b"x"}), "a.solve"),
        (lambda files: files.update({"library/a.clip": b"x"}), "a.clip"),
        (lambda files: files.update({"library/a.mesh": b"xxxxxxx"}), "a.mesh"),
        (lambda files: files.update({"library/a.wav": b"RIFF"}), "a.wav"),
        (lambda files: files.update({"library/a.panorama": b"x"}), "a.panorama"),
        (lambda files: files.update({"library/a.track": b"x"}), "a.track"),
        (lambda files: files.update({"library/a.font": b"x"}), "a.font"),
        (spoilt, "'"),
    ],
)
def test_archives_that_are_none_change_nothing(
    client: TestClient, full: tuple[str, bytes], change: Change, says: str
) -> None:
    before = len(client.get("/api/productions").json())
    answer = client.post("/api/library/productions", content=changed(full[1], change))
    assert answer.status_code == 422 and says in answer.json()["detail"], answer.text
    assert len(client.get("/api/productions").json()) == before


@pytest.mark.parametrize("data", [b"", b"PK\x03\x04 cut short", b"{}"])
def test_what_is_no_archive_is_refused(client: TestClient, data: bytes) -> None:
    answer = client.post("/api/library/productions", content=data)
    assert answer.status_code == 422 and "no archive of a production" in answer.json()["detail"]


def test_files_are_called_by_their_own_content(
    client: TestClient, made: str, full: tuple[str, bytes]
) -> None:
    """Another content under the name of a file that is there becomes a file of its own."""
    old = shot_of(client, made)["backdrop"]["picture"]

    def other(files: dict[str, bytes]) -> None:
        files[f"library/{old}"] = picture(200)

    found = client.post("/api/library/productions", content=changed(full[1], other)).json()
    copy = client.get(f"/api/productions/{found['id']}").json()["shots"][0]["id"]
    assert shot_of(client, copy)["backdrop"]["picture"] != old
    assert shot_of(client, made)["backdrop"]["picture"] == old


def test_files_of_another_library_come_one_by_one(client: TestClient, tmp_path: Path) -> None:
    answer = client.post("/api/library/files", params={"name": "picture-old.png"}, content=picture(70))
    assert answer.status_code == 201, answer.text
    file = answer.json()["file"]
    assert file.startswith("picture-old-") and client.get(f"/api/library/pictures/{file}").status_code == 200
    again = client.post("/api/library/files", params={"name": file}, content=picture(70))
    assert again.json()["file"] == file
    table = client.post("/api/library/files", params={"name": "table.cube"}, content=WARM.encode())
    assert table.json()["file"].endswith(".cube")
    assert not [path.name for path in (tmp_path / "library").iterdir() if path.name.startswith(".")]


@pytest.mark.parametrize(
    ("name", "data", "says"),
    [
        ("../../evil.png", b"x", "nothing that a library holds"),
        ("/etc/passwd", b"x", "nothing that a library holds"),
        ("tool.exe", b"x", "nothing that a library holds"),
        (".hidden.png", b"x", "nothing that a library holds"),
        ("a.png", b"no picture", "a.png"),
        ("a.clip", b"x" * 900, "a.clip"),
        ("a.font", b"x" * 900, ""),
        ("a.solve", b"", "a.solve"),
    ],
)
def test_what_is_no_file_of_a_library_leaves_nothing(
    client: TestClient, tmp_path: Path, name: str, data: bytes, says: str
) -> None:
    before = sorted(path.name for path in (tmp_path / "library").glob("*"))
    answer = client.post("/api/library/files", params={"name": name}, content=data)
    assert answer.status_code == 422 and says in answer.json()["detail"], answer.text
    assert sorted(path.name for path in (tmp_path / "library").glob("*")) == before
