"""Machines that help, each in a network of its own: killed, held up and cut off at random, they cost nothing
but the frames they were at."""

from __future__ import annotations

import contextlib
import io
import json
import os
import random
import re
import shutil
import signal
import subprocess
import sys
import time
import urllib.request
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import av
import cv2
import numpy as np
import pytest

from bench.site import ROOT
from dreizack.store.cluster import free_port

pytestmark = [
    pytest.mark.long,
    pytest.mark.skipif(os.geteuid() != 0 or not shutil.which("ip"), reason="networks are made by root"),
]
HOSTS, TIMES = 2, int(os.environ.get("TIMES", "20"))
ORDER = {"first": 0, "last": 35, "width": 320, "height": 180, "quality": "draft"}


def ip(*words: str) -> None:
    subprocess.run(["ip", *words], check=True, capture_output=True)


@dataclass
class Host:
    """A machine: a network namespace with one way out, and the helper that runs there."""

    number: int
    folder: Path
    address: str = ""
    helper: subprocess.Popen[str] | None = None
    kills: int = 0
    lines: list[str] = field(default_factory=list)

    @property
    def name(self) -> str:
        return f"dreizack{self.number}"

    def begin(self) -> None:
        """A helper that joins under the name of this machine."""
        environment = os.environ | {"DREIZACK_DATA": str(self.folder), "PYTHONPATH": str(ROOT / "src")}
        log = (self.folder / "helper.log").open("a", encoding="utf-8")
        join = ["worker", "--join", self.address, "--name", self.name]
        self.helper = subprocess.Popen(
            ["ip", "netns", "exec", self.name, sys.executable, "-m", "dreizack", *join],
            env=environment, stdout=log, stderr=log, text=True,
        )  # fmt: skip

    def end(self, how: signal.Signals = signal.SIGKILL) -> None:
        if self.helper and self.helper.poll() is None:
            self.helper.send_signal(how)
            self.helper.wait(timeout=60)

    def cut(self, seconds: float) -> None:
        """Nothing gets through for so long."""
        ip("link", "set", f"dz-out{self.number}", "down")
        time.sleep(seconds)
        ip("link", "set", f"dz-out{self.number}", "up")

    def held(self, seconds: float) -> None:
        """It stands still for so long."""
        assert self.helper is not None
        self.helper.send_signal(signal.SIGSTOP)
        time.sleep(seconds)
        self.helper.send_signal(signal.SIGCONT)

    def killed(self) -> None:
        self.kills += 1
        self.end()
        self.begin()


@pytest.fixture(scope="module")
def hosts(tmp_path_factory: pytest.TempPathFactory) -> Iterator[list[Host]]:
    made = [Host(k, tmp_path_factory.mktemp(f"host{k}")) for k in range(HOSTS)]
    try:
        for one in made:
            k = one.number
            ip("netns", "add", one.name)
            ip("link", "add", f"dz-out{k}", "type", "veth", "peer", "name", f"dz-in{k}")
            ip("link", "set", f"dz-in{k}", "netns", one.name)
            ip("addr", "add", f"10.77.{k}.1/24", "dev", f"dz-out{k}")
            ip("link", "set", f"dz-out{k}", "up")
            ip("-n", one.name, "addr", "add", f"10.77.{k}.2/24", "dev", f"dz-in{k}")
            ip("-n", one.name, "link", "set", f"dz-in{k}", "up")
            ip("-n", one.name, "link", "set", "lo", "up")
        yield made
    finally:
        for one in made:
            with contextlib.suppress(Exception):
                one.end()
            for words in (("netns", "del", one.name), ("link", "del", f"dz-out{one.number}")):
                subprocess.run(["ip", *words], check=False, capture_output=True)


@dataclass(frozen=True)
class Served:
    """A site that lets other machines in."""

    address: str
    token: str
    port: int
    data: Path

    def fetch(self, path: str, method: str = "GET", data: bytes | None = None) -> bytes:
        headers = {"Content-Type": "application/json", "Authorization": f"Bearer {self.token}"}
        asked = urllib.request.Request(f"{self.address}{path}", data, headers, method=method)
        with urllib.request.urlopen(asked, timeout=60) as answer:
            found: bytes = answer.read()
        return found

    def ask(self, method: str, path: str, body: Any = None) -> Any:
        text = self.fetch(path, method, None if body is None else json.dumps(body).encode())
        return json.loads(text) if text else None


@pytest.fixture(scope="module")
def site(hosts: list[Host], tmp_path_factory: pytest.TempPathFactory) -> Iterator[Served]:
    data, port = tmp_path_factory.mktemp("served"), free_port()
    names = ",".join(f"10.77.{one.number}.1" for one in hosts)
    process = subprocess.Popen(
        [sys.executable, "-m", "dreizack", "start", "--port", str(port), "--serve", names],
        env=os.environ | {"DREIZACK_DATA": str(data), "PYTHONPATH": str(ROOT / "src")},
        text=True, stdout=subprocess.PIPE, start_new_session=True,
    )  # fmt: skip
    try:
        assert process.stdout is not None
        told = ""
        while "token=" not in told:
            told = process.stdout.readline()
            assert told, "the application did not start"
        token = re.search(r"token=([\w-]+)", told)
        assert token is not None
        yield Served(f"http://127.0.0.1:{port}", token[1], port, data)
    finally:
        process.send_signal(signal.SIGINT)
        process.wait(timeout=60)


def finished(site: Served, delivery: str) -> str:
    """The delivery, once it is complete."""
    end = time.monotonic() + 240
    while (row := site.ask("GET", f"/api/deliveries/{delivery}"))["state"] not in ("complete", "failed"):
        assert time.monotonic() < end, "the delivery takes too long"
        time.sleep(0.2)
    assert row["state"] == "complete", row["why"]
    return delivery


def test_machines_that_die_stall_and_lose_their_line(hosts: list[Host], site: Served, tmp_path: Path) -> None:
    rng = random.Random(11)
    for one in hosts:
        one.address = f"http://10.77.{one.number}.1:{site.port}/?token={site.token}"
        one.begin()
    production = site.ask("POST", "/api/productions", {"name": "Helped"})["id"]
    size = {"width": 320, "height": 180, "rate": {"num": 25, "den": 1}, "frames": 36}
    shot = site.ask(
        "POST", f"/api/productions/{production}/shots", {"name": "Ebb", "words": "EBB", "format": size}
    )["id"]
    helped: dict[str, int] = {}
    for round_ in range(max(1, TIMES // 5)):
        # Another way of the camera, so that every frame is traced anew.
        way = {"keys": [{"frame": 0, "value": 0.0}, {"frame": 35, "value": 0.5 + 0.1 * round_}]}
        change = [{"op": "add", "path": "/channels/~1camera~1position~1x", "value": way}]
        revision = site.ask("GET", f"/api/shots/{shot}")["revision"]
        site.ask("POST", f"/api/shots/{shot}/edits", {"base": revision, "patch": change})
        delivery = site.ask("POST", f"/api/shots/{shot}/deliveries", ORDER)["id"]
        for _ in range(5):
            time.sleep(rng.uniform(0.5, 3.0))
            victim = rng.choice(hosts)
            rng.choice([victim.killed, lambda v=victim: v.held(4.0), lambda v=victim: v.cut(3.0)])()
        finished(site, delivery)
        for machine in site.ask("GET", "/api/fleet")["machines"]:
            helped[machine["name"]] = machine["frames"]
        with av.open(str(site.data / "deliveries" / f"{delivery}.mp4")) as movie:
            assert sum(1 for _ in movie.decode(video=0)) == 36
    assert sum(helped.values()) > 0, "nobody helped"
    # The last one is what a machine alone makes of it, frame by frame.
    for one in hosts:
        one.end(signal.SIGTERM)
    document = site.ask("GET", f"/api/shots/{shot}/file")
    (tmp_path / "shot.json").write_text(json.dumps(document), encoding="utf-8")
    alone = [sys.executable, "-m", "dreizack", "render", str(tmp_path / "shot.json")]
    alone += ["--out", str(tmp_path / "alone.%05d.png")]
    alone += ["--frames", "0-35", "--size", "320x180", "--quality", "draft", "--progress", "none"]
    subprocess.run(alone, check=True, env=os.environ | {"PYTHONPATH": str(ROOT / "src")})
    by_itself = [cv2.imread(str(path)) for path in sorted(tmp_path.glob("alone.*.png"))]
    # As frames, of pictures that are there already.
    frames = finished(
        site, site.ask("POST", f"/api/shots/{shot}/deliveries", {**ORDER, "format": "png"})["id"]
    )
    with zipfile.ZipFile(io.BytesIO(site.fetch(f"/api/deliveries/{frames}/file"))) as archive:
        names = sorted(name for name in archive.namelist() if name.endswith(".png"))
        brought = [
            cv2.imdecode(np.frombuffer(archive.read(name), np.uint8), cv2.IMREAD_COLOR) for name in names
        ]
    assert len(by_itself) == len(brought) == 36
    apart = np.abs(np.stack(by_itself).astype(int) - np.stack(brought))
    assert apart.max() <= 2, (apart.max(), apart.mean())
