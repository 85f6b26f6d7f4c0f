"""How many machines one server keeps busy: what it costs to hand out a picture and to take it back is
measured, the rest simulated."""

from __future__ import annotations

import heapq
import os
import subprocess
import sys
import tempfile
import time
import zlib
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path

import numpy as np
from fastapi.testclient import TestClient

from dreizack.api.app import create_app
from dreizack.api.fleet import SAME
from dreizack.core.document import Shot, Title
from dreizack.core.media import Order
from dreizack.core.media.sharing import Wanted
from dreizack.store import migrate, open_store
from dreizack.store.cluster import Cluster
from dreizack.store.fleet import FleetSharing
from dreizack.work import prepare_jobs

from .figure import Figure
from .site import ROOT, Site, forty_letters, order, running, wait_for

WIDTH, HEIGHT, PICTURES = 1920, 1080, 24
# Pictures that are ordered on one machine, and what makes each another one.
MOVING = 40
ROLLS = {"keys": [{"frame": 0, "value": -4.0}, {"frame": 199, "value": 4.0}]}
# Seconds that a machine is at a picture of that size, on the mean and as they spread; requests that the
# server answers at once; megabytes a second over the line, and of a picture on it.
MEAN, SPREAD, AT_ONCE, LINE, PACKED = 30.0, 0.4, 2, 100.0, 6.0


def measure() -> Iterator[Figure]:
    take, bring = costs()
    yield Figure("a picture is handed out", take * 1e3, "ms")
    yield Figure(f"a picture of {WIDTH}×{HEIGHT} is taken back and kept", bring * 1e3, "ms")
    for workers, bar in ((1, None), (10, None), (100, 95.0)):
        name = f"{workers} machines at {MEAN:.0f} s a picture, busy"
        yield Figure(name, 100 * busy(workers, take, bring), "%", bar, True)
    alone, four = on_one_machine()
    yield Figure(f"{MOVING} pictures of 640×360, one worker", alone, "s")
    yield Figure("speed of four workers on one machine to that of one", alone / four, "×", 0.9, True)


def on_one_machine() -> tuple[float, float]:
    """Seconds of an order for one worker, and for four that share the cores of this machine."""
    with running() as site:
        shot = forty_letters(site)
        patch = [
            {"op": "replace", "path": "/format/frames", "value": 200},
            {"op": "add", "path": "/channels", "value": {"/camera/roll": ROLLS}},
        ]
        site.ask("POST", f"/api/shots/{shot}/edits", {"base": 0, "patch": patch})
        wait_for(site, order(site, shot, first=198, last=199, width=640, height=360), 2)
        alone = ordered(site, shot, 0)
        with ExitStack() as helpers:
            for number in range(3):
                helpers.enter_context(helper(site, f"helper {number}"))
            wait_for(site, order(site, shot, first=165, last=180, width=640, height=360), 16)
            return alone, ordered(site, shot, MOVING)


def ordered(site: Site, shot: str, first: int) -> float:
    """Seconds until an order is complete."""
    begun = time.perf_counter()
    made = order(site, shot, first=first, last=first + MOVING - 1, width=640, height=360)
    if wait_for(site, made, MOVING + 1)["state"] != "complete":
        raise RuntimeError("the order failed")
    return time.perf_counter() - begun


@contextmanager
def helper(site: Site, name: str) -> Iterator[None]:
    """A worker that joined from this very machine."""
    with tempfile.TemporaryDirectory() as folder:
        process = subprocess.Popen(
            [
                sys.executable,
                "-m",
                "dreizack",
                "worker",
                "--join",
                site.address,
                "--name",
                name,
                "--threads",
                "1",
            ],
            env=os.environ | {"DREIZACK_DATA": folder, "PYTHONPATH": str(ROOT / "src")},
            stdout=subprocess.DEVNULL,
        )
        try:
            yield
        finally:
            process.terminate()
            process.wait(timeout=60)


def busy(workers: int, take: float, bring: float, pictures: int = 40) -> float:
    """Share of the time for which so many machines trace, each so many pictures, while one server hands them
    out and takes them back: a queue with AT_ONCE servers (Kendall, Stochastic Processes Occurring in the
    Theory of Queues, 1953), by events."""
    random = np.random.default_rng(5)
    served = [0.0] * AT_ONCE
    traced, ended = np.zeros(workers), np.zeros(workers)
    events: list[tuple[float, int, int]] = [(0.0, number, 0) for number in range(workers)]
    while events:
        now, number, done = heapq.heappop(events)
        # One brings the last picture, and asks for the next one.
        begins = max(now, heapq.heappop(served))
        heapq.heappush(served, free := begins + take + (bring if done else 0.0))
        ended[number] = free
        if done < pictures:
            length = float(random.lognormal(np.log(MEAN) - SPREAD**2 / 2, SPREAD))
            traced[number] += length
            heapq.heappush(events, (free + length + PACKED / LINE, number, done + 1))
    return float((traced / ended).mean())


def costs() -> tuple[float, float]:
    """Seconds of the server to hand out a picture, and to take one back (medians)."""
    picture = np.random.default_rng(1).random((HEIGHT // 8, WIDTH // 8, 4))
    data = zlib.compress(picture.repeat(8, 0).repeat(8, 1).astype(np.float16).tobytes(), 1)
    takes, brings = [], []
    with client() as (asked, sharing):
        wanted = [Wanted(f"{k:032x}", float(k), f"{k:032x}", f"{k:032x}") for k in range(PICTURES)]
        shot = Shot(things={"title": Title(words="EBB")})
        sharing.offer(shot, Order(0, PICTURES - 1, WIDTH, HEIGHT, "draft"), wanted)
        for _ in range(PICTURES):
            begun = time.perf_counter()
            key = asked.post("/api/fleet/take", json={"name": "a", "version": SAME}).json()["key"]
            between = time.perf_counter()
            answer = asked.put(f"/api/fleet/frames/{key}?name=a&channels=4", content=data)
            brings.append(time.perf_counter() - between)
            takes.append(between - begun)
            if answer.status_code != 204:
                raise RuntimeError(answer.text)
    return float(np.median(takes)), float(np.median(brings))


@contextmanager
def client() -> Iterator[tuple[TestClient, FleetSharing]]:
    """A server on a database of its own, and what is shared out there."""
    with tempfile.TemporaryDirectory() as folder:
        cluster = Cluster(Path(folder) / "postgres", throwaway=True)
        address = cluster.start()
        try:
            migrate(address)
            prepare_jobs(address)
            store = open_store(address, size=4)
            app = create_app(address, Path(folder) / "data", web=None, looking=False)
            with TestClient(app, base_url="http://127.0.0.1") as asked:
                yield asked, FleetSharing(store)
            store.close()
        finally:
            cluster.stop()
