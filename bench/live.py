"""Live view against traced view: silhouettes and colour, per demo shot."""

from __future__ import annotations

from collections.abc import Iterator

import cv2
import numpy as np
from playwright.sync_api import Page, sync_playwright

from .edit import FLAGS
from .figure import Figure
from .site import Site, running

# For silhouettes: everything shines evenly, so that the edge of the letters is the one edge there is.
EVEN = {
    "base_colour": {"r": 1, "g": 1, "b": 1}, "metallic": 0, "roughness": 1,
}


def measure() -> Iterator[Figure]:
    with running() as site, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page(viewport={"width": 1800, "height": 1000})
        production = site.ask("GET", "/api/productions")[0]["id"]
        for shot in site.ask("GET", f"/api/productions/{production}")["shots"]:
            # Inside the letters as they are: CIE 1976 difference of L*a*b*.
            live, traced = both_views(page, site, shot["id"])
            inside = np.logical_and(*(np.abs(p - p[4, 4]).max(axis=2) > 10 for p in (live, traced)))
            a, b = (cv2.cvtColor((p / 255).astype(np.float32), cv2.COLOR_BGR2LAB) for p in (live, traced))
            colour = float(np.linalg.norm(a - b, axis=2)[inside].mean())
            even = evenly_lit(site, shot["id"])
            masks = silhouettes(*both_views(page, site, even))
            overlap = float((masks[0] & masks[1]).sum() / (masks[0] | masks[1]).sum())
            yield Figure(f"{shot['name']}: overlap of live and traced silhouettes", overlap, "IoU", 0.99, least=True)
            yield Figure(f"{shot['name']}: mean colour difference inside the letters", colour, "ΔE*ab")
        browser.close()


def silhouettes(live: np.ndarray, traced: np.ndarray) -> list[np.ndarray]:
    """Pixels more than half covered: the browser averages edges in display codes, the renderer in light."""
    shown, light = live.mean(axis=2) / 255, (traced.mean(axis=2) / 255) ** 2.2
    return [p > np.median(p[p > 0.3 * p.max()]) / 2 for p in (shown, light)]


def evenly_lit(site: Site, shot: str) -> str:
    """A copy of a shot whose letters shine white all over before black."""
    copy: str = site.ask("POST", f"/api/shots/{shot}/copy")["id"]
    document = site.ask("GET", f"/api/shots/{copy}")["document"]
    patch = [
        {"op": "replace", "path": "/surroundings", "value": {"studio": "overcast", "strength": -1, "rotation": 0}},
        {"op": "replace", "path": "/backdrop/colour", "value": {"r": 0, "g": 0, "b": 0}},
        *({"op": "remove", "path": f"/channels/{pointer.replace('/', '~1')}"} for pointer in document["channels"] if "/finish/" in pointer),
    ]
    for name, thing in document["things"].items():
        if thing["kind"] == "title":
            patch.append({"op": "replace", "path": f"/things/{name}/finish", "value": EVEN})
        else:
            patch.append({"op": "replace", "path": f"/things/{name}/on", "value": False})
    site.ask("POST", f"/api/shots/{copy}/edits", {"base": 0, "patch": patch})
    return copy


def both_views(page: Page, site: Site, shot: str) -> tuple[np.ndarray, np.ndarray]:
    """The last frame live and traced, as shown."""
    page.goto(f"{site.address}/shots/{shot}")
    page.wait_for_function("document.querySelector('[data-testid=live]')?.dataset.drawn !== undefined")
    page.keyboard.press("End")
    page.wait_for_timeout(5000)
    live = picture(page)
    page.keyboard.press("t")
    page.wait_for_selector("[data-testid=traced][data-samples='16']", timeout=90_000)
    page.wait_for_timeout(300)
    return live, picture(page)


def picture(page: Page) -> np.ndarray:
    data = page.get_by_test_id("live").screenshot()
    return cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR).astype(float)
