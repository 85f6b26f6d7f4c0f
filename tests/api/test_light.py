"""Routes of light: surroundings, bumps, backdrops, lights placed by pointing, finishes and looks that are
kept."""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
import pytest
from fastapi.testclient import TestClient

from dreizack.core.document import Finish, write_shot
from dreizack.demo import demo_shots

from ..core.test_clips import FRAMES, movie
from .test_api import edit, unpack


def test_surroundings_come_tinted_and_blurred(client: TestClient) -> None:
    plain, red = (
        unpack(client.get("/api/surroundings", params=p).content)[1]["picture"]
        for p in ({"room": "ring"}, {"room": "ring", "green": 0, "blue": 0})
    )
    np.testing.assert_allclose(red[..., 0], plain[..., 0])
    assert red[..., 1:].max() == 0
    sky = unpack(
        client.get("/api/surroundings", params={"source": "sky", "elevation": 30, "azimuth": 90}).content
    )[1]["picture"]
    assert np.isfinite(sky).all() and sky.max() > 0
    assert client.get("/api/surroundings?room=attic").status_code == 404
    assert client.get("/api/surroundings?blur=nan").status_code == 422


def test_bumps_are_pictures(client: TestClient) -> None:
    heights = cv2.imdecode(
        np.frombuffer(client.get("/api/bumps/hammered").content, np.uint8), cv2.IMREAD_GRAYSCALE
    )
    assert heights.shape == (256, 256) and np.ptp(heights) > 100
    assert client.get("/api/bumps/velcro").status_code == 404


def test_the_scene_names_lights_surfaces_and_surroundings(client: TestClient, production: str) -> None:
    text = write_shot(demo_shots()["main-title"])
    made = client.post(
        f"/api/productions/{production}/files", content=text, headers={"Content-Type": "application/json"}
    ).json()["id"]
    facts, arrays = unpack(client.get(f"/api/shots/{made}/scene").content)
    assert facts["lights"]["key"] == "panel" and facts["behind"] == "surroundings"
    assert (
        facts["titles"]["title"]["worn"] == [[1, 0, 0, 0]]
        and facts["titles"]["title"]["bumps"][1][0] == "brushed"
    )
    assert arrays["surroundings/around"].max() == 0 and len(facts["around"]) == 1
    backdrop = client.get(f"/api/shots/{made}/backdrop")
    assert cv2.imdecode(np.frombuffer(backdrop.content, np.uint8), cv2.IMREAD_COLOR).shape == (720, 1280, 3)


def test_lights_are_placed_by_what_they_should_do(client: TestClient, made: str) -> None:
    wish: dict[str, Any] = {"light": "key", "point": [0, 0.2, 0.1], "normal": [0, 0, 1]}
    place = client.post(f"/api/shots/{made}/highlight", json=wish).json()
    assert place["aim"] == {"x": 0, "y": 0.2, "z": 0.1} and place["position"]["z"] > 0.1
    shadow = client.post(
        f"/api/shots/{made}/shadow", json={"light": "key", "thing": "title", "target": [1.5, -0.5, 1.0]}
    ).json()
    # The shadow falls away from the light.
    assert shadow["position"]["y"] > 0 and shadow["position"]["x"] < 1.5
    assert client.post(f"/api/shots/{made}/highlight", json={**wish, "light": "nobody"}).status_code == 404
    above = client.post(
        f"/api/shots/{made}/shadow", json={"light": "key", "thing": "title", "target": [0, 9, 0]}
    )
    assert above.status_code == 422 and "not below" in above.json()["detail"]
    assert client.post(f"/api/shots/{made}/ask", json={"x": 2, "y": 0.5}).status_code == 422


def test_without_a_renderer_questions_are_refused_politely(
    client: TestClient, made: str, monkeypatch: Any
) -> None:
    monkeypatch.setattr("dreizack.api.traced.PATIENCE", 0.2)
    answer = client.post(f"/api/shots/{made}/ask", json={"x": 0.5, "y": 0.5})
    assert answer.status_code == 503 and "try again" in answer.json()["detail"]


def test_finishes_and_looks_are_kept_followed_and_exchanged(client: TestClient, made: str) -> None:
    finish = Finish(roughness=0.11).model_dump()
    assert client.put("/api/library/finishes/Hull", json=finish).json() == {"name": "Hull", "shots": 0}
    assert (
        edit(
            client, made, 0, {"op": "replace", "path": "/things/title/finish/named", "value": "Hull"}
        ).status_code
        == 200
    )
    assert client.put("/api/library/finishes/Hull", json={**finish, "roughness": 0.66}).json()["shots"] == 1
    assert (
        client.get(f"/api/shots/{made}").json()["document"]["things"]["title"]["finish"]["roughness"] == 0.66
    )
    assert [one["name"] for one in client.get("/api/library/finishes").json()] == ["Hull"]
    assert (
        client.delete("/api/library/finishes/Hull").status_code == 204
        and client.delete("/api/library/finishes/Hull").status_code == 404
    )

    look = {"sections": {"finish": finish}}
    assert client.put("/api/looks/Dusk", json=look).status_code == 200
    file = client.get("/api/looks/Dusk/file")
    assert "Dusk.look.json" in file.headers["content-disposition"]
    assert client.delete("/api/looks/Dusk").status_code == 204
    assert client.post("/api/library/looks", content=file.content).json()["name"] == "Dusk"
    refused = client.post("/api/library/looks", content=b"{}")
    assert refused.status_code == 422 and "not a look file" in refused.json()["detail"]
    assert client.put("/api/looks/Dusk", json={"sections": {"words": "X"}}).status_code == 422
    assert client.get("/api/looks/nowhere/chip").status_code == 404
    assert client.get("/api/finishes/nowhere/chip").status_code == 404
    broken = client.post("/api/library/panoramas", content=b"nothing")
    assert broken.status_code == 422 and "HDR, EXR" in broken.json()["detail"]


def test_view_transforms_come_as_cubes(client: TestClient) -> None:
    facts, arrays = unpack(client.get("/api/view-transforms/film").content)
    assert arrays["lut"].shape == (33, 33, 33, 3) and facts["span"] == 14
    # Middle grey, by the logarithm, a little above the middle; brighter is brighter.
    grey = arrays["lut"][np.arange(33), np.arange(33), np.arange(33)]
    assert (np.diff(grey, axis=0) > -1e-4).all()
    assert client.get("/api/view-transforms/sepia").status_code == 404


def test_shadows_fall_on_the_floor_where_there_is_one(client: TestClient, made: str) -> None:
    assert client.get(f"/api/shots/{made}/footprints").json() == []
    floor = {"kind": "floor", "place": {"position": {"x": 0, "y": -0.2, "z": 0}}}
    assert edit(client, made, 0, {"op": "add", "path": "/things/floor", "value": floor}).status_code == 200
    found = client.get(f"/api/shots/{made}/footprints", params={"frame": 3}).json()
    assert {one["light"] for one in found} == {"key", "fill", "rim"} and {one["thing"] for one in found} == {
        "title"
    }
    assert all(one["tip"][1] == -0.2 and len(one["rings"][0]) > 3 for one in found)


def test_a_video_is_brought_put_on_a_surface_and_replaced_everywhere(client: TestClient, made: str) -> None:
    first = client.post("/api/library/videos", content=movie()).json()
    assert first["frames"] == FRAMES and first["width"] == 320
    assert client.post("/api/library/videos", content=b"nothing").status_code == 422
    picture = {"fill": "video", "file": first["file"], "channel": "emission"}
    glow = {"op": "replace", "path": "/things/title/finish/emission", "value": 1}
    assert (
        edit(
            client, made, 0, {"op": "add", "path": "/things/title/finish/picture", "value": picture}, glow
        ).status_code
        == 200
    )
    facts, arrays = unpack(client.get(f"/api/shots/{made}/scene").content)
    assert facts["titles"]["title"]["pictures"][0]["plays"] and arrays["title/title/playing/0"][7] == 7
    shown = [
        cv2.imdecode(
            np.frombuffer(
                client.get(f"/api/shots/{made}/things/title/surfaces/0/picture?frame={f}").content, np.uint8
            ),
            1,
        ).mean()
        for f in (0, 9)
    ]
    assert shown[0] < 60 and shown[1] > 110
    second = client.post("/api/library/videos", content=movie(frames=5)).json()
    assert (
        client.post("/api/library/replace", json={"old": first["file"], "new": second["file"]}).json()[
            "shots"
        ]
        == 1
    )
    assert (
        client.get(f"/api/shots/{made}").json()["document"]["things"]["title"]["finish"]["picture"]["file"]
        == second["file"]
    )
    assert (
        client.post("/api/library/replace", json={"old": first["file"], "new": "nothing.clip"}).status_code
        == 404
    )


def test_pictures_that_move_over_letters_come_in_steps(client: TestClient, made: str) -> None:
    keys = {"keys": [{"frame": 0, "value": 0}, {"frame": 19, "value": 1}]}
    edited = edit(
        client,
        made,
        0,
        {"op": "add", "path": "/things/title/finish/picture", "value": {"fill": "gradient"}},
        {"op": "add", "path": "/channels/~1things~1title~1finish~1picture~1shift_x", "value": keys},
    )
    assert edited.status_code == 200
    facts, arrays = unpack(client.get(f"/api/shots/{made}/scene").content)
    picture = facts["titles"]["title"]["pictures"][0]
    laid, step = (
        arrays["title/title/laid/0"].reshape(-1, picture["letters"], 14),
        arrays["title/title/laid_step/0"],
    )
    assert len(laid) == step.max() + 1 > 10
    np.testing.assert_allclose(laid[step[19], 0, 3] - laid[step[0], 0, 3], 1, atol=0.05)


def test_a_gradient_that_travels_along_outlines_is_another_picture_at_every_step(
    client: TestClient, made: str
) -> None:
    keys = {"keys": [{"frame": 0, "value": 0}, {"frame": 19, "value": 0.5}]}
    black_and_white = [{"at": at, "colour": {"r": at, "g": at, "b": at}} for at in (0, 1)]
    gradient = {"fill": "gradient", "gradient": "outline", "stops": black_and_white}
    assert (
        edit(
            client, made, 0, {"op": "add", "path": "/things/title/finish/picture", "value": gradient}
        ).status_code
        == 200
    )

    def shown() -> tuple[dict, np.ndarray, list[np.ndarray]]:
        facts, arrays = unpack(client.get(f"/api/shots/{made}/scene").content)
        address = f"/api/shots/{made}/things/title/surfaces/0/picture"
        pictures = [
            cv2.imdecode(np.frombuffer(client.get(f"{address}?frame={f}").content, np.uint8), 1)
            for f in (0, 10, 19)
        ]
        return facts["titles"]["title"]["pictures"][0], arrays["title/title/playing/0"], pictures

    still, playing, (first, middle, _) = shown()
    assert not still["plays"] and not playing.any() and (first == middle).all()
    moves = {"op": "add", "path": "/channels/~1things~1title~1finish~1picture~1shift_x", "value": keys}
    assert edit(client, made, 1, moves).status_code == 200
    travelling, playing, (first, middle, last) = shown()
    assert travelling["plays"] and travelling["key"] != still["key"] and playing[0] == 0 and playing[19] == 19
    assert np.abs(first.astype(int) - middle).mean() > 5 < np.abs(middle.astype(int) - last).mean()


def test_takes_come_and_go(client: TestClient, made: str) -> None:
    assert client.get(f"/api/shots/{made}/takes").json() == []
    assert client.put(f"/api/shots/{made}/takes/cold%20rim").status_code == 204
    assert (
        edit(client, made, 0, {"op": "replace", "path": "/camera/focal_length", "value": 85}).status_code
        == 200
    )
    assert client.post(f"/api/shots/{made}/takes/cold%20rim/recall").json() == {"changed": True}
    assert client.get(f"/api/shots/{made}").json()["document"]["camera"]["focal_length"] != 85
    assert client.delete(f"/api/shots/{made}/takes/cold%20rim").status_code == 204
    assert client.post(f"/api/shots/{made}/takes/cold%20rim/recall").status_code == 404


def test_lights_for_a_spot_are_told_before_they_are_changed(client: TestClient, made: str) -> None:
    before = client.get(f"/api/shots/{made}").json()
    light = next(name for name, thing in before["document"]["things"].items() if thing["kind"] == "light")
    spot = {"shares": {light: [0.4, 0.4, 0.4]}, "light": [0.4, 0.4, 0.4], "stops": 1.0}
    found = client.post(f"/api/shots/{made}/paint", json={"spots": [spot]}).json()
    assert [change["light"] for change in found["changes"]] == [light]
    assert found["changes"][0]["stops"] == pytest.approx(1, abs=0.02)
    assert found["reached"] == [pytest.approx(1, abs=0.02)]
    assert client.get(f"/api/shots/{made}").json()["revision"] == before["revision"]


@pytest.mark.parametrize(
    "wrong",
    [
        {"spots": []},
        {"spots": [{"shares": {"key": [-1, 0, 0]}, "light": [0, 0, 0]}]},
        {"spots": [{"shares": {"key": [1e9, 0, 0]}, "light": [0, 0, 0]}]},
        {"spots": [{"shares": {}, "light": [0, 0, 0]}], "limit": 90},
        {"spots": [{"shares": {}, "light": [0, 0, 0]}], "thing": "x"},
    ],
)
def test_spots_that_are_none_are_refused(client: TestClient, made: str, wrong: dict) -> None:  # type: ignore[type-arg]
    assert client.post(f"/api/shots/{made}/paint", json=wrong).status_code == 422
    nowhere = {"spots": [{"shares": {"nobody": [1, 1, 1]}, "light": [1, 1, 1]}]}
    assert client.post(f"/api/shots/{made}/paint", json=nowhere).status_code == 404
