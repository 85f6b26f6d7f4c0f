"""Pictures that shots and their markers are known by: which frame, when anew, and what is refused."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from dreizack.api import posters
from dreizack.api.app import create_app

Traced = list[tuple[int, tuple[int, int]]]


@pytest.fixture
def traced(monkeypatch: pytest.MonkeyPatch) -> Traced:
    """What was traced, in place of the tracer: frames with their sizes."""
    found: Traced = []

    async def still(
        views: object, viewer: str, shot: str, frame: int, size: tuple[int, int], samples: int, path: Path
    ) -> bool:
        found.append((frame, size))
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(f"frame {frame} of {shot}".encode())
        return True

    monkeypatch.setattr(posters, "trace_still", still)
    monkeypatch.setattr(posters, "REST", 0.0)
    return found


@pytest.fixture
def client(address: str, tmp_path: Path) -> Iterator[TestClient]:
    app = create_app(address, tmp_path, web=None, looking=False)
    with TestClient(app, base_url="http://127.0.0.1", raise_server_exceptions=False) as made:
        made.app.state.services.posters.views.enabled = True  # type: ignore[attr-defined]
        yield made


def edited(client: TestClient, shot: str, *patch: dict[str, object]) -> None:
    base = client.get(f"/api/shots/{shot}").json()["revision"]
    assert (
        client.post(f"/api/shots/{shot}/edits", json={"base": base, "patch": list(patch)}).status_code == 200
    )


def marker(frame: int, note: str = "") -> dict[str, object]:
    return {"op": "add", "path": "/markers/-", "value": {"frame": frame, "name": "", "note": note}}


def test_a_marker_shows_its_frame_and_is_traced_anew_only_when_the_picture_changes(
    client: TestClient, made: str, traced: Traced, tmp_path: Path
) -> None:
    edited(client, made, marker(7), marker(300))
    first = client.get(f"/api/shots/{made}/markers/0/picture")
    assert first.status_code == 200 and first.content.startswith(b"frame 7 of")
    # Beyond the end it is the last frame.
    assert client.get(f"/api/shots/{made}/markers/1/picture").content.startswith(b"frame 19 of")
    assert traced == [(7, (640, 360)), (19, (640, 360))]
    # A note is no picture.
    edited(client, made, {"op": "replace", "path": "/markers/0/note", "value": "the edge is too hot"})
    assert client.get(f"/api/shots/{made}/markers/0/picture").content == first.content
    assert len(traced) == 2
    edited(client, made, {"op": "replace", "path": "/camera/exposure", "value": 1.0})
    assert client.get(f"/api/shots/{made}/markers/0/picture").content != first.content
    assert traced[2:] == [(7, (640, 360))]
    # The older one of that frame is gone, that of the other is not.
    assert (
        len(list(tmp_path.glob(f"posters/{made}@7-*")))
        == len(list(tmp_path.glob(f"posters/{made}@19-*")))
        == 1
    )


def test_a_poster_is_not_the_picture_of_a_marker(client: TestClient, made: str, traced: Traced) -> None:
    edited(client, made, marker(3))
    assert client.get(f"/api/shots/{made}/poster").content.startswith(b"frame 12 of")
    assert client.get(f"/api/shots/{made}/markers/0/picture").content.startswith(b"frame 3 of")
    assert client.get(f"/api/shots/{made}/poster").content.startswith(b"frame 12 of")
    assert [frame for frame, _ in traced] == [12, 3]


@pytest.mark.parametrize("number", ["1", "-1", "1e3", "..%2f..%2fetc", "99999999999999999999"])
def test_markers_that_are_not_there_are_refused_and_nothing_is_traced(
    client: TestClient, made: str, traced: Traced, number: str
) -> None:
    edited(client, made, marker(3))
    assert client.get(f"/api/shots/{made}/markers/{number}/picture").status_code in {404, 422}
    assert traced == []
