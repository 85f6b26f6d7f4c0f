"""Footage through the door: brought, solved, picked in; and what does not get in."""

from __future__ import annotations

import asyncio
import csv
import io
from fractions import Fraction
from pathlib import Path
from typing import Any
from uuid import UUID

import av
import cv2
import numpy as np
import pytest
from fastapi.testclient import TestClient

from dreizack.core.affine import rotation
from dreizack.core.clips import plate_frame
from dreizack.core.colour import srgb_to_linear
from dreizack.core.document import Shot
from dreizack.core.match import left_out_masks
from dreizack.core.match.left_out import BESIDE
from dreizack.core.scene import sight
from dreizack.store import open_store
from dreizack.work.solving import Solver
from tests.core.match.plates import Filming, dolly, footage, pan

from .test_access import OWN
from .test_api import unpack
from .test_offers import shot_of


def film(camera: Filming, shade: float = 1.0) -> bytes:
    """A movie of the quay by a camera; the right half is in shade, which leaves such a share of its codes."""
    frames = footage(camera)
    frames[:, :, 480:] = (frames[:, :, 480:] * shade).astype(np.uint8)
    return movie_of(frames)


def movie_of(frames: np.ndarray) -> bytes:
    """Grey frames (frames, 540, 960) as a movie."""
    held = io.BytesIO()
    with av.open(held, "w", format="mp4") as movie:
        stream = movie.add_stream("libx264", rate=Fraction(25))
        stream.width, stream.height, stream.pix_fmt = 960, 540, "yuv420p"
        stream.options = {"crf": "12", "preset": "veryfast"}
        for grey in frames:
            frame = av.VideoFrame.from_ndarray(np.repeat(grey[..., None], 3, axis=2), format="rgb24")
            movie.mux(stream.encode(frame.reformat(format="yuv420p")))
        movie.mux(stream.encode(None))
    return held.getvalue()


def brought(client: TestClient, made: str, camera: Filming, shade: float = 1.0) -> str:
    answer = client.post("/api/library/plates", content=film(camera, shade))
    assert answer.status_code == 201, answer.text
    found = answer.json()
    assert (found["width"], found["height"], found["rate"]) == (960, 540, 25.0)
    assert client.post(f"/api/shots/{made}/plate", json={"clip": found["file"]}).json()["changed"]
    file: str = found["file"]
    return file


def solved(client: TestClient, address: str, folder: Path, made: str) -> dict[str, Any]:
    """The plate of a shot, solved as the worker does it."""
    asked = client.post(f"/api/shots/{made}/plate/solve", json={}).json()
    assert asked["state"] == "waiting"
    store = open_store(address, size=2)
    try:
        assert asyncio.run(Solver(store, folder).solve(UUID(asked["id"]), lambda: False))
    finally:
        store.close()
    state: dict[str, Any] = client.get(f"/api/shots/{made}/plate/solve").json()
    return state


def test_words_come_to_stand_in_footage(client: TestClient, made: str, address: str, tmp_path: Path) -> None:
    camera = dolly(20)
    brought(client, made, camera)
    document = shot_of(client, made)
    assert document["format"]["frames"] == 20 and document["backdrop"]["kind"] == "plate"
    floors = [t for t in document["things"].values() if t["kind"] == "floor"]
    assert floors and all(floor["visibility"]["catches"] for floor in floors)
    state = solved(client, address, tmp_path, made)
    assert state["state"] == "complete", state
    # The same wish again is there at once.
    assert client.post(f"/api/shots/{made}/plate/solve", json={}).json()["file"] == state["file"]
    assert client.post(f"/api/shots/{made}/plate/solved").json()["changed"]
    assert shot_of(client, made)["camera"]["rig"] == "matched"
    report = client.get(f"/api/shots/{made}/plate/report").json()
    assert report["verdict"] == "good" and report["kind"] == "moving" and len(report["residual"]) == 20
    assert report["focal_length"] == pytest.approx(36 * camera.focal / 960, rel=0.01)
    head, arrays = unpack(client.get(f"/api/shots/{made}/plate/points").content)
    assert head["kind"] == "moving" and len(arrays["begin"]) == 21
    assert arrays["xy"].min() > 0 and arrays["xy"].max() < 1

    def align(what: str, *places: Any, **more: Any) -> Any:
        return client.post(
            f"/api/shots/{made}/plate/align", json={"what": what, "frame": 0, "places": places, **more}
        )

    # The ground by a box, then two known places on it.
    assert align("ground", (0.1, 0.72), (0.95, 0.98), box=True).json()["changed"]
    known = np.array([[-1.0, 0, 1.5], [1.0, 0, 1.5]])
    seen = camera.seen(known, 0) / np.array(camera.size)
    assert align("origin", tuple(camera.seen(np.array([[0.0, 0, 1.0]]), 0)[0] / [960, 540])).json()["changed"]
    first, second = (arrays["point"][k] for k in nearest(arrays, seen))
    apart = float(np.linalg.norm(arrays["room"][first] - arrays["room"][second]))
    assert apart > 0
    assert align("distance", *map(tuple, seen.tolist()), metres=2.0).json()["changed"]
    # A title stands where one points, on the ground.
    thing = next(name for name, t in shot_of(client, made)["things"].items() if t["kind"] == "title")
    place = (camera.seen(np.array([[0.5, 0, 2.0]]), 0)[0] / [960, 540]).tolist()
    stands = client.post(
        f"/api/shots/{made}/plate/stand", json={"thing": thing, "frame": 0, "places": [place], "facing": True}
    )
    assert stands.json()["changed"]
    position = shot_of(client, made)["things"][thing]["place"]["position"]
    assert abs(position["y"]) < 1e-6
    # Truth: it is (0.5, 0, 1) away from the origin, whichever way the room is turned.
    assert np.hypot(position["x"], position["z"]) == pytest.approx(np.hypot(0.5, 1.0), rel=0.12)
    wrong = client.post(f"/api/shots/{made}/plate/points/remove", json={"box": [[0.1, 0.1], [0.3, 0.9]]})
    assert wrong.json()["changed"] and wrong.json()["gone"] > 0
    _, less = unpack(client.get(f"/api/shots/{made}/plate/points").content)
    here = less["xy"][less["begin"][0] : less["begin"][1]]
    assert len(less["room"]) == len(arrays["room"]) - wrong.json()["gone"]
    assert not ((here > [0.1, 0.1]) & (here < [0.3, 0.9])).all(axis=1).any()
    assert shot_of(client, made)["things"][thing]["place"]["position"] == position
    nothing = client.post(f"/api/shots/{made}/plate/points/remove", json={"box": [[0.5, 0.5], [0.5, 0.5]]})
    assert nothing.status_code == 422 and "no point in this box" in nothing.json()["detail"]
    add_points_by_hand(client, made, camera)
    grid = client.get(f"/api/shots/{made}/plate/grid?frame=0").json()
    assert len(grid) > 8
    frame = client.get(f"/api/shots/{made}/plate/frame?frame=3")
    assert frame.headers["content-type"] == "image/jpeg"


def add_points_by_hand(client: TestClient, made: str, camera: Any) -> None:
    """A spot that is clicked is followed and becomes a point; one at the edge is refused."""
    at = f"/api/shots/{made}/plate/points"
    before = client.get(f"/api/shots/{made}/plate/report").json()
    spots = (np.arange(0.3, 0.7, 0.06)[:, None] * [1, 0] + [0, 0.8]).tolist()
    tried = [client.post(f"{at}/add", json={"frame": 12, "place": spot}) for spot in spots]
    added = [answer.json() for answer in tried if answer.status_code == 200]
    # Where the ground has no texture it says so.
    assert all(answer.status_code in (200, 422) and answer.json() for answer in tried) and added
    assert max(one["seen"] for one in added) > 12 and min(one["off"] for one in added) < 0.5
    report = client.get(f"/api/shots/{made}/plate/report").json()
    assert report["points"] == before["points"] + len(added) and report["verdict"] == "good"
    edge = client.post(f"{at}/add", json={"frame": 0, "place": [0.001, 0.5]})
    assert edge.status_code == 422 and "edge of the picture" in edge.json()["detail"]
    gone = client.post(f"{at}/add", json={"frame": 0, "place": [0.5, 0.5], "point": 999_999})
    assert gone.status_code == 422 and gone.json()["detail"]


def test_a_locked_shot_is_matched_by_edges(client: TestClient, made: str) -> None:
    camera = dolly(3)
    brought(client, made, camera)

    def seen(*ends: tuple[float, float, float]) -> list[list[float]]:
        places: list[list[float]] = (camera.seen(np.array(ends), 0) / np.array(camera.size)).tolist()
        return places

    along = [seen((-1.5, 0, 1), (1.5, 0, 1)), seen((-1.5, 1, -1), (1.5, 1, -1))]

    away = [seen((-1, 0, 2), (-1, 0, -3)), seen((1.5, 0, 2), (1.5, 0, -3))]
    wish = {"along": along, "other": away, "focal_length": camera.focal * 36 / 960}
    assert client.post(f"/api/shots/{made}/plate/edges", json=wish).json()["changed"]
    document = shot_of(client, made)
    assert document["camera"]["rig"] == "matched"
    report = client.get(f"/api/shots/{made}/plate/report").json()
    assert "edges" in report["words"][0] and report["verdict"] == "good"
    _, arrays = unpack(client.get(f"/api/shots/{made}/scene").content)
    # The camera looks as it did: down by as much.
    way = arrays["camera/aim"][0] - arrays["camera/position"][0]
    looked = camera.rotations[0][2]
    assert way[1] / np.linalg.norm(way) == pytest.approx(looked[1], abs=0.01)
    assert arrays["camera/position"][0][1] == pytest.approx(1.6, abs=0.01)
    wish = {"along": along, "other": [along[0], along[1]]}
    refused = client.post(f"/api/shots/{made}/plate/edges", json=wish)
    assert refused.status_code == 422 and refused.json()["detail"]


def test_what_covers_outline_is_left_out_of_a_solve(client: TestClient, made: str, address: str) -> None:
    brought(client, made, dolly(12))
    corner = [(0.1, 0.1), (0.2, 0.1), (0.2, 0.2)]
    later = [(x + 0.44, y) for x, y in corner]
    cover = {"shapes": [{"frame": 0, "points": corner}, {"frame": 11, "points": later}], "roundness": 0}
    shot = client.get(f"/api/shots/{made}").json()
    patch = [{"op": "add", "path": "/plate/covers/-", "value": cover}]
    assert client.post(f"/api/shots/{made}/edits", json={"base": shot["revision"], "patch": patch}).is_success
    whole = client.post(f"/api/shots/{made}/plate/solve", json={}).json()
    asked = client.post(f"/api/shots/{made}/plate/solve", json={"leave_out": True}).json()
    assert asked["id"] != whole["id"]
    # The same again is the same; other outlines are another wish.
    again = client.post(f"/api/shots/{made}/plate/solve", json={"leave_out": True}).json()
    assert again["id"] == asked["id"]
    store = open_store(address, size=2)
    try:
        row = store.row("solve_begin", id=asked["id"])
        assert row is not None
        masks = left_out_masks(row["left_out"])
    finally:
        store.close()
    for frame in (0, 5, 11):
        columns = np.flatnonzero(masks(frame, (960, 540)).any(axis=0))
        left = 960 * (0.1 + 0.44 * frame / 11)
        assert columns[0] == pytest.approx(left - BESIDE, abs=2)
        assert columns[-1] == pytest.approx(left + 96 + BESIDE, abs=2)


def test_softness_and_blacks_of_the_plate_are_given_to_the_words(client: TestClient, made: str) -> None:
    brought(client, made, dolly(6))
    found = client.post(f"/api/shots/{made}/plate/filmed").json()
    assert found["changed"] and 0 <= found["blur"] < 3 and max(found["black"]) < 0.5
    filmed = shot_of(client, made)["plate"]["filmed"]
    assert filmed["blur"] == pytest.approx(found["blur"], abs=1e-3)
    np.testing.assert_allclose(
        [filmed["black"][name] for name in "rgb"], srgb_to_linear(np.array(found["black"])), atol=1e-4
    )


def nearest(arrays: dict[str, Any], seen: Any) -> list[int]:
    begin, end = arrays["begin"][0], arrays["begin"][1]
    return [int(begin + np.linalg.norm(arrays["xy"][begin:end] - one, axis=1).argmin()) for one in seen]


def test_the_sun_and_its_shadow_are_taken_from_the_plate(
    client: TestClient, made: str, tmp_path: Path
) -> None:
    brought(client, made, dolly(3), 0.5)
    # Without a solve the camera set by hand serves.
    sun = {
        "frame": 0,
        "picks": [[[0.4, 0.7], [0.4, 0.5], [0.55, 0.75]], [[0.6, 0.72], [0.6, 0.5], [0.76, 0.77]]],
    }
    answer = client.post(f"/api/shots/{made}/plate/sun", json=sun)
    assert answer.status_code == 200, answer.text
    assert answer.json()["changed"] and 0 <= answer.json()["spread"] < 25
    things = shot_of(client, made)["things"]
    lights = [t for t in things.values() if t["kind"] == "light"]
    assert [light["source"] for light in lights if light["on"]] == ["sun"]
    lit, shade = [[0.05, 0.9], [0.45, 0.9]], [[0.55, 0.9], [0.95, 0.9]]
    measured = client.post(f"/api/shots/{made}/plate/shadow", json={"frame": 0, "lit": lit, "shade": shade})
    # Half the code is about a fifth of the light; the texture is not the same on both sides.
    assert all(left == pytest.approx(0.21, abs=0.08) for left in measured.json()["left"])
    assert shot_of(client, made)["plate"]["shadow_density"] == pytest.approx(1.0, abs=0.05)
    turned = client.post(f"/api/shots/{made}/plate/shadow", json={"frame": 0, "lit": shade, "shade": lit})
    assert turned.status_code == 422 and "other way round" in turned.json()["detail"]
    above = {"frame": 0, "picks": [[[0.4, 0.01], [0.4, 0.005], [0.5, 0.02]]]}
    refused = client.post(f"/api/shots/{made}/plate/sun", json=above)
    assert refused.status_code == 422 and "horizon" in refused.json()["detail"]


def test_the_sun_is_put_where_it_was_by_place_and_time(client: TestClient, made: str) -> None:
    brought(client, made, dolly(3), 0.5)
    # At an equinox, at noon on the equator's meridian, 50° north: in the south, 40° high.
    when = {"frame": 0, "latitude": 50, "longitude": 0, "day": 80, "hour": 12.12, "bearing": 90}
    answer = client.post(f"/api/shots/{made}/plate/sun-at", json=when)
    assert answer.status_code == 200, answer.text
    assert answer.json()["elevation"] == pytest.approx(40, abs=0.7)
    assert answer.json()["azimuth"] == pytest.approx(180, abs=1.5)
    (sun,) = [
        t for t in shot_of(client, made)["things"].values() if t["kind"] == "light" and t["source"] == "sun"
    ]
    # The camera looks east: south is to its right.
    camera = shot_of(client, made)["camera"]
    ahead = np.array([camera["aim"][axis] - camera["position"][axis] for axis in "xyz"])
    right = np.cross(ahead / np.linalg.norm(ahead), [0, 1, 0])
    towards = np.array([sun["position"][axis] for axis in "xyz"])
    towards /= np.linalg.norm(towards)
    flat = towards * [1, 0, 1] / np.linalg.norm(towards * [1, 0, 1])
    assert flat @ right / np.linalg.norm(right) > 0.999
    night = client.post(f"/api/shots/{made}/plate/sun-at", json=when | {"hour": 0})
    assert night.status_code == 422 and "below the horizon" in night.json()["detail"]
    senseless = client.post(f"/api/shots/{made}/plate/sun-at", json=when | {"latitude": 200})
    assert senseless.status_code == 422


def test_a_pan_is_told_its_horizon(client: TestClient, made: str, address: str, tmp_path: Path) -> None:
    camera = pan(9)
    brought(client, made, camera)
    assert solved(client, address, tmp_path, made)["state"] == "complete"
    client.post(f"/api/shots/{made}/plate/solved")
    report = client.get(f"/api/shots/{made}/plate/report").json()
    assert report["kind"] == "turning" and "only turns" in report["words"][0]
    far = camera.centres[4] + 1e5 * np.array([[0.2, 0, -1.0], [-0.2, 0, -1.0]])
    places = (camera.seen(far, 4) / np.array(camera.size)).tolist()
    done = client.post(
        f"/api/shots/{made}/plate/align", json={"what": "ground", "frame": 4, "places": places, "metres": 1.6}
    )
    assert done.json()["changed"], done.text
    # The camera is level and 1.6 m above the ground then.
    _, arrays = unpack(client.get(f"/api/shots/{made}/scene").content)
    assert arrays["camera/position"][0, 1] == pytest.approx(1.6, abs=1e-3)
    # Two places on that ground, one metre apart, are said to be two: the camera is twice as high.
    ground = camera.centres[4] + np.array([[0.5, -1.6, -4.0], [-0.5, -1.6, -4.0]])
    wish = {"what": "distance", "frame": 4, "metres": 2}
    wish["places"] = (camera.seen(ground, 4) / np.array(camera.size)).tolist()
    assert client.post(f"/api/shots/{made}/plate/align", json=wish).json()["changed"]
    _, arrays = unpack(client.get(f"/api/shots/{made}/scene").content)
    assert arrays["camera/position"][0, 1] == pytest.approx(3.2, abs=0.02)
    assert client.post(f"/api/shots/{made}/plate/align", json=wish | {"what": "direction"}).json()["changed"]
    lost = client.post(f"/api/shots/{made}/plate/align", json=wish | {"places": wish["places"][:1]})
    assert lost.status_code == 422 and "two places" in lost.json()["detail"]
    above = client.post(f"/api/shots/{made}/plate/align", json=wish | {"places": [[0.5, 0.01], [0.6, 0.01]]})
    assert above.status_code == 422 and "horizon" in above.json()["detail"]


def test_a_solve_is_called_off(client: TestClient, made: str, address: str, tmp_path: Path) -> None:
    brought(client, made, dolly(3))
    asked = client.post(f"/api/shots/{made}/plate/solve", json={"focal_length": 35}).json()
    assert client.post(f"/api/shots/{made}/plate/solve/cancel").json()["state"] == "cancelled"
    store = open_store(address, size=2)
    try:
        assert asyncio.run(Solver(store, tmp_path).solve(UUID(asked["id"]), lambda: False))
    finally:
        store.close()
    assert client.get(f"/api/shots/{made}/plate/solve").json()["state"] == "cancelled"
    assert client.post(f"/api/shots/{made}/plate/solved").status_code == 404


def test_a_clip_that_cannot_be_solved_says_why(
    client: TestClient, made: str, address: str, tmp_path: Path
) -> None:
    brought(client, made, dolly(2))
    state = solved(client, address, tmp_path, made)
    assert state["state"] == "failed" and "three frames" in state["why"]


@pytest.mark.parametrize(
    "path",
    ["plate/solve", "plate/report", "plate/points", "plate/points.csv", "plate/frame"],
)
def test_a_shot_without_a_plate_says_so(client: TestClient, made: str, path: str) -> None:
    answer = client.get(f"/api/shots/{made}/{path}")
    assert answer.status_code == 404 and answer.json()["detail"]


@pytest.mark.parametrize(
    "clip", ["../../etc/passwd", "/etc/passwd", "plate-nothing.clip", "a.png", "", "plate\\x00.clip"]
)
def test_only_plates_of_the_library_are_taken(client: TestClient, made: str, clip: str) -> None:
    answer = client.post(f"/api/shots/{made}/plate", json={"clip": clip})
    assert answer.status_code == 422
    assert client.get(f"/api/library/plates/{clip.replace('/', '%2f') or 'x'}").status_code in (400, 404)


@pytest.mark.parametrize("data", [b"", b"RIFF" + bytes(64), b"\x00\x00\x00\x18ftypmp42" + bytes(500)])
def test_what_is_no_footage_is_refused_in_words(client: TestClient, data: bytes) -> None:
    answer = client.post("/api/library/plates", content=data)
    assert answer.status_code == 422 and "video" in answer.json()["detail"]


@pytest.mark.parametrize(
    "places", [[], [[0.5, 0.5]], [[1e308, 0.5]] * 3, [["a", 1]], [[0.5]], [[0.5, 0.5]] * 201]
)
def test_odd_picks_are_refused_in_words(client: TestClient, made: str, places: Any) -> None:
    answer = client.post(
        f"/api/shots/{made}/plate/align", json={"what": "ground", "frame": 0, "places": places}
    )
    assert answer.status_code == 422 and answer.json()["detail"]


def test_a_box_of_the_plate_is_a_catcher_where_it_was_picked(client: TestClient, made: str) -> None:
    """Corners seen by a camera set by hand: the box has their place, turn and size."""
    brought(client, made, dolly(3))
    at = f"/api/shots/{made}"
    revision = client.get(at).json()["revision"]
    patch = [
        {"op": "replace", "path": "/camera/position", "value": {"x": 0.5, "y": 1.6, "z": 6.0}},
        {"op": "replace", "path": "/camera/aim", "value": {"x": 0.0, "y": 0.6, "z": 0.0}},
    ]
    assert client.post(f"{at}/edits", json={"base": revision, "patch": patch}).status_code == 200
    seen = sight(Shot.model_validate(shot_of(client, made)), 0)
    turn = np.radians(20)
    along, back = np.array([np.cos(turn), 0, -np.sin(turn)]), np.array([-np.sin(turn), 0, -np.cos(turn)])
    first = np.array([-0.4, 0, 0.5])
    corners = np.array(
        [first, first + 1.2 * along, first + 1.2 * along + 0.7 * back, first + np.array([0, 0.9, 0])]
    )
    places = seen.seen(corners).tolist()
    made_box = client.post(f"{at}/plate/box", json={"frame": 0, "places": places})
    assert made_box.status_code == 200, made_box.text
    box = shot_of(client, made)["things"]["plate-box-1"]
    assert box["visibility"]["catches"] and box["size"] == pytest.approx(0.9, abs=1e-3)
    assert box["body"]["depth"] == pytest.approx(0.7, abs=1e-3)
    position, middle = box["place"]["position"], first + 0.6 * along
    assert [position[axis] for axis in "xyz"] == pytest.approx(middle.tolist(), abs=1e-3)
    assert box["place"]["rotation"]["y"] == pytest.approx(20, abs=0.05)
    # What stands there is as wide as it was picked.
    assert box["pieces"][0]["path"].startswith("M-0.66667 0L0.66667 0")
    # A wall beside it, and words far away, by the same camera.
    assert client.post(f"{at}/plate/wall", json={"frame": 0, "places": places[:2] + places[3:]}).json()[
        "changed"
    ]
    wall = shot_of(client, made)["things"]["plate-wall-1"]
    assert wall["visibility"]["catches"] and wall["width"] == pytest.approx(1.2, abs=1e-3)
    thing = next(name for name, t in shot_of(client, made)["things"].items() if t["kind"] == "title")
    far = {"thing": thing, "place": [0.5, 0.6], "metres": 80, "share": 0.2}
    assert client.post(f"{at}/plate/far", json=far).json()["changed"]
    away = shot_of(client, made)["things"][thing]["place"]["position"]
    assert np.hypot(away["x"] - 0.5, away["z"] - 6.0) == pytest.approx(80, abs=0.1)
    assert client.post(f"{at}/plate/far", json={**far, "metres": 0}).status_code == 422
    assert client.post(f"{at}/plate/far", json={**far, "thing": "none"}).status_code == 404
    assert client.post(f"{at}/plate/wall", json={"places": [[1e300, 0.5]] * 3}).status_code == 422
    flat = [places[0], places[0], places[2], places[3]]
    refused = client.post(f"{at}/plate/box", json={"frame": 0, "places": flat})
    assert refused.status_code == 422 and "apart" in refused.json()["detail"]


def test_while_footage_is_read_the_socket_says_how_far(client: TestClient) -> None:
    """By the name it was given, and by no other."""
    known = "6f1c7d9e-3a52-4b1f-9d9c-0a53c4f5b6a7"
    noise = np.random.default_rng(2).integers(0, 256, (60, 540, 960), dtype=np.uint8)
    with client.websocket_connect("/api/live", headers=OWN) as socket:
        answer = client.post("/api/library/plates", params={"known_as": known}, content=movie_of(noise))
        assert answer.status_code == 201, answer.text
        client.post("/api/productions", json={"name": "Spring tide"})
        heard = []
        while not heard or heard[-1]["kind"] != "production":
            heard.append(socket.receive_json())
    told = [news for news in heard if news["kind"] == "reading"]
    assert told and all(news["id"] == known and 0 <= news["done"] <= news["total"] for news in told)
    odd = client.post("/api/library/plates", params={"known_as": "nobody"}, content=b"")
    assert odd.status_code == 422


def test_the_plate_alone_is_the_clip_itself(client: TestClient, made: str) -> None:
    camera = dolly(3)
    assert client.get(f"/api/shots/{made}/plate/alone").status_code == 404
    brought(client, made, camera)
    answer = client.get(f"/api/shots/{made}/plate/alone", params={"frame": 2})
    assert answer.headers["content-type"] == "image/jpeg"
    seen = cv2.imdecode(np.frombuffer(answer.content, np.uint8), cv2.IMREAD_COLOR)
    clip = shot_of(client, made)["plate"]["clip"]
    values = plate_frame(clip, 2)
    assert seen is not None and values is not None
    truth = np.rint(values[..., ::-1] * 255)
    assert seen.shape == truth.shape and np.abs(seen - truth).mean() < 3


def test_surroundings_and_grain_come_from_the_plate(client: TestClient, made: str) -> None:
    brought(client, made, dolly(3))
    assert client.post(f"/api/shots/{made}/plate/surroundings").json()["changed"]
    document = shot_of(client, made)
    assert document["surroundings"]["source"] == "picture"
    assert document["surroundings"]["picture"].endswith(".panorama")
    # Whoever has the same plate has the same surroundings.
    again = client.post(f"/api/shots/{made}/plate/surroundings").json()
    assert not again["changed"], (document["surroundings"], shot_of(client, made)["surroundings"])
    found = client.post(f"/api/shots/{made}/plate/grain").json()
    assert found["changed"] and all(0 < one < 60 for one in found["strength"]) and 0.5 <= found["size"] <= 12
    assert shot_of(client, made)["plate"]["grain"]["middle"] == pytest.approx(found["strength"][1], abs=1e-3)


def test_a_locked_shot_is_matched_by_a_rectangle(client: TestClient, made: str) -> None:
    camera = dolly(3)
    brought(client, made, camera)
    corners = np.array([[-0.5, 0, 2.0], [1.5, 0, 2.0], [1.5, 0, 0.5], [-0.5, 0, 0.5]])
    places = (camera.seen(corners, 0) / np.array(camera.size)).tolist()
    wish = {"places": places, "width": 2.0, "depth": 1.5}
    assert client.post(f"/api/shots/{made}/plate/rectangle", json=wish).json()["changed"]
    assert shot_of(client, made)["camera"]["rig"] == "matched"
    report = client.get(f"/api/shots/{made}/plate/report").json()
    assert "rectangle" in report["words"][0] and report["verdict"] == "good"
    assert report["focal_length"] == pytest.approx(36 * camera.focal / 960, rel=0.01)
    _, arrays = unpack(client.get(f"/api/shots/{made}/scene").content)
    # The first corner is the origin.
    expected = camera.centres[0] - corners[0]
    np.testing.assert_allclose(arrays["camera/position"][0], expected, atol=0.05)
    # The camera as a table sees the corners where they were picked.
    table = client.get(f"/api/shots/{made}/camera.csv")
    assert table.headers["content-type"].startswith("text/csv")
    head, first, *_ = csv.reader(io.StringIO(table.text))
    assert head[0] == "frame" and first[0] == "0"
    x, y, z, *turn, angle = map(float, first[1:])
    local = (corners - corners[0] - [x, y, z]) @ rotation(np.array(turn))
    flat = local[:, :2] / -local[:, 2:] / np.tan(np.radians(angle / 2)) * 270
    np.testing.assert_allclose(
        np.abs(flat * [1, -1] + [480, 270] - np.array(places) * [960, 540]), 0, atol=0.5
    )
    points = list(csv.reader(io.StringIO(client.get(f"/api/shots/{made}/plate/points.csv").text)))
    assert len(points) == 5 and [float(v) for v in points[2][1:]] == pytest.approx([2, 0, 0], abs=1e-5)
    lines = client.post(f"/api/shots/{made}/plate/rectangle/grid", json={**wish, "cells": 2}).json()
    assert len(lines) == 6
    # The outermost lines of the grid end at the corners.
    ends = np.array([lines[0], lines[2]]).reshape(4, 2)[[0, 1, 3, 2]]
    np.testing.assert_allclose(ends, places, atol=2e-3)
    wish["places"] = [places[0]] * 4
    assert client.post(f"/api/shots/{made}/plate/rectangle/grid", json=wish).status_code == 422
    refused = client.post(f"/api/shots/{made}/plate/rectangle", json=wish)
    assert refused.status_code == 422 and "rectangle" in refused.json()["detail"]


def test_pieces_between_cuts_become_plates(
    client: TestClient, made: str, address: str, tmp_path: Path
) -> None:
    both = np.concatenate([footage(dolly(12)), footage(pan(9), seed=3)])
    file = client.post("/api/library/plates", content=movie_of(both)).json()["file"]
    client.post(f"/api/shots/{made}/plate", json={"clip": file})
    state = solved(client, address, tmp_path, made)
    assert state["state"] == "failed" and "a cut in this clip, at frame 12" in state["why"]
    assert state["pieces"] == [{"first": 0, "last": 11}, {"first": 12, "last": 20}]
    # A shot for each, and a piece as the plate here.
    others = client.post(
        f"/api/shots/{made}/plate/pieces",
        json={"pieces": state["pieces"]},
    ).json()
    assert client.post(f"/api/shots/{made}/plate/piece", json={"first": 12, "last": 20}).json()["changed"]
    first, second, here = (Shot.model_validate(shot_of(client, one)) for one in (*others, made))
    assert [shot.format.frames for shot in (first, second, here)] == [12, 9, 9]
    assert second.plate.clip == here.plate.clip != file and second.name.endswith(", 12 to 20")
    for shot, begins in ((first, 0), (here, 12)):
        for number in (0, shot.format.frames - 1):
            whole, piece = plate_frame(file, begins + number), plate_frame(shot.plate.clip, number)
            np.testing.assert_array_equal(piece, whole)
    told = client.get(f"/api/library/plates/{here.plate.clip}").json()
    assert told["frames"] == 9 and told["done"][-1] == "frames 12 to 20 of a longer plate"
    assert not [path for path in (tmp_path / "library").iterdir() if path.name.startswith(".piece")]


@pytest.mark.parametrize(
    ("piece", "status"),
    [((5, 3), 422), ((0, 400), 422), ((-1, 3), 422), ((0, 10**9), 422), ((0, "x"), 422)],
)
def test_pieces_that_are_none_are_refused(
    client: TestClient, made: str, piece: tuple[Any, Any], status: int
) -> None:
    brought(client, made, dolly(6))
    wish = {"first": piece[0], "last": piece[1]}
    answer = client.post(f"/api/shots/{made}/plate/piece", json=wish)
    assert answer.status_code == status and answer.json()["detail"]
    assert client.post(f"/api/shots/{made}/plate/pieces", json={"pieces": [wish]}).status_code == status
    assert client.post(f"/api/shots/{made}/plate/pieces", json={"pieces": []}).status_code == 422
    foreign = client.post(
        f"/api/shots/{made}/plate/piece",
        json={"first": 0, "last": 2},
        headers={"origin": "http://elsewhere.example"},
    )
    assert foreign.status_code == 403
    assert shot_of(client, made)["format"]["frames"] == 6
