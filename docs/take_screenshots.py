"""Takes the pictures in docs/screenshots anew: PYTHONPATH=src:. .dreizack/venv/bin/python docs/take_screenshots.py"""

from __future__ import annotations

from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from bench.edit import FLAGS
from bench.site import order, running, wait_for

FOLDER = Path(__file__).parent / "screenshots"


def main() -> None:
    with running() as site, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=site.address)
        production = site.ask("GET", "/api/productions")[0]["id"]
        shots = {shot["name"]: shot["id"] for shot in site.ask("GET", f"/api/productions/{production}")["shots"]}
        main_title = shots["Main title"]
        page.goto(f"/productions/{production}")
        page.wait_for_function("document.querySelectorAll('.poster img').length === 3", timeout=120_000)
        take(page, "production")

        page.goto(f"/shots/{main_title}")
        page.wait_for_function("document.querySelector('[data-testid=live]')?.dataset.drawn !== undefined")
        page.wait_for_timeout(4000)
        page.keyboard.press("End")
        page.get_by_role("row", name="Main title").get_by_role("button", name="Main title", exact=True).click()
        page.get_by_role("button", name="Unfold Main title").click()
        page.get_by_role("button", name="Key of rotation yaw at frame 0").click()
        page.keyboard.press("t")
        page.wait_for_selector("[data-testid=traced][data-samples='16']", timeout=90_000)
        page.mouse.move(5, 790)
        page.wait_for_timeout(800)
        take(page, "shot")
        page.keyboard.press("t")
        page.keyboard.press("Escape")
        page.get_by_role("row", name="Key").get_by_role("button", name="Key", exact=True).click()
        page.mouse.move(5, 790)
        page.wait_for_timeout(800)
        take(page, "light")

        first = order(site, main_title, width=640, height=360, first=40, last=63, quality="draft")
        wait_for(site, first, 24)
        order(site, shots["Part one: First light"], width=640, height=360, first=0, last=99, quality="good")
        page.goto("/deliveries")
        page.get_by_text("of 100 frames").wait_for()
        page.wait_for_timeout(6000)
        take(page, "deliveries")
        browser.close()


def take(page: Page, name: str) -> None:
    page.screenshot(path=FOLDER / f"{name}.png")


if __name__ == "__main__":
    main()
