"""A running application to measure: database, server and worker on their own data."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from dreizack.store.cluster import free_port

ROOT = Path(__file__).resolve().parent.parent


@dataclass(frozen=True)
class Site:
    """``process`` is the supervisor; its children are server, tracing process and worker."""

    address: str
    process: int
    data: Path

    def ask(self, method: str, path: str, body: Any = None) -> Any:
        text = self.fetch(method, path, body)
        return json.loads(text) if text else None

    def fetch(self, method: str, path: str, body: Any = None) -> bytes:
        request = urllib.request.Request(
            f"{self.address}{path}",
            method=method,
            data=None if body is None else json.dumps(body).encode(),
            headers={"Content-Type": "application/json"},
        )
        with urllib.request.urlopen(request, timeout=60) as answer:
            found: bytes = answer.read()
            return found


@contextmanager
def running() -> Iterator[Site]:
    with tempfile.TemporaryDirectory() as folder:
        port = free_port()
        environment = os.environ | {"DREIZACK_DATA": folder, "PYTHONPATH": str(ROOT / "src")}
        process = subprocess.Popen(
            [sys.executable, "-m", "dreizack", "start", "--port", str(port)],
            env=environment,
            text=True,
            stdout=subprocess.PIPE,
            start_new_session=True,
        )
        try:
            assert process.stdout is not None
            if "ready" not in process.stdout.readline():
                raise RuntimeError("the application did not start")
            yield Site(f"http://127.0.0.1:{port}", process.pid, Path(folder))
        finally:
            process.send_signal(signal.SIGINT)
            process.wait(timeout=40)


def forty_letters(site: Site) -> str:
    """A shot with a title of forty letters; its id."""
    production = site.ask("POST", "/api/productions", {"name": "Measured"})["id"]
    made: str = site.ask(
        "POST",
        f"/api/productions/{production}/shots",
        {
            "name": "Forty",
            "words": "SLACK WATER\nTHE CREW OF THE\nMARROW LIGHT ON THE\nORRISUND",
            "format": {"width": 1920, "height": 1080, "rate": {"num": 25, "den": 1}, "frames": 100},
        },
    )["id"]
    return made


def order(site: Site, shot: str, **more: Any) -> str:
    wish = {"first": 0, "last": 99, "width": 1920, "height": 1080, "quality": "good"} | more
    made: str = site.ask("POST", f"/api/shots/{shot}/deliveries", wish)["id"]
    return made


def wait_for(site: Site, delivery: str, frames: int, seconds: float = 300) -> dict[str, Any]:
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        row: dict[str, Any] = site.ask("GET", f"/api/deliveries/{delivery}")
        if row["done"] >= frames or row["state"] in ("failed", "complete"):
            return row
        time.sleep(0.1)
    raise RuntimeError("the delivery takes too long")
