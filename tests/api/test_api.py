"""The routes: what they answer, and how they refuse."""

from __future__ import annotations

import json
import struct
import time
from typing import Any
from uuid import uuid4

import numpy as np
import pytest
from fastapi.testclient import TestClient

from dreizack.core.document import read_shot, write_shot
from dreizack.core.scene import bake
from dreizack.demo import demo_shots


def unpack(data: bytes) -> tuple[dict[str, Any], dict[str, np.ndarray]]:
    length = struct.unpack("<I", data[:4])[0]
    head = json.loads(data[4 : 4 + length])
    body = data[4 + length :]
    arrays = {
        name: np.frombuffer(body, f"<{p['dtype']}", int(np.prod(p["shape"])), p["offset"]).reshape(p["shape"])
        for name, p in head["arrays"].items()
    }
    return head, arrays


def edit(client: TestClient, shot: str, base: int, *patch: dict[str, Any], gesture: str | None = None) -> Any:
    return client.post(
        f"/api/shots/{shot}/edits", json={"base": base, "patch": list(patch), "gesture": gesture}
    )


def test_productions_live_through_create_rename_copy_delete_and_restore(client: TestClient) -> None:
    made = client.post("/api/productions", json={"name": "  SLACK WATER "}).json()
    assert made["name"] == "SLACK WATER"
    at = f"/api/productions/{made['id']}"
    assert client.patch(at, json={"name": "SLACK"}).json()["name"] == "SLACK"
    assert client.post(f"{at}/copy").json()["name"] == "SLACK copy"
    assert client.delete(at).status_code == 204
    assert [p["name"] for p in client.get("/api/productions").json()] == ["SLACK copy"]
    assert client.get(at).status_code == 404 == client.delete(at).status_code
    assert at.removeprefix("/api/productions/") in [one["id"] for one in client.get("/api/deleted").json()]
    assert client.post(f"{at}/restore").status_code == 200
    assert at.removeprefix("/api/productions/") not in [
        one["id"] for one in client.get("/api/deleted").json()
    ]
    assert len(client.get("/api/productions").json()) == 2


def test_a_new_shot_arrives_lit_and_framed(client: TestClient, made: str) -> None:
    shot = client.get(f"/api/shots/{made}").json()["document"]
    assert {thing["kind"] for thing in shot["things"].values()} == {"title", "light"}
    assert sum(thing["kind"] == "light" and thing["on"] for thing in shot["things"].values()) == 3
    camera = shot["camera"]
    assert camera["position"]["x"] != camera["aim"]["x"], "slightly turned, so that the depth is seen"


def test_shots_are_copied_deleted_and_restored(client: TestClient, production: str, made: str) -> None:
    copy = client.post(f"/api/shots/{made}/copy").json()["id"]
    assert [s["name"] for s in client.get(f"/api/productions/{production}").json()["shots"]] == [
        "Ebb",
        "Ebb copy",
    ]
    assert client.delete(f"/api/shots/{copy}").status_code == 204
    assert client.get(f"/api/shots/{copy}").status_code == 404
    [gone] = client.get(f"/api/productions/{production}/deleted").json()
    assert (gone["kind"], gone["id"]) == ("shot", copy)
    assert client.post(f"/api/shots/{copy}/restore").status_code == 200
    assert client.get(f"/api/productions/{production}/deleted").json() == []
    assert client.get("/api/productions/00000000-0000-0000-0000-000000000000/deleted").status_code == 404
    assert client.get(f"/api/shots/{copy}").status_code == 200


def test_edits_conflict_undo_and_redo(client: TestClient, made: str) -> None:
    wide = {"op": "replace", "path": "/camera/focal_length", "value": 24}
    assert edit(client, made, 0, wide).json() == {"revision": 1}
    stale = edit(client, made, 0, {"op": "replace", "path": "/name", "value": "Late"})
    assert stale.status_code == 409
    assert stale.headers["content-type"] == "application/problem+json"
    assert stale.json()["revision"] == 1 and stale.json()["since"][0]["patch"] == [wide]
    assert client.post(f"/api/shots/{made}/undo").json() == {"moved": True, "revision": 2}
    assert client.get(f"/api/shots/{made}").json()["can_redo"] is True
    assert client.post(f"/api/shots/{made}/redo").json()["moved"] is True
    assert client.get(f"/api/shots/{made}").json()["document"]["camera"]["focal_length"] == 24


@pytest.mark.parametrize(
    ("patch", "names"),
    [
        ({"op": "replace", "path": "/camera/focal_length", "value": 0}, "/camera/focal_length"),
        ({"op": "replace", "path": "/format/frames", "value": 10**9}, "/format/frames"),
        ({"op": "replace", "path": "/format/width", "value": 100_000}, "/format/width"),
        ({"op": "replace", "path": "/things/title/words", "value": "A" * 50_000}, "/things/title/words"),
        ({"op": "add", "path": "/things/title/sparkle", "value": 1}, "/things/title/sparkle"),
        ({"op": "remove", "path": "/camera"}, "camera"),
        ({"op": "replace", "path": "/nowhere/at/all", "value": 1}, "patch"),
    ],
)
def test_edits_that_make_no_sense_are_refused_and_named(
    client: TestClient, made: str, patch: dict[str, Any], names: str
) -> None:
    before = client.get(f"/api/shots/{made}").json()
    answer = edit(client, made, 0, patch)
    if names == "camera":
        assert answer.status_code in (200, 422)
        return
    assert answer.status_code == 422
    assert names in answer.json()["detail"]
    assert client.get(f"/api/shots/{made}").json() == before


def test_not_a_number_is_refused_wherever_it_stands(client: TestClient, made: str) -> None:
    for word in ("NaN", "Infinity", "1e999"):
        body = f'{{"base": 0, "patch": [{{"op": "replace", "path": "/camera/roll", "value": {word}}}]}}'
        answer = client.post(
            f"/api/shots/{made}/edits", content=body, headers={"Content-Type": "application/json"}
        )
        assert answer.status_code in (400, 422), word
    assert client.get(f"/api/shots/{made}").json()["revision"] == 0


def test_files_go_out_and_come_in_and_damaged_ones_store_nothing(
    client: TestClient, production: str, made: str
) -> None:
    text = client.get(f"/api/shots/{made}/file").text
    assert read_shot(text).name == "Ebb"
    at = f"/api/productions/{production}/files"
    head = {"Content-Type": "application/json"}
    for shot in demo_shots().values():
        assert client.post(at, content=write_shot(shot), headers=head).status_code == 201
    count = len(client.get(f"/api/productions/{production}").json()["shots"])
    for broken, says in (
        (text[:300], "line"),
        ("{}", "dreizack_shot"),
        (text.replace('"EBB"', "5"), "/things/title/words"),
        ("\0", "line 1"),
    ):
        answer = client.post(at, content=broken, headers=head)
        assert answer.status_code == 422 and says in answer.json()["detail"]
    assert client.post(at, content=b" " * 10_000_000, headers=head).status_code == 413
    assert len(client.get(f"/api/productions/{production}").json()["shots"]) == count


def test_the_scene_is_what_the_core_evaluated(client: TestClient, production: str) -> None:
    shot = demo_shots()["main-title"]
    made = client.post(
        f"/api/productions/{production}/files",
        content=write_shot(shot),
        headers={"Content-Type": "application/json"},
    ).json()["id"]
    head, arrays = unpack(client.get(f"/api/shots/{made}/scene").content)
    baked = bake(shot)
    assert head["frames"] == 120 and head["revision"] == 0 and set(head["channels"]) == set(shot.moving)
    np.testing.assert_allclose(arrays["camera/position"], baked.camera_position, rtol=1e-6)
    np.testing.assert_allclose(
        arrays["title/title/matrix"], baked.titles["title"].matrix, rtol=1e-5, atol=1e-6
    )
    np.testing.assert_allclose(
        arrays["channel/things/key/intensity"], baked.channels["/things/key/intensity"], rtol=1e-6
    )
    letters = head["titles"]["title"]["forms"][0]
    assert len(letters["bodies"]) == len(letters["sources"]) == 10, "the space has no body"
    names = sorted(set(letters["bodies"]))
    parts, meshes = unpack(client.post("/api/bodies", json={"names": [*names, "unknown"]}).content)
    assert sorted(parts["ends"]) == names
    for name in names:
        assert (
            meshes[f"{name}/triangles"].max()
            < len(meshes[f"{name}/position"])
            == len(meshes[f"{name}/normal"])
        )
        assert parts["ends"][name][-1] == len(meshes[f"{name}/triangles"])


def test_a_shot_becomes_a_scene_in_open_formats(client: TestClient, made: str) -> None:
    gltf = client.get(f"/api/shots/{made}/gltf")
    assert gltf.content[:4] == b"glTF" and gltf.headers["content-type"] == "model/gltf-binary"
    binary = client.get(f"/api/shots/{made}/usd")
    assert binary.content[:8] == b"PXR-USDC" and ".usdc" in binary.headers["content-disposition"]
    text = client.get(f"/api/shots/{made}/usd", params={"kind": "usda"})
    assert text.text.startswith("#usda") and "def Camera" in text.text
    assert client.get(f"/api/shots/{made}/usd", params={"kind": "exe"}).status_code == 422
    assert client.get("/api/shots/00000000-0000-0000-0000-000000000000/usd").status_code == 404


def test_a_camera_is_brought_from_a_table_or_a_layer(client: TestClient, made: str) -> None:
    at = f"/api/shots/{made}/camera/file"
    table = "frame,x,y,z,pitch,yaw,roll,vertical angle\n" + "".join(
        f"{frame},{frame / 10},1,5,0,0,0,30\n" for frame in range(4)
    )
    found = client.post(at, params={"kind": "csv"}, content=table)
    assert found.status_code == 200, found.text
    assert found.json()["frames"] == found.json()["of"] == 4 and found.json()["changed"]
    shot = client.get(f"/api/shots/{made}").json()["document"]
    assert [key["value"] for key in shot["channels"]["/camera/position/x"]["keys"]] == [0, 0.1, 0.2, 0.3]
    layer = client.get(f"/api/shots/{made}/usd", params={"kind": "usda"}).content
    again = client.post(at, params={"kind": "usd"}, content=layer)
    assert again.status_code == 200 and again.json()["of"] == shot["format"]["frames"]
    scene = client.get(f"/api/shots/{made}/gltf").content
    third = client.post(at, params={"kind": "gltf"}, content=scene)
    assert third.status_code == 200 and third.json()["frames"] >= 4, third.text
    odd = (("csv", b"a,b", "no column"), ("usd", b"#usda 1.0\n(", "damaged"), ("gltf", b"glTF", "no glTF"))
    for kind, data, says in odd:
        refused = client.post(at, params={"kind": kind}, content=data)
        assert refused.status_code == 422 and says in refused.json()["detail"]
    assert client.post(at, params={"kind": "exe"}, content=b"").status_code == 422
    nobody = "/api/shots/00000000-0000-0000-0000-000000000000/camera/file?kind=csv"
    assert client.post(nobody, content=table).status_code == 404


def test_a_titles_body_is_exported(client: TestClient, made: str) -> None:
    at = f"/api/shots/{made}/things/title/body"
    assert client.get(at, params={"kind": "glb"}).content[:4] == b"glTF"
    answer = client.get(at, params={"kind": "svg", "frame": 3})
    assert (
        answer.headers["content-type"] == "image/svg+xml"
        and "ebb.svg" in answer.headers["content-disposition"]
    )
    assert client.get(f"/api/shots/{made}/things/key/body").status_code == 404
    assert client.get(at, params={"kind": "dwg"}).status_code == 422


def test_framing_answers_a_camera_or_says_what_is_missing(client: TestClient, made: str) -> None:
    assert set(client.post(f"/api/shots/{made}/framing", json={}).json()) == {"position", "aim"}
    edit(client, made, 0, {"op": "replace", "path": "/things/title/words", "value": ""})
    answer = client.post(f"/api/shots/{made}/framing", json={})
    assert answer.status_code == 404 and "type some words" in answer.json()["detail"]


def test_vocabulary_surroundings_and_typefaces(client: TestClient) -> None:
    vocabulary = client.get("/api/vocabulary").json()
    assert {"title", "mark", "sheet", "mesh", "light", "camera", "surroundings", "backdrop"} <= set(
        vocabulary["values"]
    )
    assert len(vocabulary["finishes"]) >= 4
    for studio in vocabulary["studios"]:
        _, arrays = unpack(client.get("/api/surroundings", params={"room": studio}).content)
        assert arrays["picture"].shape == (256, 512, 3)
    assert client.get("/api/surroundings?room=attic").status_code == 404
    for face in vocabulary["typefaces"]:
        assert client.get(f"/api/typefaces/{face['name']}/font").content[:4] in (b"\0\1\0\0", b"OTTO")
    assert client.get("/api/typefaces/..%2F..%2Fsecret/font").status_code == 404


def test_deliveries_are_ordered_cancelled_and_refused(client: TestClient, made: str) -> None:
    at = f"/api/shots/{made}/deliveries"
    order = {"first": 0, "last": 19, "width": 320, "height": 180, "quality": "draft"}
    ordered = client.post(at, json=order)
    assert ordered.status_code == 201 and ordered.json()["state"] == "waiting"
    delivery = ordered.json()["id"]
    assert client.get(f"/api/deliveries/{delivery}/file").status_code == 404
    assert client.get(f"/api/deliveries/{delivery}/picture").status_code == 404
    assert client.post(f"/api/deliveries/{delivery}/cancel").json()["state"] == "cancelled"
    refused = [
        ({"last": 20}, "0-19"),
        ({"width": 321}, "even"),
        ({"quality": "best"}, "quality"),
        ({"width": 10**6}, "width"),
    ]
    for wrong, says in [*refused, ({"first": -1}, "first"), ({"more": 1}, "more")]:
        answer = client.post(at, json=order | wrong)
        assert answer.status_code == 422 and says in answer.json()["detail"], wrong
    assert len(client.get("/api/deliveries").json()) == 1


def test_everything_unknown_is_404_with_problem_details(client: TestClient) -> None:
    for path in (
        f"/api/shots/{uuid4()}",
        f"/api/productions/{uuid4()}",
        f"/api/deliveries/{uuid4()}",
        f"/api/shots/{uuid4()}/scene",
        "/api/none",
    ):
        answer = client.get(path)
        assert answer.status_code == 404
        assert answer.headers["content-type"] == "application/problem+json"


def test_control_characters_and_empty_names_are_refused(client: TestClient) -> None:
    for name in ("", "   ", "a\0b", "a\nb", "x" * 121):
        assert client.post("/api/productions", json={"name": name}).status_code == 422, repr(name)


def test_the_socket_tells_of_changes_and_refuses_nonsense_politely(client: TestClient, made: str) -> None:
    with client.websocket_connect("/api/live", headers={"Host": "127.0.0.1"}) as socket:
        socket.send_text("nonsense")
        assert socket.receive_json()["kind"] == "refused"
        socket.send_text(json.dumps({"shot": str(uuid4())}))
        assert socket.receive_json()["kind"] == "refused"
        edit(client, made, 0, {"op": "replace", "path": "/name", "value": "Flood"})
        assert socket.receive_json() == {"kind": "shot", "id": made, "revision": 1}


def test_a_lost_database_answers_503_and_loses_nothing(client: TestClient, made: str, address: str) -> None:
    import psycopg

    server, name = address.rsplit("/", 1)
    with psycopg.connect(f"{server}/postgres", autocommit=True) as connection:
        connection.execute(f"ALTER DATABASE {name} ALLOW_CONNECTIONS false")
        connection.execute(
            "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = %s", [name]
        )
        for _ in range(3):
            begun = time.monotonic()
            answer = edit(client, made, 0, {"op": "replace", "path": "/name", "value": "Flood"})
            assert answer.status_code == 503 and time.monotonic() - begun < 2.5
        connection.execute(f"ALTER DATABASE {name} ALLOW_CONNECTIONS true")
    back = time.monotonic()
    while (
        answer := edit(client, made, 0, {"op": "replace", "path": "/name", "value": "Flood"})
    ).status_code == 503:
        assert time.monotonic() - back < 3
        time.sleep(0.05)
    assert answer.json() == {"revision": 1}


def test_delivered_files_are_compared_and_called_by_a_rule(client: TestClient, made: str) -> None:
    ordered = client.post(
        f"/api/shots/{made}/deliveries",
        json={"first": 0, "last": 0, "width": 32, "height": 18, "quality": "draft"},
    ).json()["id"]
    at = f"/api/deliveries/{ordered}"
    # Nothing is there yet, and nothing is made up.
    for path in ("frames/0", f"difference/{ordered}", f"compared/{ordered}", "file?rule={name}"):
        answer = client.get(f"{at}/{path}")
        assert answer.status_code == 404 and "this delivery is waiting" in answer.json()["detail"], path
    for wrong in (
        "frames/-1",
        f"difference/{ordered}?gain=0",
        f"difference/{ordered}?gain=nan",
        "file?rule=",
    ):
        assert client.get(f"{at}/{wrong}").status_code == 422, wrong
    nobody = "00000000-0000-0000-0000-000000000000"
    assert client.get(f"{at}/compared/{nobody}").status_code == 404
