"""A disk that fills up and is freed, and ten minutes of ordinary work: nothing lost, nothing empty, nothing
that keeps growing."""

from __future__ import annotations

import json
import os
import subprocess
import tempfile
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import pytest

from bench.memory import soak
from bench.site import running

pytestmark = pytest.mark.long
EDITS = int(os.environ.get("EDITS", "10000"))
ROOM = 900


@pytest.fixture
def small_disk(tmp_path: Path) -> Iterator[Path]:
    """A disk of its own with little room (tmpfs; needs root)."""
    folder = tmp_path / "disk"
    folder.mkdir()
    subprocess.run(["mount", "-t", "tmpfs", "-o", f"size={ROOM}m", "tmpfs", str(folder)], check=True)
    yield folder
    subprocess.run(["umount", "-l", str(folder)], check=True)


def ask(
    address: str, method: str, path: str, body: Any = None, kind: str = "application/json"
) -> tuple[int, dict[str, Any]]:
    data = body if isinstance(body, bytes) or body is None else json.dumps(body).encode()
    request = urllib.request.Request(
        f"{address}{path}", method=method, data=data, headers={"Content-Type": kind}
    )
    try:
        with urllib.request.urlopen(request, timeout=70) as found:
            text = found.read()
            return found.status, json.loads(text) if text[:1] in (b"{", b"[") and isinstance(
                json.loads(text), dict
            ) else {}
    except urllib.error.HTTPError as why:
        return why.code, json.loads(why.read() or b"{}")


def test_a_full_disk_is_said_and_after_it_is_freed_all_goes_on(
    small_disk: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(tempfile, "tempdir", str(small_disk))
    with running() as site:
        production = site.ask("POST", "/api/productions", {"name": "Full"})["id"]
        shot = site.ask(
            "POST",
            f"/api/productions/{production}/shots",
            {
                "name": "Ebb",
                "words": "EBB",
                "format": {"width": 320, "height": 180, "rate": {"num": 25, "den": 1}, "frames": 24},
            },
        )["id"]
        filler = small_disk / "filler"
        with filler.open("wb") as file:
            try:
                while True:
                    file.write(b"x" * 1_000_000)
            except OSError:
                pass
        _, picture = cv2.imencode(".png", np.random.default_rng(1).integers(0, 255, (500, 500, 3), np.uint8))
        said, acknowledged, revision = [], "Ebb", 0
        for number in range(30):
            status, answer = ask(
                site.address,
                "POST",
                f"/api/shots/{shot}/edits",
                {
                    "base": revision,
                    "patch": [{"op": "replace", "path": "/name", "value": f"Ebb {number} " + "x" * 90}],
                },
            )
            if status == 200:
                acknowledged, revision = f"Ebb {number} " + "x" * 90, answer["revision"]
            else:
                said.append((status, str(answer)))
        for path in ("/api/library/pictures", f"/api/shots/{shot}/poster", "/api/finishes/gold/chip"):
            method = "POST" if "library" in path else "GET"
            status, answer = ask(
                site.address,
                method,
                path,
                picture.tobytes() if method == "POST" else None,
                "application/octet-stream",
            )
            if status >= 400:
                said.append((status, str(answer)))
        assert said and all(status in (503, 507, 404) for status, _ in said), said
        assert any("disk" in text.lower() for _, text in said), said
        filler.unlink()
        time.sleep(6)
        status, now = ask(site.address, "GET", f"/api/shots/{shot}")
        assert status == 200 and now["document"]["name"] == acknowledged and now["revision"] == revision
        assert (
            ask(site.address, "POST", "/api/library/pictures", picture.tobytes(), "application/octet-stream")[
                0
            ]
            == 201
        )
        assert ask(site.address, "GET", f"/api/shots/{shot}/poster")[0] == 200
        kept = [
            p
            for name in ("posters", "chips", "library", "frames", "views", "deliveries")
            for p in (site.data / name).rglob("*")
            if p.is_file()
        ]
        assert [p for p in kept if not p.stat().st_size] == []


def test_ordinary_work_does_not_make_the_server_grow() -> None:
    with running() as site:
        assert soak(site, EDITS) <= 1.3
