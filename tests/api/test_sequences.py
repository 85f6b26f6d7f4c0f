"""Sequences through the door: made, edited, ordered, exchanged; and misused."""

from __future__ import annotations

import io
import json
from typing import Any
from uuid import UUID, uuid4

import psycopg
import pytest
from fastapi.testclient import TestClient

from dreizack.api.sequence_frames import looked_at_size
from dreizack.api.sequences import opened_sequence

FORMAT = {"width": 320, "height": 180, "rate": {"num": 25, "den": 1}, "frames": 20}


@pytest.fixture
def shots(client: TestClient, production: str) -> list[str]:
    return [
        client.post(
            f"/api/productions/{production}/shots",
            json={"name": name, "format": FORMAT, "words": name.upper()},
        ).json()["id"]
        for name in ("First light", "Ebb")
    ]


@pytest.fixture
def sequence(client: TestClient, production: str, shots: list[str]) -> str:
    made = client.post(
        f"/api/productions/{production}/sequences", json={"name": "Opening", "width": 320, "height": 180}
    )
    assert made.status_code == 201
    return made.json()["id"]


def edited(client: TestClient, sequence: str, *patch: dict[str, Any]) -> Any:
    base = client.get(f"/api/sequences/{sequence}").json()["revision"]
    return client.post(f"/api/sequences/{sequence}/edits", json={"base": base, "patch": list(patch)})


def test_a_new_sequence_has_the_shots_of_its_production_in_order(
    client: TestClient, production: str, sequence: str, shots: list[str]
) -> None:
    found = client.get(f"/api/sequences/{sequence}").json()
    assert [piece["shot"] for piece in found["document"]["line"]] == shots
    assert (found["starts"], found["total"], found["missing"]) == ([0, 20], 40, [])
    assert found["columns"] == {
        "First light / title": f"{shots[0]}/title",
        "Ebb / title": f"{shots[1]}/title",
    }
    (card,) = client.get(f"/api/productions/{production}").json()["sequences"]
    assert (card["name"], card["total"], card["line"]) == ("Opening", 40, shots)


def test_edits_conflict_are_refused_and_go_back(client: TestClient, sequence: str) -> None:
    shorter = {"op": "replace", "path": "/line/0/frames", "value": 12}
    assert edited(client, sequence, shorter).json() == {"revision": 1}
    assert client.get(f"/api/sequences/{sequence}").json()["starts"] == [0, 12]
    stale = client.post(f"/api/sequences/{sequence}/edits", json={"base": 0, "patch": [shorter]})
    assert stale.status_code == 409 and "sequence is at revision 1" in stale.json()["detail"]
    assert stale.json()["since"][0]["patch"] == [shorter]
    for bad, says in (
        ({"op": "replace", "path": "/line/0/frames", "value": 0}, "/line/0/frames"),
        ({"op": "add", "path": "/line/1/transition/frames", "value": 99}, "does not fit|transition"),
        ({"op": "replace", "path": "/line/7", "value": {}}, "no such place"),
        ({"op": "add", "path": "/nothing", "value": 1}, "nothing"),
    ):
        answer = edited(client, sequence, bad)
        if bad["path"].endswith("transition/frames"):
            # A cut has no length: it may be kept for when it becomes a dissolve.
            assert answer.status_code == 200
            client.post(f"/api/sequences/{sequence}/undo")
        else:
            assert answer.status_code == 422 and says in answer.json()["detail"], answer.text
    assert client.post(f"/api/sequences/{sequence}/undo").json()["moved"]
    assert client.get(f"/api/sequences/{sequence}").json()["starts"] == [0, 20]
    assert client.post(f"/api/sequences/{sequence}/redo").json()["moved"]
    assert client.get(f"/api/sequences/{sequence}").json()["starts"] == [0, 12]


def test_one_order_is_every_format_of_every_version_or_nothing(client: TestClient, sequence: str) -> None:
    versions = [
        {"name": "english", "width": 320, "height": 180},
        {"name": "tall", "width": 180, "height": 320, "words": False},
    ]
    edited(client, sequence, {"op": "add", "path": "/versions", "value": versions})
    wish = {"formats": ["mp4", "prores-4444"], "versions": ["english", "tall"], "quality": "draft"}
    made = client.post(f"/api/sequences/{sequence}/deliveries", json=wish)
    assert made.status_code == 201
    assert {(d["version"], d["format"], d["width"], d["height"]) for d in made.json()} == {
        ("english", "mp4", 320, 180),
        ("english", "prores-4444", 320, 180),
        ("tall", "mp4", 180, 320),
        ("tall", "prores-4444", 180, 320),
    }
    assert all(d["name"] == "Opening" and d["last"] == 39 for d in made.json())
    before = len(client.get("/api/deliveries").json())
    for bad, says in (
        ({"formats": ["mp4", "superb"]}, "superb"),
        ({"formats": ["exr-passes"]}, "single shot"),
        ({"formats": ["mp4"], "versions": ["nobody"]}, "nobody"),
        ({"formats": ["mp4"], "last": 40}, "0-39"),
    ):
        answer = client.post(f"/api/sequences/{sequence}/deliveries", json=bad)
        assert answer.status_code == 422 and says in answer.json()["detail"], answer.text
    assert len(client.get("/api/deliveries").json()) == before


def test_orders_rest_go_on_and_are_taken_off_the_list(client: TestClient, sequence: str) -> None:
    (order,) = client.post(f"/api/sequences/{sequence}/deliveries", json={"formats": ["mp4"]}).json()
    at = f"/api/deliveries/{order['id']}"
    assert client.post(f"{at}/pause").json()["state"] == "paused"
    assert client.post(f"{at}/resume").json()["state"] == "waiting"
    refused = client.delete(at)
    assert refused.status_code == 404 and "cancel it first" in refused.json()["detail"]
    assert client.post(f"{at}/cancel").json()["state"] == "cancelled"
    assert client.post(f"{at}/resume").json()["state"] == "waiting", "what was called off can be tried again"
    client.post(f"{at}/cancel")
    assert client.delete(at).status_code == 204 and client.get(at).status_code == 404


def test_one_that_waits_is_taken_before_the_others(client: TestClient, sequence: str, address: str) -> None:
    """As the queue itself takes them."""
    wish = {"formats": ["mp4", "prores-4444", "vp9-alpha"]}
    orders = [one["id"] for one in client.post(f"/api/sequences/{sequence}/deliveries", json=wish).json()]
    for chosen in (orders[2], orders[1]):
        assert client.post(f"/api/deliveries/{chosen}/next").json()["id"] == chosen
    taken = []
    with psycopg.connect(address) as connection:
        (worker,) = connection.execute(
            "SELECT worker_id FROM procrastinate_register_worker_v1()"
        ).fetchone() or (0,)
        while True:
            row = connection.execute(
                "SELECT args->>'delivery' FROM procrastinate_fetch_job_v2(ARRAY['deliveries'], %s)", [worker]
            ).fetchone()
            if row is None or row[0] is None:
                break
            taken.append(row[0])
        connection.rollback()
    assert [one for one in taken if one in orders] == [orders[1], orders[2], orders[0]]
    client.post(f"/api/deliveries/{orders[0]}/cancel")
    late = client.post(f"/api/deliveries/{orders[0]}/next")
    assert late.status_code == 404 and "cancelled" in late.json()["detail"]
    nobody = "00000000-0000-0000-0000-000000000000"
    assert client.post(f"/api/deliveries/{nobody}/next").status_code == 404


def test_a_sequence_whose_shot_is_gone_says_which(
    client: TestClient, sequence: str, shots: list[str]
) -> None:
    client.delete(f"/api/shots/{shots[1]}")
    assert client.get(f"/api/sequences/{sequence}").json()["missing"] == [shots[1]]
    for answer in (
        client.post(f"/api/sequences/{sequence}/deliveries", json={"formats": ["mp4"]}),
        client.get(f"/api/sequences/{sequence}/file"),
        client.get(f"/api/sequences/{sequence}/kept"),
    ):
        assert answer.status_code == 404 and "“Ebb” of this sequence was deleted" in answer.json()["detail"]


@pytest.mark.parametrize("kind", ["otio", "edl"])
def test_files_go_out_and_come_in(client: TestClient, production: str, sequence: str, kind: str) -> None:
    edited(client, sequence, {"op": "replace", "path": "/line/1/transition/kind", "value": "dissolve"})
    edited(client, sequence, {"op": "replace", "path": "/line/1/transition/frames", "value": 8})
    out = client.get(f"/api/sequences/{sequence}/file", params={"kind": kind})
    assert f'filename="opening.{kind}"' in out.headers["content-disposition"]
    there = client.post(f"/api/productions/{production}/sequences/files?name=Back", content=out.content)
    assert there.status_code == 201, there.text
    found, before = (client.get(f"/api/sequences/{n}").json() for n in (there.json()["id"], sequence))
    assert found["document"]["name"] == "Back" and found["starts"] == before["starts"] == [0, 12]
    for bad in (b"", b"\0" * 100, b"{}", b"TITLE: x\r\n", json.dumps({"OTIO_SCHEMA": "Timeline.1"}).encode()):
        answer = client.post(f"/api/productions/{production}/sequences/files", content=bad)
        assert answer.status_code == 422 and len(answer.json()["detail"]) > 20
    large = client.post(
        f"/api/productions/{production}/sequences/files", content=io.BytesIO(b"x" * 10_000_000)
    )
    assert large.status_code == 413


def test_versions_come_from_a_table_and_go_back(client: TestClient, sequence: str) -> None:
    table = client.get(f"/api/sequences/{sequence}/versions/table").content
    assert table.startswith("\ufeffversion,size,words,First light / title,Ebb / title".encode())
    more = table + b"deutsch,180x320,yes,ERSTES LICHT,EBBE\r\n"
    assert client.post(f"/api/sequences/{sequence}/versions/table", content=more).json() == {"revision": 1}
    versions = client.get(f"/api/sequences/{sequence}").json()["document"]["versions"]
    assert [v["name"] for v in versions] == ["original", "deutsch"]
    bad = client.post(f"/api/sequences/{sequence}/versions/table", content=b"version\n\xff\xff")
    assert bad.status_code == 422 and "UTF-8" in bad.json()["detail"]
    proof = client.get(f"/api/sequences/{sequence}/proof", params={"versions": ["deutsch"]})
    assert proof.status_code == 200
    assert all(one["version"] == "deutsch" and 0 <= one["frame"] < 40 for one in proof.json())
    for kind, media in (("pdf", "application/pdf"), ("html", "text/html; charset=utf-8")):
        sent = client.get(
            f"/api/sequences/{sequence}/proof/report", params={"versions": ["deutsch"], "kind": kind}
        )
        assert sent.status_code == 200 and sent.headers["content-type"] == media
        assert sent.headers["content-disposition"].endswith(f'-proof.{kind}"')
    assert client.get(f"/api/sequences/{sequence}/proof/report", params={"kind": "exe"}).status_code == 422
    assert any(one["kind"] == "reading time" for one in proof.json()), "twenty frames are too short to read"


def test_nobody_is_there(client: TestClient, production: str) -> None:
    nobody = uuid4()
    for method, path in (
        ("GET", ""),
        ("GET", "/frame"),
        ("GET", "/kept"),
        ("GET", "/sound"),
        ("GET", "/proof"),
        ("GET", "/file"),
        ("POST", "/undo"),
        ("POST", "/redo"),
        ("DELETE", ""),
        ("POST", "/restore"),
        ("GET", "/versions/table"),
        ("POST", "/versions/table"),
    ):
        answer = client.request(method, f"/api/sequences/{nobody}{path}")
        assert answer.status_code == 404 and "does not exist" in answer.json()["detail"], (method, path)
    assert client.post(f"/api/productions/{nobody}/sequences", json={"name": "x"}).status_code == 404


def test_other_pages_cannot_change_sequences(client: TestClient, sequence: str) -> None:
    for path in ("undo", "versions/table", "deliveries"):
        answer = client.post(
            f"/api/sequences/{sequence}/{path}", headers={"Origin": "http://elsewhere.test"}, content=b"{}"
        )
        assert answer.status_code == 403, path


def test_what_an_order_costs_is_told_from_what_frames_took(client: TestClient, sequence: str) -> None:
    assert client.get("/api/deliveries/pace").json() == {"costs": {}, "own": False}
    wish = {"formats": ["mp4"], "quality": "good"}
    (order,) = client.post(f"/api/sequences/{sequence}/deliveries", json=wish).json()
    behind = client.app.state.services  # type: ignore[attr-defined]
    for frame, (seconds, kept) in enumerate([(1.0, False), (1.0, False), (0.01, True)]):
        behind.store.rows("frame_done", delivery=order["id"], frame=frame, kept=kept, seconds=seconds)
    pace = client.get("/api/deliveries/pace").json()
    assert not pace["own"] and client.get(f"/api/deliveries/pace?of={sequence}").json()["own"]
    costs = pace["costs"]
    assert costs["good"]["frame"] + costs["good"]["million"] * 320 * 180 / 1e6 == pytest.approx(1.0, rel=0.01)
    assert costs["draft"]["million"] < costs["good"]["million"] < costs["final"]["million"]
    assert client.get("/api/deliveries/pace?of=nothing").status_code == 422


def test_no_address_hides_another(client: TestClient) -> None:
    """Routers are tried one after the other: of two with one address only the first would ever answer."""
    seen = [
        (method, path)
        for path, methods in client.app.openapi()["paths"].items()  # type: ignore[attr-defined]
        for method in methods
    ]
    routes: list[tuple[str, str]] = []

    def walk(router: object, prefix: str = "") -> None:
        for route in getattr(router, "routes", []):
            path = prefix + getattr(route, "path", "")
            for method in getattr(route, "methods", None) or ():
                routes.append((method, path))
            if not getattr(route, "methods", None) and hasattr(route, "original_router"):
                walk(route.original_router, prefix)

    walk(client.app.router)  # type: ignore[attr-defined]
    assert len(routes) == len(set(routes)) >= len(seen) > 50


def test_a_version_is_looked_at_in_its_own_shape(client: TestClient, made: str) -> None:
    production = client.get(f"/api/shots/{made}").json()["production"]
    wish = {"name": "Tall", "shots": [made]}
    begun = client.post(f"/api/productions/{production}/sequences", json=wish).json()["id"]
    tall = {"name": "tall", "width": 1080, "height": 1920}
    patch = [{"op": "add", "path": "/versions/-", "value": tall}]
    revision = client.get(f"/api/sequences/{begun}").json()["revision"]
    edited = client.post(f"/api/sequences/{begun}/edits", json={"base": revision, "patch": patch})
    assert edited.status_code == 200, edited.text
    behind = client.app.state.services  # type: ignore[attr-defined]
    for version, size in (("tall", (360, 640)), ("", (640, 360))):
        _, bundle = opened_sequence(behind, UUID(begun), version)
        assert looked_at_size(bundle, 640) == size


def test_a_sequence_lies_on_the_line_of_another(client: TestClient, sequence: str) -> None:
    """It is rendered, checked and ordered with it; gone, it is said, and can be taken off the line."""
    opened = client.get(f"/api/sequences/{sequence}").json()
    production, frames = opened["production"], opened["total"]
    wish = {"name": "Whole", "shots": []}
    outer = client.post(f"/api/productions/{production}/sequences", json=wish).json()["id"]
    piece = {"kind": "sequence", "sequence": sequence, "name": "Opening", "frames": frames}
    edited(client, outer, {"op": "add", "path": "/line/-", "value": piece})
    found = client.get(f"/api/sequences/{outer}").json()
    assert found["total"] == frames and not found["missing"] and not found["lost"]
    assert [other["id"] for other in found["others"]] == [sequence]
    assert found["others"][0]["total"] == frames and found["columns"] == opened["columns"]
    behind = client.app.state.services  # type: ignore[attr-defined]
    _, bundle = opened_sequence(behind, UUID(outer))
    assert [one.shot for one in bundle.sequence.line] == [one["shot"] for one in opened["document"]["line"]]
    ordered = client.post(f"/api/sequences/{outer}/deliveries", json={"formats": ["mp4"], "quality": "draft"})
    assert ordered.status_code == 201, ordered.text
    # Neither of them may hold the other then.
    back = {"kind": "sequence", "sequence": outer, "name": "Whole", "frames": 10}
    edited(client, sequence, {"op": "add", "path": "/line/-", "value": back})
    lost = client.get(f"/api/sequences/{sequence}").json()["lost"]
    assert "would hold itself" in lost
    frame = client.get(f"/api/sequences/{outer}/frame", params={"frame": 0})
    assert frame.status_code == 404 and "hold itself" in frame.json()["detail"]
    assert client.post(f"/api/sequences/{sequence}/undo").json()["moved"]
    # An archive brings both back, the inner one for the outer one.
    archive = client.get(f"/api/productions/{production}/archive").content
    copy = client.post("/api/library/productions", content=archive).json()
    assert copy["sequences"] == 2
    page = client.get(f"/api/productions/{copy['id']}").json()
    totals = {one["name"]: one["id"] for one in page["sequences"]}
    again = client.get(f"/api/sequences/{totals['Whole']}").json()
    assert again["total"] == frames and not again["lost"]
    assert again["document"]["line"][0]["sequence"] == totals["Opening"] != sequence
    client.delete(f"/api/sequences/{sequence}")
    assert "not there" in client.get(f"/api/sequences/{outer}").json()["lost"]
    edited(client, outer, {"op": "remove", "path": "/line/0"})
    assert client.get(f"/api/sequences/{outer}").json()["lost"] == ""


def test_flashes_over_cuts_are_found_in_pictures(client: TestClient, made: str) -> None:
    production = client.get(f"/api/shots/{made}").json()["production"]
    wish = {"name": "Flashes", "width": 160, "height": 90, "shots": []}
    sequence = client.post(f"/api/productions/{production}/sequences", json=wish).json()["id"]
    pieces = [
        {"kind": "colour", "name": f"{k}", "frames": 2, "colour": {axis: 0.9 * (k % 2) for axis in "rgb"}}
        for k in range(16)
    ]
    patch = [{"op": "replace", "path": "/line", "value": pieces}]
    base = client.get(f"/api/sequences/{sequence}").json()["revision"]
    sent = client.post(f"/api/sequences/{sequence}/edits", json={"base": base, "patch": patch})
    assert sent.status_code == 200, sent.text
    address = f"/api/sequences/{sequence}/proof/pictures"
    found = client.post(address, json={})
    assert found.status_code == 200, found.text
    (flash,) = [one for one in found.json() if one["kind"] == "flashes"]
    assert flash["matters"] == "fault" and flash["picture"].startswith("data:image/jpeg;base64,")
    assert client.post(address, json={"versions": ["nobody"]}).status_code == 422
    assert client.post(address, json={"frames": 3}).status_code == 422
    elsewhere = "/api/sequences/00000000-0000-0000-0000-000000000000/proof/pictures"
    assert client.post(elsewhere, json={}).status_code == 404


def test_a_sequence_file_comes_in_with_its_shots(client: TestClient, made: str) -> None:
    production = client.get(f"/api/shots/{made}").json()["production"]
    wish = {"name": "Opening", "width": 320, "height": 180, "shots": [made]}
    sequence = client.post(f"/api/productions/{production}/sequences", json=wish).json()["id"]
    file = client.get(f"/api/sequences/{sequence}/file", params={"kind": "json"}).content
    address = f"/api/productions/{production}/sequences/files"
    again = client.post(address, content=file)
    assert again.status_code == 201, again.text
    line = client.get(f"/api/sequences/{again.json()['id']}").json()["document"]["line"]
    copy = line[0]["shot"]
    assert copy != made and client.get(f"/api/shots/{copy}").status_code == 200
    damaged = client.post(address, content=file[:-40])
    assert damaged.status_code == 422
    assert len(client.get(f"/api/productions/{production}").json()["sequences"]) == 2
