"""Small pictures to choose by."""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np
import pytest
from fastapi.testclient import TestClient

from dreizack.core.document import Shot, lost_files
from dreizack.core.light import STUDIOS


def read(data: bytes) -> np.ndarray:
    found = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR)
    assert found is not None
    return found


def test_every_room_has_a_picture_of_its_own(client: TestClient) -> None:
    seen = {}
    for name in STUDIOS:
        answer = client.get(f"/api/rooms/{name}/picture")
        assert answer.status_code == 200 and answer.headers["content-type"] == "image/jpeg"
        picture = read(answer.content)
        assert picture.shape == (96, 192, 3)
        # Neither black nor white all over.
        assert 12 < np.median(picture) < 243
        seen[name] = picture.astype(int)
    names = list(seen)
    for k, one in enumerate(names):
        for other in names[k + 1 :]:
            assert np.abs(seen[one] - seen[other]).mean() > 1, (one, other)


def test_what_was_brought_is_shown_small(client: TestClient) -> None:
    half = np.zeros((40, 80, 3), np.uint8)
    half[:, 40:] = (30, 60, 200)
    _, png = cv2.imencode(".png", half)
    file = client.post("/api/library/pictures", content=png.tobytes()).json()["file"]
    picture = read(client.get(f"/api/library/thumbnails/{file}").content)
    assert picture.shape == (96, 192, 3)
    np.testing.assert_allclose(picture[48, 150], (30, 60, 200), atol=14)
    panorama = client.post("/api/library/panoramas", content=png.tobytes()).json()["file"]
    assert read(client.get(f"/api/library/thumbnails/{panorama}").content).shape == (96, 192, 3)


def test_a_file_keeps_the_name_it_came_with(client: TestClient, tmp_path: Path) -> None:
    _, png = cv2.imencode(".png", np.full((4, 8, 3), 90, np.uint8))
    file = client.post("/api/library/pictures", content=png.tobytes()).json()["file"]
    at = f"/api/library/names/{file}"
    assert client.get(at).json() == {"name": ""}
    assert client.put(at, json={"name": "harbour at dusk.jpg"}).status_code == 200
    assert client.get(at).json() == {"name": "harbour at dusk.jpg"}
    # Whoever misses it reads its own name.
    (tmp_path / "library" / file).unlink()
    shot = Shot()
    shot.backdrop.kind, shot.backdrop.picture = "picture", file
    assert [one.says for one in lost_files(shot)] == [
        "harbour at dusk.jpg of the backdrop is not in the library; bring it again"
    ]


@pytest.mark.parametrize("file", ["none.png", "..%2fpassword", "%2e%2e%2fsecret.png"])
def test_only_files_of_the_library_are_called_anything(client: TestClient, file: str, tmp_path: Path) -> None:
    before = {path for path in tmp_path.rglob("*") if path.is_file()}
    assert client.put(f"/api/library/names/{file}", json={"name": "mine"}).status_code in (404, 405)
    for wish in ({"name": "x" * 201}, {"name": "a\nb"}, {"name": 3}, {"name": "a", "path": "b"}, {}):
        assert client.put("/api/library/names/a.png", json=wish).status_code == 422
    assert {path for path in tmp_path.rglob("*") if path.is_file()} == before


@pytest.mark.parametrize(
    "where",
    [
        "rooms/nowhere/picture",
        "library/thumbnails/none.png",
        "library/thumbnails/..%2fpassword",
        "library/thumbnails/a.solve",
    ],
)
def test_what_is_nowhere_says_so(client: TestClient, where: str) -> None:
    answer = client.get(f"/api/{where}")
    assert answer.status_code == 404
