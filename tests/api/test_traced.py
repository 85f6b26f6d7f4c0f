"""Which traced frames exist."""

from __future__ import annotations

from pathlib import Path

from fastapi.testclient import TestClient

from dreizack.core.document import Shot
from dreizack.core.media import Order, deliver
from dreizack.store.frame_cache import FRAMES, FrameCache


def runs(client: TestClient, shot: str, width: int, height: int) -> list[list[int]]:
    return client.get(f"/api/shots/{shot}/traced", params={"width": width, "height": height}).json()["runs"]


def test_frames_that_were_only_delivered_are_shown_as_there(
    client: TestClient, made: str, tmp_path: Path
) -> None:
    document = client.get(f"/api/shots/{made}").json()["document"]
    # Every frame is its own, or all would be there once one is.
    keys = [{"frame": 0, "value": 0.5}, {"frame": 19, "value": 1.0}]
    edited = client.post(
        f"/api/shots/{made}/edits",
        json={
            "base": 0,
            "patch": [{"op": "add", "path": "/channels/~1camera~1position~1x", "value": {"keys": keys}}],
        },
    )
    assert edited.status_code == 200, edited.text
    document = client.get(f"/api/shots/{made}").json()["document"]
    assert runs(client, made, 96, 54) == []
    frames = FrameCache(tmp_path / FRAMES)
    shot = Shot.model_validate(document)
    deliver(shot, Order(3, 4, 96, 54, "good"), tmp_path / "a.%05d.png", frames)
    deliver(shot, Order(8, 8, 96, 54, "draft"), tmp_path / "b.%05d.png", frames)
    # A draft is no picture one would want to look at instead; a larger picture cannot be made of a smaller
    # one.
    assert runs(client, made, 96, 54) == [[3, 4]]
    assert runs(client, made, 48, 27) == [[3, 4]]
    assert runs(client, made, 192, 108) == []
    brighter = [{"op": "replace", "path": "/camera/exposure", "value": 1.0}]
    turned = client.post(
        f"/api/shots/{made}/edits", json={"base": edited.json()["revision"], "patch": brighter}
    )
    assert turned.status_code == 200
    assert runs(client, made, 96, 54) == []
