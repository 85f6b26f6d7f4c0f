"""Takes the pictures in docs/screenshots anew: PYTHONPATH=src:. .dreizack/venv/bin/python
docs/take_screenshots.py"""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np
from playwright.sync_api import Page, sync_playwright

from bench.browser import FLAGS, until
from bench.site import order, running, wait_for

FOLDER = Path(__file__).parent / "screenshots"


def main() -> None:
    with running() as site, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=site.address)
        production = site.ask("GET", "/api/productions")[0]["id"]
        shots = {
            shot["name"]: shot["id"] for shot in site.ask("GET", f"/api/productions/{production}")["shots"]
        }
        main_title = shots["Main title"]
        page.goto(f"/productions/{production}")
        until(page, "document.querySelectorAll('.poster img').length === 6", seconds=120)
        take(page, "production")

        page.goto(f"/shots/{main_title}")
        until(page, "document.querySelector('[data-testid=live]')?.dataset.drawn !== undefined")
        page.wait_for_timeout(4000)
        page.keyboard.press("End")
        page.get_by_role("row", name="Main title").get_by_role(
            "button", name="Main title", exact=True
        ).click()
        page.get_by_role("button", name="Unfold Main title").click()
        page.get_by_role("button", name="Key of rotation yaw at frame 0").click()
        page.keyboard.press("t")
        page.wait_for_selector("[data-testid=traced][data-samples='16']", timeout=90_000)
        page.mouse.move(5, 790)
        page.wait_for_timeout(800)
        take(page, "shot")
        box = page.locator(".picture-frame").bounding_box()
        assert box
        page.mouse.click(box["x"] + 0.34 * box["width"], box["y"] + 0.72 * box["height"])
        page.get_by_text("of the light here").first.wait_for(timeout=60_000)
        page.mouse.move(5, 790)
        page.wait_for_timeout(1500)
        take(page, "answer")
        page.get_by_role("button", name="Close the answer").click()
        page.keyboard.press("t")
        page.keyboard.press("Escape")
        page.get_by_role("row", name="Key").get_by_role("button", name="Key", exact=True).click()
        page.mouse.move(5, 790)
        # Drawn finely, as it is at rest.
        page.wait_for_selector("[data-testid=live][data-times='8']", timeout=90_000)
        take(page, "light")

        page.get_by_role("row", name="Main title").get_by_role(
            "button", name="Main title", exact=True
        ).click()
        finish = page.get_by_role("region", name="finish", exact=True)
        finish.get_by_role("radio", name="face").click()
        finish.get_by_role("button", name="Choose a finish").or_(
            finish.get_by_role("button", name="gold", exact=True)
        ).first.click()
        until(page, "document.querySelectorAll('.finishes img').length >= 48", seconds=300)
        page.wait_for_timeout(500)
        take(page, "finishes")
        page.keyboard.press("Escape")

        page.goto(f"/shots/{shots['Part two: Ebb']}")
        until(page, "document.querySelector('[data-testid=live]')?.dataset.drawn !== undefined")
        page.keyboard.press("End")
        page.get_by_role("row", name="Part title").get_by_role(
            "button", name="Part title", exact=True
        ).click()
        page.locator(".bench .group-fold", has_text="sets").scroll_into_view_if_needed()
        page.keyboard.press("t")
        page.wait_for_selector("[data-testid=traced][data-samples='16']", timeout=90_000)
        page.mouse.move(5, 790)
        page.wait_for_timeout(800)
        take(page, "forms")

        page.get_by_label("File to bring").first.set_input_files(
            {"name": "buoy.png", "mimeType": "image/png", "buffer": buoy_picture()}
        )
        page.wait_for_selector(".traced-outline", timeout=30_000)
        page.wait_for_timeout(1200)
        take(page, "trace")

        first = order(site, main_title, width=640, height=360, first=40, last=63, quality="draft")
        wait_for(site, first, 24)
        order(site, shots["Part one: First light"], width=640, height=360, first=0, last=99, quality="good")
        page.goto("/deliveries")
        page.get_by_text("of 100 frames").wait_for()
        page.wait_for_timeout(6000)
        take(page, "deliveries")
        browser.close()


def buoy_picture() -> bytes:
    """A stamp of a bell buoy, drawn by code."""
    image = np.full((600, 900, 3), 236, np.uint8)
    cv2.ellipse(image, (450, 470), (230, 60), 0, 0, 360, (52, 44, 40), -1, cv2.LINE_AA)
    for x in (330, 570):
        cv2.line(image, (x, 450), (450, 130), (52, 44, 40), 18, cv2.LINE_AA)
    cv2.circle(image, (450, 110), 46, (52, 44, 40), -1, cv2.LINE_AA)
    cv2.ellipse(image, (450, 360), (62, 96), 0, 180, 360, (52, 44, 40), -1, cv2.LINE_AA)
    cv2.rectangle(image, (388, 358), (512, 378), (52, 44, 40), -1)
    cv2.circle(image, (450, 110), 18, (236, 236, 236), -1, cv2.LINE_AA)
    return cv2.imencode(".png", image)[1].tobytes()


def take(page: Page, name: str) -> None:
    page.screenshot(path=FOLDER / f"{name}.png")


if __name__ == "__main__":
    main()
