"""Eight people at work on one machine for ten minutes: editing, looking, chips and posters."""

from __future__ import annotations

import json
import os
import random
import threading
import time
from collections import defaultdict
from dataclasses import dataclass, field
from typing import Any

import pytest
from websockets.sync.client import connect

from bench.memory import children, pss
from bench.site import Site, forty_letters, running

pytestmark = pytest.mark.long
MINUTES = float(os.environ.get("MINUTES", "10"))
CLIENTS = 8
# Seconds for whatever is not a traced picture, on a machine whose cores all trace.
PATIENCE = 5.0
FINISHES = ("gold", "copper", "chalk", "felt", "chromium", "slate")


@dataclass
class Answers:
    """Seconds that each kind of request took, and what went wrong."""

    took: dict[str, list[float]] = field(default_factory=lambda: defaultdict(list))
    faults: list[str] = field(default_factory=list)
    pictures: int = 0

    def timed(self, kind: str, site: Site, method: str, path: str, body: Any = None) -> bytes:
        begun = time.monotonic()
        try:
            return site.fetch(method, path, body)
        except OSError as why:
            # A picture that is still being made is asked for again; nothing else may fail.
            if not (kind in ("poster", "chip") and "404" in str(why)):
                self.faults.append(f"{kind}: {why}")
            return b""
        finally:
            self.took[kind].append(time.monotonic() - begun)


def works(site: Site, number: int, until: float, answers: Answers) -> None:
    """One of them: edits a shot of their own, takes some back, looks at it traced, asks for pictures."""
    shot, revision, rng = forty_letters(site), 0, random.Random(number)
    address = site.address.replace("http", "ws", 1) + "/api/live"
    with connect(address, origin=site.address, max_size=None, max_queue=None, ping_interval=None) as socket:  # type: ignore[arg-type]
        while time.monotonic() < until:
            path, value = rng.choice(
                [
                    ("/things/title/place/position/x", rng.uniform(-1, 1)),
                    ("/things/title/body/depth", round(rng.uniform(0.05, 0.4), 4)),
                    ("/things/key/intensity", rng.uniform(-2, 2)),
                    ("/things/title/words", f"EBB {rng.randrange(1000)}"),
                ]
            )
            edit = {"base": revision, "patch": [{"op": "replace", "path": path, "value": value}]}
            if not answers.timed("edit", site, "POST", f"/api/shots/{shot}/edits?scene=true", edit):
                return
            revision += 1
            if rng.random() < 0.1:
                revision = json.loads(answers.timed("undo", site, "POST", f"/api/shots/{shot}/undo"))[
                    "revision"
                ]
            if rng.random() < 0.3:
                wish = {"shot": shot, "frame": 0, "width": 320, "height": 180, "samples": 4, "tag": number}
                socket.send(json.dumps(wish))
            if rng.random() < 0.1:
                answers.timed("list", site, "GET", "/api/productions")
            if rng.random() < 0.05:
                answers.timed("chip", site, "GET", f"/api/finishes/{rng.choice(FINISHES)}/chip")
            if rng.random() < 0.02:
                answers.timed("poster", site, "GET", f"/api/shots/{shot}/poster")
            pause = time.monotonic() + rng.uniform(0.2, 1.5)
            while (left := pause - time.monotonic()) > 0:
                try:
                    answers.pictures += isinstance(socket.recv(timeout=left), bytes)
                except TimeoutError:
                    break


def test_eight_people_get_their_answers_and_the_server_does_not_grow() -> None:
    with running() as site:
        server = next(pid for pid, line in children(site.process).items() if "dreizack.api" in line)
        answers, begun = Answers(), time.monotonic()
        until = begun + 60 * MINUTES
        people = [
            threading.Thread(target=works, args=(site, number, until, answers)) for number in range(CLIENTS)
        ]
        for one in people:
            one.start()
        time.sleep(60 * MINUTES / 4)
        early = pss(server)
        for one in people:
            one.join()
        late = pss(server)
    for kind, took in sorted(answers.took.items()):
        ranked = sorted(took)
        print(f"{kind}: {len(took)}, median {ranked[len(took) // 2]:.2f} s, worst {ranked[-1]:.2f} s")
    print(f"pictures seen: {answers.pictures}; server {early / 1e6:.0f} MB early, {late / 1e6:.0f} MB late")
    assert answers.faults == []
    assert answers.pictures > CLIENTS
    for kind in ("edit", "undo", "list", "chip"):
        assert max(answers.took[kind]) <= PATIENCE, kind
    assert late <= 1.3 * early
