"""Other machines trace frames: each frame once, nothing taken on trust, nobody missed who dies."""

from __future__ import annotations

import threading
import time
import zlib
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient
from psycopg import OperationalError

from dreizack.api.fleet import SAME
from dreizack.core.document import Channel, Key, Shot, Title
from dreizack.core.media import Order
from dreizack.core.media.frames import pictures
from dreizack.core.media.sharing import Shared, Wanted
from dreizack.core.media.shelf import Shelf
from dreizack.core.render import Stage
from dreizack.core.scene import BodyStore
from dreizack.store import Store, open_store
from dreizack.store.fleet import FleetSharing
from dreizack.store.frame_cache import FRAMES, FrameCache
from dreizack.work.helping import Address, Machine, Refused

ORDER = Order(0, 7, 48, 27, "draft")


@pytest.fixture
def store(address: str) -> Iterator[Store]:
    opened = open_store(address, size=8)
    yield opened
    opened.close()


def moving() -> Shot:
    turns = Channel(keys=[Key(frame=0, value=0), Key(frame=7, value=60)])
    shot = Shot(things={"title": Title(words="EB")}, channels={"/things/title/place/rotation/y": turns})
    shot.format.frames = 8
    return shot


def wanted(count: int, offset: int = 0) -> list[Wanted]:
    return [Wanted(f"{k + offset:032x}", float(k), f"{k:032x}", f"{k:032x}") for k in range(count)]


def offered(store: Store, count: int) -> FleetSharing:
    sharing = FleetSharing(store)
    sharing.offer(moving(), ORDER, wanted(count))
    return sharing


def take(client: TestClient, name: str = "anna") -> Any:
    answer = client.post("/api/fleet/take", json={"name": name, "version": SAME})
    assert answer.status_code == 200, answer.text
    return answer.json()


def bring(client: TestClient, key: str, data: bytes, name: str = "anna", channels: int = 4) -> Any:
    return client.put(f"/api/fleet/frames/{key}?name={name}&channels={channels}", content=data)


def packed(picture: np.ndarray) -> bytes:
    return zlib.compress(picture.astype(np.float16).tobytes())


def test_a_machine_takes_a_picture_and_brings_it(client: TestClient, store: Store, tmp_path: Path) -> None:
    assert take(client) is None
    sharing = offered(store, 2)
    assert sharing.helped()
    first = take(client)
    assert first["key"] == wanted(1)[0].key and first["at"] == 0
    told = client.get(f"/api/fleet/orders/{first['order']}").json()
    assert (told["width"], told["height"], told["quality"]) == (48, 27, "draft")
    assert Shot.model_validate_json(told["document"]) == moving()
    picture = np.random.default_rng(1).random((27, 48, 4))
    assert bring(client, first["key"], packed(picture)).status_code == 204
    kept = FrameCache(tmp_path / FRAMES).get(first["key"])
    assert kept is not None
    np.testing.assert_array_equal(kept, picture.astype(np.float16).astype(np.float32))
    (machine,) = client.get("/api/fleet").json()["machines"]
    assert machine["name"] == "anna" and machine["frames"] == 1 and machine["helps"]
    # What is there is nobody's any more; the other one is still to be done.
    assert bring(client, first["key"], packed(picture)).status_code == 409
    assert take(client)["key"] == wanted(2)[1].key
    assert take(client, "bert") is None


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "half floats were expected"),
        (b"no zlib at all", "half floats were expected"),
        (packed(np.zeros((27, 47, 4))), "half floats were expected"),
        (packed(np.zeros((27, 48, 5))), "half floats were expected"),
        (packed(np.zeros((27, 48, 4)))[:-9], "half floats were expected"),
        (zlib.compress(bytes(300_000_000)), "half floats were expected"),
        (packed(np.full((27, 48, 4), np.nan)), "numbers in it that are none"),
        (packed(np.full((27, 48, 4), np.inf)), "numbers in it that are none"),
    ],
)
def test_what_is_no_picture_is_refused_and_left_to_others(
    client: TestClient, store: Store, tmp_path: Path, data: bytes, says: str
) -> None:
    offered(store, 1)
    key = take(client)["key"]
    answer = bring(client, key, data)
    assert answer.status_code == 422 and says in answer.json()["detail"]
    assert FrameCache(tmp_path / FRAMES).get(key) is None
    assert take(client, "bert")["key"] == key


def test_nobody_brings_what_is_not_theirs(client: TestClient, store: Store) -> None:
    offered(store, 1)
    key, data = take(client)["key"], packed(np.zeros((27, 48, 4)))
    assert bring(client, key, data, "bert").status_code == 409
    assert bring(client, "f" * 32, data).status_code == 409
    for strange in ("../../etc/passwd", "F" * 32, "a" * 31):
        assert bring(client, strange, data).status_code in (404, 405, 422)
    for name in ("..%2f..%2fpostgres%2fpassword", "postgres", "%2fetc%2fpasswd", "nothing-here.png"):
        answer = client.get(f"/api/fleet/files/{name}")
        assert answer.status_code == 404, answer.text
    assert client.get("/api/fleet/orders/00000000-0000-0000-0000-000000000000").status_code == 404


def test_another_version_is_told_so(client: TestClient, store: Store) -> None:
    offered(store, 1)
    answer = client.post("/api/fleet/take", json={"name": "anna", "version": "0.0 1"})
    assert answer.status_code == 409 and "install the same" in answer.json()["detail"]


def test_another_site_takes_and_brings_nothing(client: TestClient, store: Store) -> None:
    offered(store, 1)
    evil = {"origin": "https://elsewhere.example"}
    assert (
        client.post("/api/fleet/take", json={"name": "x", "version": SAME}, headers=evil).status_code == 403
    )
    assert client.put(f"/api/fleet/frames/{'0' * 32}?name=x", content=b"", headers=evil).status_code == 403


def test_what_a_dead_machine_was_at_goes_to_another(client: TestClient, store: Store) -> None:
    sharing = offered(store, 1)
    key = take(client)["key"]
    assert take(client, "bert") is None and not sharing.claim(key) and sharing.another() is None
    with store.pool.connection() as connection:
        connection.execute("UPDATE fleet_frames SET until = now() - interval '1 second'")
    assert take(client, "bert")["key"] == key
    # Somebody alive keeps what they are at.
    with store.pool.connection() as connection:
        connection.execute("UPDATE fleet_frames SET until = now() + interval '1 second'")
    client.post("/api/fleet/alive", json={"name": "bert", "version": SAME})
    row = store.row("fleet_machines")
    assert (row is not None and row["at_it"] == 0) or row["name"] == "anna"
    time.sleep(1.2)
    assert not sharing.claim(key)
    sharing.close()
    assert take(client) is None


def test_a_helper_begun_again_does_not_hold_what_another_was_at(client: TestClient, store: Store) -> None:
    """Words of one that goes by the same name keep nothing of one that was killed; one that asks again has
    lost the answer, and what it was given goes to others at once."""
    offered(store, 2)

    def ask(run: str) -> str | None:
        answer = client.post("/api/fleet/take", json={"name": "anna", "run": run, "version": SAME})
        return answer.json()["key"] if answer.json() else None

    first = ask("aa")
    second = ask("bb")
    assert first != second and ask("cc") is None
    store.rows("fleet_seen", who="anna #aa", name="anna", seconds=-1)
    client.post("/api/fleet/alive", json={"name": "anna", "run": "cc", "version": SAME})
    assert ask("cc") == first
    assert ask("bb") == second
    row = client.get("/api/fleet").json()["machines"][0]
    assert row["name"] == "anna" and row["at_it"] == 2


def test_what_is_being_brought_back_stays_ones_own(client: TestClient, store: Store) -> None:
    offered(store, 3)
    first = take(client)["key"]
    asked = {"name": "anna", "version": SAME, "holds": first}
    second = client.post("/api/fleet/take", json=asked).json()["key"]
    third = take(client, "bert")["key"]
    assert len({first, second, third}) == 3 and take(client, "carl") is None
    picture = packed(np.ones((ORDER.height, ORDER.width, 4)))
    assert bring(client, first, picture).status_code == 204
    # Without a word of it what one was at is anybody's, ours first.
    assert take(client)["key"] == second
    asked["holds"] = "x" * 81
    assert client.post("/api/fleet/take", json=asked).status_code == 422


def test_many_machines_never_take_the_same(store: Store) -> None:
    sharing = offered(store, 300)
    assert sharing.claim(wanted(1)[0].key)
    taken: list[str] = []
    lock = threading.Lock()

    def work(number: int) -> None:
        while (row := store.row("fleet_take", who=f"m{number}", seconds=60, part_of=None)) is not None:
            with lock:
                taken.append(row["key"])

    with ThreadPoolExecutor(16) as pool:
        list(pool.map(work, range(16)))
    assert len(taken) == 299 and len(set(taken)) == 299
    assert wanted(1)[0].key not in taken


class Through(Address):
    """An address that is asked within this process."""

    def __init__(self, client: TestClient) -> None:
        super().__init__("http://127.0.0.1")
        self.client = client

    def ask(self, method: str, path: str, body: bytes | None = None, kind: str = "application/json") -> bytes:
        answer = self.client.request(
            method, f"/api/fleet{path}", content=body, headers={"content-type": kind}
        )
        if answer.status_code >= 400:
            raise Refused(answer.json()["detail"])
        data: bytes = answer.content
        return data


def shared(store: Store, keeper: FrameCache) -> tuple[FleetSharing, list[Wanted]]:
    """An order that is shared out as a delivery does it."""
    frames = np.arange(8.0)
    sharing, offers = FleetSharing(store), []

    class Listening(FleetSharing):
        def offer(self, shot: Shot, order: Order, wanted: list[Wanted]) -> None:
            offers.extend(wanted)
            sharing.offer(shot, order, wanted)

    shelf = Shelf(ORDER, keeper, [f"{k}" for k in range(8)])
    listening = Listening(store)
    Shared(moving(), ORDER, frames, shelf, listening).awaited(
        Stage(BodyStore()), 0, "none", "none", lambda: False
    )
    return sharing, offers


def test_what_a_machine_traced_is_what_would_have_been_traced_here(
    client: TestClient, store: Store, tmp_path: Path
) -> None:
    alone = [rgba for _, _, rgba, _ in pictures(moving(), ORDER, None, lambda: False)]
    take(client)
    keeper = FrameCache(tmp_path / FRAMES)
    sharing, offers = shared(store, keeper)
    assert len(offers) == 8
    # This one is at a picture itself, which the other leaves alone.
    assert sharing.claim(offers[3].key)
    library = tmp_path / "helping"
    library.mkdir()
    machine = Machine(Through(client), "anna", library, lambda _: None)
    machine.help(lambda: machine.done == 7)
    sharing.done(offers[3].key)
    found = list(pictures(moving(), ORDER, keeper, lambda: False, sharing=FleetSharing(store)))
    assert [frame for frame, *_ in found] == list(range(8))
    assert [kept for *_, kept in found] == [True] * 3 + [False] + [True] * 4
    for (_, _, rgba, _), own in zip(found, alone, strict=True):
        # Kept pictures are half floats.
        np.testing.assert_allclose(rgba, own, rtol=2e-3, atol=2e-3)
    left = store.row("fleet_left")
    assert left is not None and left["left"] == 0


def test_while_another_is_at_a_picture_the_next_ones_are_traced(
    client: TestClient, store: Store, tmp_path: Path
) -> None:
    take(client)
    keeper, there = FrameCache(tmp_path / FRAMES), threading.Event()
    brought: list[str] = []

    class Slow(FleetSharing):
        """Somebody else takes the third picture as soon as it is offered, and is slow."""

        def offer(self, shot: Shot, order: Order, wanted: list[Wanted]) -> None:
            super().offer(shot, order, wanted)
            brought.append(wanted[2].key)
            assert self.store.row("fleet_claim", key=wanted[2].key, who="anna #", seconds=60)

        def another(self) -> Wanted | None:
            found = super().another()
            if found is None and not there.is_set():
                there.set()
                picture = np.full((27, 48, 4), 0.25)
                assert bring(client, brought[0], packed(picture)).status_code == 204
            return found

    found = list(pictures(moving(), ORDER, keeper, lambda: False, sharing=Slow(store)))
    assert [frame for frame, *_ in found] == list(range(8)) and there.is_set()
    np.testing.assert_array_equal(found[2][2], 0.25)
    # All after it were traced meanwhile, and are fetched.
    assert [kept for *_, kept in found] == [False, False] + [True] * 6


def test_while_the_database_is_away_everything_is_ours(store: Store, monkeypatch: pytest.MonkeyPatch) -> None:
    sharing = offered(store, 3)

    def away(*_: object, **__: object) -> None:
        raise OperationalError("the database is away")

    monkeypatch.setattr(store, "row", away)
    monkeypatch.setattr(store, "rows", away)
    assert not FleetSharing(store).helped() and sharing.claim(wanted(1)[0].key)
    assert sharing.another() is None
    sharing.offer(moving(), ORDER, wanted(2, 50))
    sharing.done(wanted(1)[0].key)
    sharing.close()


def test_more_is_offered_as_one_comes_near_its_end(client: TestClient, store: Store, tmp_path: Path) -> None:
    take(client)
    told: list[int] = []

    class Counting(FleetSharing):
        def offer(self, shot: Shot, order: Order, wanted: list[Wanted]) -> None:
            told.append(len(wanted))
            super().offer(shot, order, wanted)

    many = Order(0, 399, 48, 27, "draft")
    shot = moving()
    shot.format.frames = 400
    shot.channels["/things/title/place/rotation/y"].keys[1].frame = 399
    shelf = Shelf(many, FrameCache(tmp_path / FRAMES), [f"{k}" for k in range(400)])
    shared = Shared(shot, many, np.arange(400.0), shelf, Counting(store))
    stage = Stage(BodyStore())
    for index in (0, 100, 179, 181, 399):
        shared.awaited(stage, index, "none", "none", lambda: False)
    assert told == [240, 160]
    places = store.rows("fleet_left")
    assert places[0]["left"] == 400


def test_an_address_is_what_was_printed() -> None:
    printed = Address("http://studio.example:7340/?token=secret-token")
    assert printed.base == "http://studio.example:7340/api/fleet" and printed.token == "secret-token"
    assert Address("studio.example:7340").base == "http://studio.example:7340/api/fleet"
    with pytest.raises(Refused, match="no address"):
        Address("file:///etc/passwd")
