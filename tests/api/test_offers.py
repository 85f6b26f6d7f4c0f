"""Edits that the core offers: whole, undone by one undo, and refused in words."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

from .test_api import edit, unpack


def shot_of(client: TestClient, shot: str) -> dict[str, Any]:
    return client.get(f"/api/shots/{shot}").json()["document"]


def post(client: TestClient, shot: str, path: str, **body: Any) -> Any:
    return client.post(f"/api/shots/{shot}/{path}", json=body)


def test_each_offer_is_one_edit_that_one_undo_takes_back(client: TestClient, made: str) -> None:
    edit(client, made, 0, {"op": "add", "path": "/things/buoy", "value": {"kind": "pivot", "name": "Buoy"}})
    edit(client, made, 1, {"op": "add", "path": "/things/title/sets/-", "value": {}})
    offers: list[tuple[str, dict[str, Any]]] = [
        ("things/title/span", {"start": 3, "end": 12}),
        ("hang", {"thing": "title", "on": "buoy", "frame": 4}),
        ("camera/rig", {"rig": "orbit", "frame": 0}),
        ("items/remove", {"at": "/things/title/sets", "index": 0}),
        ("things/key/remove", {"frame": 0}),
        ("motions", {"motion": "shutters", "thing": "title", "frame": 2, "frames": 12}),
        ("motions", {"motion": "slow-push", "thing": "camera", "frame": 0, "frames": 20}),
    ]
    for path, body in offers:
        before = shot_of(client, made)
        answer = post(client, made, path, **body)
        assert answer.status_code == 200, answer.text
        assert answer.json()["changed"] is True
        assert shot_of(client, made) != before
        client.post(f"/api/shots/{made}/undo")
        assert shot_of(client, made) == before


def test_movement_is_copied_and_what_found_no_place_is_said(client: TestClient, made: str) -> None:
    edit(client, made, 0, {"op": "add", "path": "/things/two", "value": {"kind": "title", "words": "FLOW"}})
    edit(client, made, 1, {"op": "add", "path": "/things/buoy", "value": {"kind": "pivot", "name": "Buoy"}})
    post(client, made, "motions", motion="shutters", thing="title", frame=2, frames=12)
    assert post(client, made, "motions/copy", source="title", target="two").json()["lost"] == []
    assert shot_of(client, made)["things"]["two"]["sets"] == shot_of(client, made)["things"]["title"]["sets"]
    assert (
        "/sets/0/turn/y" in post(client, made, "motions/copy", source="title", target="buoy").json()["lost"]
    )


def test_a_movement_can_be_tried_without_changing_anything(client: TestClient, made: str) -> None:
    before = shot_of(client, made)
    answer = post(client, made, "motions/trial", motion="shutters", thing="title", frame=0, frames=12)
    head, arrays = unpack(answer.content)
    assert arrays["title/title/poses"].shape[0] == 20
    assert head["titles"]["title"]["fans"][0]["starts"]
    assert shot_of(client, made) == before


@pytest.mark.parametrize(
    ("path", "body", "status", "words"),
    [
        ("things/nobody/span", {"start": 0, "end": 3}, 404, "nothing of this name"),
        ("things/title/span", {"start": 5, "end": 5}, 422, "cannot be there"),
        ("things/title/span", {"start": -1, "end": 5}, 422, ""),
        ("hang", {"thing": "nobody", "on": "title"}, 404, "nothing of this name"),
        ("hang", {"thing": "title", "on": "title"}, 422, "circle"),
        ("camera/rig", {"rig": "dolly"}, 422, ""),
        ("items/remove", {"at": "/things/title/sets", "index": 7}, 404, "no such item"),
        ("items/remove", {"at": "nonsense", "index": 0}, 404, "no such item"),
        ("things/nobody/remove", {}, 404, "nothing of this name"),
        ("motions", {"motion": "nonsense", "thing": "title"}, 404, "no such movement"),
        ("motions", {"motion": "shutters", "thing": "camera"}, 422, "moves a title or mark"),
        ("motions/trial", {"motion": "shutters", "thing": "nobody"}, 404, "nothing of this name"),
        ("motions/copy", {"source": "title", "target": "nobody"}, 404, "nothing of this name"),
        ("picture-looks", {"look": "nonsense"}, 404, "no look of this name"),
        ("picture-looks", {"look": "silver", "values": {}}, 422, ""),
        ("picture-looks/trial", {"look": "../silver"}, 404, "no look of this name"),
        ("picture-looks/trial", {"look": "silver", "frame": -1}, 422, ""),
    ],
)
def test_offers_that_cannot_be_are_refused_in_words(
    client: TestClient, made: str, path: str, body: dict[str, Any], status: int, words: str
) -> None:
    before = client.get(f"/api/shots/{made}").json()
    answer = post(client, made, path, **body)
    assert answer.status_code == status and words in answer.text
    assert client.get(f"/api/shots/{made}").json() == before


def test_movements_are_offered_with_what_they_move(client: TestClient) -> None:
    offered = client.get("/api/motions").json()
    assert len(offered) >= 30
    assert {kind for one in offered for kind in one["kinds"]} >= {
        "title",
        "mark",
        "camera",
        "light",
        "surroundings",
    }


def test_a_look_is_tried_without_a_change_given_and_taken_back(client: TestClient, made: str) -> None:
    offered = client.get("/api/picture-looks").json()
    assert "silver" in [one["name"] for one in offered] and all(one["tells"] for one in offered)
    before = shot_of(client, made)
    tried = post(client, made, "picture-looks/trial", look="silver")
    assert tried.status_code == 200 and len(tried.content) > 1000 and shot_of(client, made) == before
    assert post(client, made, "picture-looks", look="silver").json()["changed"]
    assert shot_of(client, made)["optics"]["grade"]["saturation"] == 0
    assert client.post(f"/api/shots/{made}/undo").status_code == 200
    assert shot_of(client, made) == before


def test_movements_are_kept_exchanged_put_on_and_forgotten(client: TestClient, made: str) -> None:
    post(client, made, "motions", motion="shutters", thing="title", frame=2, frames=12)
    kept = client.put("/api/library/motions/Ebb in", json={"shot": made, "thing": "title"})
    assert kept.status_code == 200 and client.get("/api/library/motions").json() == [{"name": "Ebb in"}]
    text = client.get("/api/library/motions/Ebb in/file")
    assert "Ebb%20in.motion.json" in text.headers["content-disposition"]
    assert client.delete("/api/library/motions/Ebb in").status_code == 204
    assert client.post("/api/library/motions", content=text.content).json() == {"name": "Ebb in"}
    edit(client, made, 1, {"op": "add", "path": "/things/two", "value": {"kind": "title", "words": "FLOW"}})
    assert post(client, made, "motions/kept", name="Ebb in", thing="two").json()["lost"] == []
    assert shot_of(client, made)["things"]["two"]["sets"] == shot_of(client, made)["things"]["title"]["sets"]
    for answer in (
        client.put("/api/library/motions/x", json={"shot": made, "thing": "nobody"}),
        client.get("/api/library/motions/nothing/file"),
        client.delete("/api/library/motions/nothing"),
        post(client, made, "motions/kept", name="nothing", thing="two"),
        post(client, made, "motions/kept", name="Ebb in", thing="nobody"),
    ):
        assert answer.status_code == 404
    assert client.post("/api/library/motions", content=b"{}").status_code == 422
    assert client.post("/api/library/motions", content=b"").status_code in (400, 422)


def test_a_grade_goes_out_and_comes_in_as_one_edit(client: TestClient, made: str) -> None:
    out = client.get(f"/api/shots/{made}/grade")
    assert 'filename="ebb.cdl"' in out.headers["content-disposition"] and b"<Slope>1.0" in out.content
    bright = out.content.replace(b"<Slope>1.000000 1.000000 1.000000", b"<Slope>1.5 1 1")
    assert client.post(f"/api/shots/{made}/grade", content=bright).json()["changed"]
    assert client.get(f"/api/shots/{made}").json()["document"]["optics"]["grade"]["slope_r"] == 1.5
    assert client.post(f"/api/shots/{made}/undo").json()["moved"]
    for bad in (b"", b"<a/>", b"\0", bright.replace(b"1.5 1 1", b"1.5 1")):
        answer = client.post(f"/api/shots/{made}/grade", content=bad)
        assert answer.status_code == 422 and answer.json()["title"] == "The grade was refused"
    assert client.get(f"/api/shots/{made}").json()["document"]["optics"]["grade"]["slope_r"] == 1


def test_things_are_added_and_copied_by_the_core(client: TestClient, made: str) -> None:
    at = f"/api/shots/{made}"
    light = client.post(f"{at}/things", json={"kind": "light"}).json()
    assert light["changed"]
    copy = client.post(f"{at}/things", json={"like": light["name"], "mirrored": True}).json()
    things = client.get(at).json()["document"]["things"]
    assert things[copy["name"]]["name"].endswith("mirrored")
    for wish, status in (
        ({"kind": "mesh"}, 404),
        ({"like": "nobody"}, 404),
        ({"like": "../x"}, 404),
        ({"kind": "light", "more": 1}, 422),
    ):
        assert client.post(f"{at}/things", json=wish).status_code == status
    assert client.get(at).json()["document"]["things"] == things


def test_a_look_is_worn_by_name(client: TestClient, made: str) -> None:
    at = f"/api/shots/{made}"
    things = client.get(at).json()["document"]["things"]
    title = next(name for name, thing in things.items() if thing["kind"] == "title")
    look = {"sections": {"body": {"depth": 0.4}}, "size": 1.0}
    assert client.put("/api/looks/thick", json=look).status_code == 200
    assert client.post(f"{at}/things/{title}/look", json={"name": "thick"}).json()["changed"]
    now = client.get(at).json()["document"]["things"][title]
    assert now["body"]["depth"] == pytest.approx(0.4 * now["setting"]["size"])
    assert client.get(f"{at}/looks/changed").json() == []
    assert client.post(f"{at}/things/{title}/look", json={"name": "none"}).status_code == 404
    assert client.post(f"{at}/things/nobody/look", json={"name": "thick"}).status_code == 404
    client.delete("/api/looks/thick")
