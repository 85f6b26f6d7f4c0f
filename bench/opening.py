"""Opening a shot in the browser, from its address to the first live and the first traced picture; and the
posters of a new production."""

from __future__ import annotations

import statistics
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor

from playwright.sync_api import Browser, sync_playwright

from dreizack.core.starts import STARTS

from .browser import FLAGS
from .figure import Figure
from .site import Site, running

# Pictures count once the page has been painted with them.
SEEN = """(view) => new Promise((done) => {
  const there = () => {
    const shown = document.querySelector(`[data-testid=${view}]`);
    return shown && (view === 'live' ? shown.dataset.drawn !== undefined : shown.complete);
  };
  const twice = (then) => requestAnimationFrame(() => requestAnimationFrame(then));
  const look = () => (there() ? twice(() => done(performance.now())) : setTimeout(look, 10));
  look();
})"""


def measure() -> Iterator[Figure]:
    with running() as site, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        production = next(p["id"] for p in site.ask("GET", "/api/productions") if p["name"] == "SLACK WATER")
        shot = next(
            s["id"]
            for s in site.ask("GET", f"/api/productions/{production}")["shots"]
            if s["name"] == "Main title"
        )
        opened(browser, site, shot, "traced")
        live = [opened(browser, site, shot, "live") for _ in range(3)]
        yield Figure("main title opened, first live picture", statistics.median(live), "s")
        for by_hand, what in (
            (False, "in the traced view"),
            (True, "in the live view, traced view chosen at once"),
        ):
            traced = []
            for _ in range(3):
                turn(site, shot)
                traced.append(opened(browser, site, shot, "traced", by_hand))
            yield Figure(f"main title opened {what}, first traced picture", statistics.median(traced), "s", 3)
        browser.close()
        yield Figure("six posters of a new production", six_posters(site), "s", 20)


def six_posters(site: Site) -> float:
    """Seconds until the posters of six new shots are there, asked for together as a page does."""
    production = site.ask("POST", "/api/productions", {"name": "Kettle Weir"})["id"]
    plain = {"format": {"width": 1920, "height": 1080, "frames": 100}, "words": "KETTLE WEIR"}
    shots = [
        site.ask("POST", f"/api/productions/{production}/shots", {**plain, "name": start, "start": start})[
            "id"
        ]
        for start in list(STARTS)[:6]
    ]
    asked = time.perf_counter()
    with ThreadPoolExecutor(6) as pool:
        list(pool.map(lambda shot: site.fetch("GET", f"/api/shots/{shot}/poster"), shots))
    return time.perf_counter() - asked


def turn(site: Site, shot: str) -> None:
    """Change what every picture shows, so that none is kept."""
    now = site.ask("GET", f"/api/shots/{shot}")
    rotation = now["document"]["surroundings"].get("rotation", 0) + 1
    site.ask(
        "POST",
        f"/api/shots/{shot}/edits",
        {
            "base": now["revision"],
            "patch": [{"op": "add", "path": "/surroundings/rotation", "value": rotation}],
        },
    )


def opened(browser: Browser, site: Site, shot: str, view: str, by_hand: bool = False) -> float:
    """Seconds from asking for the page to the first picture of a view, by hand or as it was left."""
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    page = context.new_page()
    page.add_init_script(f"localStorage.setItem('dreizack.view', '{'live' if by_hand else view}')")
    asked = time.perf_counter()
    page.goto(f"{site.address}/shots/{shot}", wait_until="commit")
    if by_hand:
        page.wait_for_selector("[data-testid=live]")
        page.keyboard.press("t")
    page.evaluate(SEEN, view)
    took = time.perf_counter() - asked
    context.close()
    return took
