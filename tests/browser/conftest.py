"""The real server, worker and browser."""

from __future__ import annotations

import os
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect, sync_playwright

from bench.browser import FLAGS
from dreizack.commands.seed import seed_demo
from dreizack.store import open_store
from dreizack.store.cluster import free_port
from tests.conftest import ROOT, copied


@pytest.fixture(scope="session")
def site(cluster: str, tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """Address of a running application with the demo in it."""
    assert (ROOT / "web/dist/index.html").exists(), "build the interface first: ./dreizack start does"
    with copied(cluster) as database:
        yield from serve(database, tmp_path_factory.mktemp("site"))


def serve(database: str, data: Path) -> Iterator[str]:
    store = open_store(database, size=1)
    seed_demo(store, data / "library")
    store.close()
    port = free_port()
    environment = os.environ | {
        "DREIZACK_DATABASE": database,
        "DREIZACK_DATA": str(data),
        "DREIZACK_PORT": str(port),
        "PYTHONPATH": str(ROOT / "src"),
    }
    running = [
        subprocess.Popen([sys.executable, "-m", name], env=environment)
        for name in ("dreizack.api", "dreizack.work.worker")
    ]
    address = f"http://127.0.0.1:{port}"
    for _ in range(300):
        try:
            urllib.request.urlopen(f"{address}/api/productions", timeout=2).close()
            break
        except OSError:
            time.sleep(0.1)
    yield address
    for process in running:
        process.terminate()
    for process in running:
        process.wait(timeout=30)


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        opened = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        yield opened
        opened.close()


@pytest.fixture
def page(browser: Browser, site: str) -> Iterator[Page]:
    """A fresh page; anything it complains about fails the test."""
    made = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=site, accept_downloads=True)
    complaints: list[str] = []
    made.on("pageerror", lambda why: complaints.append(str(why)))
    # What the content security policy keeps from the interface is a fault of one of them.
    made.on(
        "console",
        lambda said: complaints.append(said.text) if "Content Security Policy" in said.text else None,
    )
    # A busy machine with two cores may take its time; what is waited for comes all the same.
    made.set_default_timeout(90_000)
    expect.set_options(timeout=60_000)
    yield made
    made.close()
    assert complaints == []
