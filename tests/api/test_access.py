"""Nobody outside gets in: foreign hosts, foreign pages, missing tokens, ways out of the interface's
folder."""

from __future__ import annotations

import asyncio
import json
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from hypothesis import given
from hypothesis import strategies as st
from starlette.websockets import WebSocketDisconnect

from dreizack.api.access import LOOPBACK, AccessPolicy
from dreizack.api.access.policy import host_name
from dreizack.api.app import create_app

TOKEN = "tern-and-tallow-0123456789"
STUDIO = AccessPolicy(LOOPBACK | {"studio.local"}, TOKEN)
OWN = {"Host": "127.0.0.1:7340", "Origin": "http://127.0.0.1:7340", "Sec-Fetch-Site": "same-origin"}
SECRET = "what nobody may read"


@pytest.fixture
def web(tmp_path: Path) -> Path:
    """A built interface, with a secret beside its folder and links that lead out of it."""
    web = tmp_path / "site" / "dist"
    (web / "assets").mkdir(parents=True)
    (web / "index.html").write_text("<!doctype html><title>Dreizack</title>")
    (web / "mark.svg").write_text("<svg xmlns='http://www.w3.org/2000/svg'/>")
    (web / "assets" / "index-1a2b.js").write_text("export {};")
    (tmp_path / "site" / "secret").write_text(SECRET)
    (web / "link").symlink_to(tmp_path / "site" / "secret")
    (web / "assets" / "up").symlink_to(tmp_path / "site")
    return web


@pytest.fixture
def client(address: str, tmp_path: Path, web: Path) -> Iterator[TestClient]:
    made = TestClient(
        create_app(address, tmp_path / "data", web=web, looking=False),
        base_url="http://127.0.0.1:7340",
        raise_server_exceptions=False,
    )
    with made:
        yield made


@pytest.fixture
def studio(address: str, tmp_path: Path, web: Path) -> Iterator[TestClient]:
    app = create_app(address, tmp_path / "data", web=web, looking=False, access=STUDIO)
    with TestClient(app, base_url="http://studio.local:7340", raise_server_exceptions=False) as made:
        yield made


def ask(client: TestClient, raw: str, method: str = "GET", host: str = "127.0.0.1:7340") -> tuple[int, bytes]:
    """Send a path exactly as it is written; clients tidy addresses up before they send them."""
    sent: list[dict[str, object]] = []

    async def run() -> None:
        from urllib.parse import unquote

        scope = {
            "type": "http",
            "asgi": {"version": "3.0"},
            "http_version": "1.1",
            "method": method,
            "scheme": "http",
            "path": unquote(raw),
            "raw_path": raw.encode(),
            "query_string": b"",
            "root_path": "",
            "headers": [(b"host", host.encode())],
            "client": ("127.0.0.1", 1),
            "server": ("127.0.0.1", 7340),
            "state": {},
        }

        asked = iter([{"type": "http.request", "body": b"", "more_body": False}])

        async def receive() -> dict[str, object]:
            return next(asked, None) or await asyncio.sleep(60, {"type": "http.disconnect"})

        async def send(message: dict[str, object]) -> None:
            sent.append(message)

        await client.app(scope, receive, send)

    assert client.portal is not None
    client.portal.call(run)
    status = next(m["status"] for m in sent if m["type"] == "http.response.start")
    body = b"".join(m.get("body", b"") for m in sent if m["type"] == "http.response.body")
    return int(str(status)), bytes(body)


@pytest.mark.parametrize("prefix", ["", "/", "//", "/assets", "/assets/", "/link/..", "/assets/up"])
def test_no_way_out_of_the_interface(client: TestClient, web: Path, prefix: str) -> None:
    outside = str(web.parent / "secret")
    up = [
        "../secret",
        "..%2Fsecret",
        "%2e%2e/secret",
        "%2e%2e%2fsecret",
        "..\\secret",
        "..%5Csecret",
        "....//secret",
        ".%2e/%2e./secret",
    ]
    ways = [
        outside,
        f"/{outside}",
        f"/%2F{outside[1:]}",
        outside.replace("/", "%2F"),
        "//etc/hostname",
        "/%2Fetc/hostname",
        "/link",
        "/secret",
    ]
    for way in [
        *ways,
        *(f"/{u}" for u in up),
        *(f"/assets/{u}" for u in up),
        "/%00",
        "/a%00/../secret",
        "/" + "a" * 5000,
        "/" + "a/" * 3000,
    ]:
        status, body = ask(client, prefix + way)
        assert SECRET.encode() not in body and Path("/etc/hostname").read_bytes() not in body
        assert status in (200, 404), (way, status)
        assert status == 404 or body.startswith(b"<!doctype html>"), way


@given(
    st.lists(
        st.sampled_from(
            ["..", ".", "", "%2e%2e", "%2F", "assets", "up", "link", "secret", "site", "dist", "%5c"]
        ),
        max_size=9,
    )
)
def test_no_way_out_is_found_by_trying(parts: list[str]) -> None:
    from dreizack.api.pages import Pages

    folder = Path(__file__).parent
    app = Pages(folder)
    from urllib.parse import unquote

    found, _ = app.lookup_path(unquote("/".join(parts)))
    assert not found or Path(found).resolve().is_relative_to(folder)


def test_pages_and_files_of_the_interface(client: TestClient) -> None:
    assert client.get("/").text.startswith("<!doctype html>")
    assert client.get("/shots/0000").text.startswith("<!doctype html>")
    assert client.get("/mark.svg").text.startswith("<svg")
    assert "immutable" in client.get("/assets/index-1a2b.js").headers["cache-control"]
    for nothing in ("/assets/gone.js", "/api/nothing"):
        answer = client.get(nothing)
        assert answer.status_code == 404 and answer.headers["content-type"] == "application/problem+json"


def test_foreign_hosts_get_no_answer(client: TestClient) -> None:
    for host in (
        "evil.example",
        "127.0.0.1.evil.example",
        "evil.example:7340",
        "",
        "[::1",
        "a@127.0.0.1",
        "127.0.0.1/x",
        "studio.local",
    ):
        answer = client.get("/api/productions", headers={"Host": host})
        assert answer.status_code == 421, host
    for host in ("127.0.0.1", "localhost:9", "LOCALHOST", "[::1]:7340"):
        assert client.get("/api/productions", headers={"Host": host}).status_code == 200, host


def test_foreign_pages_change_nothing(client: TestClient, made: str) -> None:
    foreign = (
        {"Origin": "https://evil.example"},
        {"Origin": "null"},
        {"Origin": "http://127.0.0.1:9999"},
        {"Sec-Fetch-Site": "cross-site"},
        {"Sec-Fetch-Site": "same-site"},
        {"Origin": "http://127.0.0.1:7340.evil.example"},
    )
    changing = (
        ("POST", f"/api/shots/{made}/undo"),
        ("POST", f"/api/shots/{made}/edits"),
        ("DELETE", f"/api/shots/{made}"),
        ("PUT", "/api/looks/a"),
        ("POST", "/api/library/typefaces"),
        ("PATCH", "/api/productions/x"),
        ("POST", "/api/deliveries/x/cancel"),
    )
    for headers in foreign:
        for method, path in changing:
            assert client.request(method, path, headers=headers).status_code == 403, (headers, path)
    assert client.get("/api/productions", headers={"Sec-Fetch-Site": "cross-site"}).status_code == 403
    assert client.get(f"/api/shots/{made}").json()["revision"] == 0
    assert client.post(f"/api/shots/{made}/undo", headers=OWN).status_code == 200


def test_foreign_pages_open_no_socket(client: TestClient) -> None:
    for headers in ({"Origin": "https://evil.example"}, {"Origin": "null"}, {"Host": "evil.example"}):
        with pytest.raises(WebSocketDisconnect), client.websocket_connect("/api/live", headers=headers):
            pass
    with pytest.raises(WebSocketDisconnect), client.websocket_connect("/elsewhere", headers=OWN):
        pass
    with client.websocket_connect("/api/live", headers=OWN) as socket:
        socket.send_bytes(b"\x00\x01")
        assert json.loads(socket.receive_text())["kind"] == "refused"
        socket.send_text("[" * 3000)
        assert json.loads(socket.receive_text())["kind"] == "refused"


def test_every_answer_says_what_a_browser_may_do(client: TestClient) -> None:
    for path in ("/", "/api/productions", "/api/nothing", "/assets/index-1a2b.js"):
        headers = client.get(path).headers
        assert headers["x-content-type-options"] == "nosniff" and headers["x-frame-options"] == "DENY", path
        assert (
            "frame-ancestors 'none'" in headers["content-security-policy"]
            and "unsafe-eval" not in headers["content-security-policy"]
        )
    assert client.get("/", headers={"Host": "evil.example"}).headers["x-content-type-options"] == "nosniff"


def test_a_studio_needs_the_token(studio: TestClient) -> None:
    for headers in (
        {},
        {"Authorization": "Bearer wrong"},
        {"Cookie": "dreizack-token=wrong"},
        {"Authorization": TOKEN},
    ):
        answer = studio.get("/api/productions", headers=headers)
        assert answer.status_code == 401 and answer.headers["content-type"] == "application/problem+json"
    assert studio.get("/?token=wrong").status_code == 401
    assert studio.post(f"/api/productions?token={TOKEN}", json={"name": "SLACK WATER"}).status_code == 401
    with (
        pytest.raises(WebSocketDisconnect),
        studio.websocket_connect("/api/live", headers={"Host": "studio.local"}),
    ):
        pass
    assert studio.get("/api/productions", headers={"Authorization": f"Bearer {TOKEN}"}).status_code == 200


def test_the_address_with_the_token_opens_the_interface(studio: TestClient) -> None:
    first = studio.get(f"/shots/7?token={TOKEN}&frame=3", follow_redirects=False)
    assert first.status_code == 303 and first.headers["location"] == "/shots/7?frame=3"
    cookie = first.headers["set-cookie"].lower()
    assert "httponly" in cookie and "samesite=strict" in cookie
    assert studio.get("/api/productions").status_code == 200
    assert (
        studio.get(f"http://studio.local:7340//evil.example?token={TOKEN}", follow_redirects=False)
        .headers["location"]
        .startswith("/evil")
    )
    own = {
        "Host": "studio.local:7340",
        "Origin": "http://studio.local:7340",
        "Cookie": first.headers["set-cookie"].partition(";")[0],
    }
    with studio.websocket_connect("/api/live", headers=own) as socket:
        socket.send_text("{}")


def test_serving_others_without_a_token_is_refused() -> None:
    for hosts, token in (
        ({"studio.local"}, ""),
        ({"studio.local"}, "short"),
        ({"a b"}, TOKEN),
        ({"http://x"}, TOKEN),
        ({"x:80"}, TOKEN),
    ):
        with pytest.raises(ValueError, match=r"token|host name"):
            AccessPolicy(LOOPBACK | hosts, token)
    read = AccessPolicy.read({"DREIZACK_HOSTS": "Studio.local, 10.0.0.7", "DREIZACK_TOKEN": TOKEN})
    assert (
        read.hosts == LOOPBACK | {"studio.local", "10.0.0.7"} and read.admits(TOKEN) and not read.admits("")
    )


@given(st.text(max_size=60))
def test_host_headers_never_fail(host: str) -> None:
    assert AccessPolicy().knows(host) == (host_name(host) in LOOPBACK)
