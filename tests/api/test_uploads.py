"""Files that come in: whole requests never lie in memory, limits hold, full disks are said, faults have a
number."""

from __future__ import annotations

import errno
import random
from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest
from fastapi.testclient import TestClient

from dreizack.api import uploads
from dreizack.core.files import whole
from dreizack.store.connection import Store

BOX = "v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0.5\nvt 0.5\nvt 0.25 1\nf 1/1 2/2 3/1\nf 1/1 3/2 4/1\n"


def test_every_mutated_mesh_is_read_or_refused_in_words(client: TestClient, tmp_path: Path) -> None:
    rng = random.Random(20_301)
    data = BOX.encode()
    for _ in range(7):
        mutated = bytearray(data)
        for _ in range(rng.randint(1, 6)):
            where = rng.randrange(len(mutated))
            match rng.randrange(3):
                case 0:
                    mutated[where] = rng.randrange(256)
                case 1:
                    del mutated[where : where + rng.randint(1, 9)]
                case _:
                    mutated[where:where] = rng.choice(
                        [b"1e39", b"nan", b"/", b"99999999999", b"\n", b"usemtl a\tb\n", b"-7"]
                    )
            mutated = mutated or bytearray(b"v")
        answer = client.post("/api/library/meshes?kind=obj", content=bytes(mutated))
        assert answer.status_code in (201, 422), (answer.text, bytes(mutated))
        assert answer.status_code == 201 or "/tmp" not in answer.json()["detail"]
    assert list((tmp_path / uploads.UPLOADS).iterdir()) == []
    assert all(not p.name.startswith(".") for p in (tmp_path / "library").iterdir())


def test_a_mesh_with_one_texture_coordinate_is_read(client: TestClient) -> None:
    answer = client.post("/api/library/meshes?kind=obj", content=BOX.encode())
    assert answer.status_code == 201 and answer.json()["triangles"] == 2
    assert answer.json()["size"] == [1.0, 1.0, 0.5]


def test_limits_are_those_of_the_address(client: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    assert (
        uploads.most_bytes("/api/library/videos")
        > uploads.most_bytes("/api/library/panoramas")
        > uploads.most_bytes("/api/library/meshes")
    )
    assert uploads.most_bytes("/api/shots/x/edits") < uploads.most_bytes("/api/library/looks")
    monkeypatch.setattr(uploads, "ORDINARY", 1000)
    monkeypatch.setattr(uploads, "BROUGHT", 2000)

    def blocks(count: int) -> Iterator[bytes]:
        yield from [b" " * 500] * count

    for path, most in (("/api/productions", 1000), ("/api/library/drawings", 2000)):
        for content in (b" " * (most + 1), blocks(9)):
            answer = client.post(path, content=content)
            assert (
                answer.status_code == 413 and answer.headers["content-type"] == "application/problem+json"
            ), path


def test_a_full_disk_is_said_and_leaves_nothing(
    client: TestClient, made: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def no_room(path: Path, data: bytes) -> None:
        path.touch()
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(whole, "_write", no_room)
    drawn = b"<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 9 9'><rect width='5' height='5'/></svg>"
    assert client.post("/api/library/drawings", content=drawn).status_code == 200
    import cv2
    import numpy as np

    _, picture = cv2.imencode(".png", np.zeros((8, 8, 3), np.uint8))
    answer = client.post("/api/library/pictures", content=picture.tobytes())
    assert answer.status_code == 507 and "disk is full" in answer.json()["title"]
    assert not any(p.is_file() for p in (tmp_path / "library").rglob("*"))

    def database_full(*_: object, **__: object) -> None:
        raise psycopg.errors.DiskFull("could not extend file")

    monkeypatch.setattr(Store, "rows", database_full)
    assert client.get("/api/productions").status_code == 507


def test_a_fault_of_ours_has_a_number_that_is_in_the_log(
    client: TestClient, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    def broken(*_: object, **__: object) -> None:
        raise ZeroDivisionError("secret /path/of/ours")

    monkeypatch.setattr(Store, "rows", broken)
    answer = client.get("/api/productions")
    assert answer.status_code == 500 and answer.headers["content-type"] == "application/problem+json"
    assert "secret" not in answer.text and answer.headers["x-content-type-options"] == "nosniff"
    assert answer.json()["number"] in caplog.text and "ZeroDivisionError" in caplog.text
