"""Live view against traced view: silhouettes and colour, per demo shot."""

from __future__ import annotations

from collections.abc import Iterator

import cv2
import numpy as np
from playwright.sync_api import Page, sync_playwright

from .edit import FLAGS
from .figure import Figure
from .site import running


def measure() -> Iterator[Figure]:
    with running() as site, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page(viewport={"width": 1800, "height": 1000})
        production = site.ask("GET", "/api/productions")[0]["id"]
        for shot in site.ask("GET", f"/api/productions/{production}")["shots"]:
            page.goto(f"{site.address}/shots/{shot['id']}")
            page.wait_for_function("document.querySelector('[data-testid=live]')?.dataset.drawn !== undefined")
            page.keyboard.press("End")
            page.wait_for_timeout(5000)
            live = picture(page)
            page.keyboard.press("t")
            page.wait_for_selector("[data-testid=traced][data-samples='16']", timeout=90_000)
            page.wait_for_timeout(300)
            traced = picture(page)
            masks = [np.abs(p - p[4, 4]).max(axis=2) > 10 for p in (live, traced)]
            both, either = masks[0] & masks[1], masks[0] | masks[1]
            yield Figure(f"{shot['name']}: overlap of live and traced silhouettes", both.sum() / either.sum(), "IoU", 0.99, least=True)
            # CIE 1976 difference of L*a*b* inside the letters.
            a, b = (cv2.cvtColor((p / 255).astype(np.float32), cv2.COLOR_BGR2LAB) for p in (live, traced))
            yield Figure(f"{shot['name']}: mean colour difference inside the letters", float(np.linalg.norm(a - b, axis=2)[both].mean()), "ΔE*ab")
        browser.close()


def picture(page: Page) -> np.ndarray:
    data = page.get_by_test_id("live").screenshot()
    return cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR).astype(float)
