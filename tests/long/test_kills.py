"""Whatever is killed, whenever: no acknowledged edit is lost, no delivery, and all comes back by itself."""

from __future__ import annotations

import contextlib
import itertools
import json
import os
import random
import signal
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest

from bench.memory import children, postgres, words
from bench.site import Site, order, running
from dreizack.core.media import probe

pytestmark = pytest.mark.long
TIMES = int(os.environ.get("TIMES", "20"))
BACK_WITHIN = 30.0


@pytest.fixture(scope="module")
def site() -> Iterator[Site]:
    with running() as made:
        yield made


def answer(site: Site, method: str, path: str, body: Any = None) -> tuple[int, Any]:
    """Status and answer; 0 where nobody answers."""
    request = urllib.request.Request(
        f"{site.address}{path}",
        method=method,
        data=None if body is None else json.dumps(body).encode(),
        headers={"Content-Type": "application/json"},
    )
    try:
        with urllib.request.urlopen(request, timeout=10) as found:
            return found.status, json.loads(found.read() or b"null")
    except urllib.error.HTTPError as why:
        return why.code, None
    except (OSError, urllib.error.URLError):
        return 0, None


def small_shot(site: Site) -> str:
    production = site.ask("POST", "/api/productions", {"name": "Killed"})["id"]
    made: str = site.ask(
        "POST",
        f"/api/productions/{production}/shots",
        {
            "name": "Ebb",
            "words": "EBB",
            "format": {"width": 320, "height": 180, "rate": {"num": 25, "den": 1}, "frames": 24},
        },
    )["id"]
    return made


def process(site: Site, kind: str) -> int | None:
    """The process of a kind: server, worker, renderer (below the worker), tracing (below the server),
    database."""
    family = children(site.process)
    below = {
        name: next((pid for pid, line in family.items() if f"-m {module}" in line), None)
        for name, module in (
            ("server", "dreizack.api"),
            ("worker", "dreizack.work.worker"),
        )
    }
    if kind in below:
        return below[kind]
    if kind == "database":
        found = postgres(site.data)
        return found[0] if found else None
    parent = below["server" if kind == "tracing" else "worker"]
    inner = [pid for pid, line in children(parent).items() if "spawn_main" in line] if parent else []
    return inner[0] if inner else None


def until(reached: Callable[[], bool], seconds: float) -> float:
    begun = time.monotonic()
    while not reached():
        assert time.monotonic() - begun < seconds, "not back in time"
        time.sleep(0.05)
    return time.monotonic() - begun


@pytest.mark.parametrize("kind", ["server", "worker", "renderer", "tracing", "database"])
def test_killed_under_edits_and_deliveries(site: Site, kind: str) -> None:
    rng = random.Random(7)
    shot = small_shot(site)
    name, revision = "Ebb", 0
    for number in range(TIMES):
        delivery = order(site, shot, first=0, last=5, width=320, height=180, quality="draft")
        # Also in its first second, while it is still being started.
        time.sleep(rng.choice([0.05, 0.3, 0.6, 1.5, 3.0]))
        victim = process(site, kind)
        if victim:
            with contextlib.suppress(ProcessLookupError):
                os.kill(victim, signal.SIGKILL)
        for again in range(3):
            wanted = f"Ebb {number} {again}"
            status, found = answer(
                site,
                "POST",
                f"/api/shots/{shot}/edits",
                {"base": revision, "patch": [{"op": "replace", "path": "/name", "value": wanted}]},
            )
            if status == 200:
                name, revision = wanted, found["revision"]
        until(lambda: answer(site, "GET", f"/api/shots/{shot}")[0] == 200, BACK_WITHIN)
        now = answer(site, "GET", f"/api/shots/{shot}")[1]
        # An edit whose answer was lost may have come in all the same; an acknowledged one has.
        assert now["revision"] >= revision and (
            now["revision"] > revision or now["document"]["name"] == name
        ), f"{kind} {number}: an edit was lost"
        name, revision = now["document"]["name"], now["revision"]
        address = f"/api/deliveries/{delivery}"

        def over(address: str = address) -> bool:
            return (answer(site, "GET", address)[1] or {}).get("state") in ("complete", "failed")

        until(over, 120)
        row = answer(site, "GET", address)[1]
        assert row["state"] == "complete", f"{kind} {number}: {row['why']}"
        facts = probe(Path(site.data) / "deliveries" / f"{delivery}.mp4")
        assert facts["frames"] == 6 and len({b - a for a, b in itertools.pairwise(facts["pts"])}) == 1
    assert not list((site.data / "deliveries").glob(".*")), "a half file was left"


def test_killed_supervisor_leaves_nothing_that_keeps_the_next_one_out(tmp_path: Path) -> None:
    with contextlib.suppress(Exception), running() as made:
        inside = [pid for pid in children(made.process) if pid != made.process]
        os.kill(made.process, signal.SIGKILL)
        until(lambda: not [pid for pid in inside if "dreizack" in words(pid)], 15)
