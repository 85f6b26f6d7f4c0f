"""Takes the pictures in docs/screenshots anew: PYTHONPATH=src:. .dreizack/venv/bin/python
docs/take_screenshots.py"""

from __future__ import annotations

import sys
from pathlib import Path

import cv2
import numpy as np
from playwright.sync_api import Page, sync_playwright

from bench.browser import FLAGS, until
from bench.site import Site, order, running, wait_for

FOLDER = Path(__file__).parent / "screenshots"


def main(wanted: list[str]) -> None:
    """Take all pictures, or those of some views by name."""
    with running() as site, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        production = site.ask("GET", "/api/productions")[0]["id"]
        shots = {
            shot["name"]: shot["id"] for shot in site.ask("GET", f"/api/productions/{production}")["shots"]
        }
        for name in wanted or list(VIEWS):
            page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=site.address)
            VIEWS[name](page, site, production, shots)
            page.close()
        browser.close()


Shots = dict[str, str]


def production_view(page: Page, site: Site, production: str, shots: Shots) -> None:
    page.goto(f"/productions/{production}")
    until(page, "document.querySelectorAll('.poster img').length >= 10", seconds=120)
    take(page, "production")


def sequence_view(page: Page, site: Site, production: str, shots: Shots) -> None:
    found = site.ask("GET", f"/api/productions/{production}")["sequences"][0]["id"]
    # Posters first: pieces and the shots to choose from are known by them.
    page.goto(f"/productions/{production}")
    until(page, "document.querySelectorAll('.cards:last-child .poster img').length >= 7", seconds=300)
    page.goto(f"/sequences/{found}")
    page.get_by_label("make the others meanwhile").uncheck()
    box = page.locator(".line-box").bounding_box()
    assert box
    page.mouse.click(box["x"] + 12 + 102 / 324 * (box["width"] - 24), box["y"] + 8)
    until(
        page,
        "Number(document.querySelector('.sequence-frame[data-drawn]')?.dataset.drawn ?? 0) > 99",
        seconds=120,
    )
    page.get_by_role("button", name="On the quay, 90 frames").focus()
    page.keyboard.press("Enter")
    page.mouse.move(5, 790)
    page.wait_for_timeout(2500)
    take(page, "sequence")


def opened(page: Page, shot: str, frame: int) -> None:
    """A shot in the live view, at a frame."""
    page.goto(f"/shots/{shot}")
    until(page, "document.querySelector('[data-testid=live]')?.dataset.drawn !== undefined")
    page.wait_for_timeout(2500)
    page.keyboard.press("Home")
    for _ in range(frame // 10):
        page.keyboard.press("Shift+ArrowRight")


def traced(page: Page) -> None:
    """Over to the traced view, until its picture is clean."""
    page.keyboard.press("t")
    page.wait_for_selector("[data-testid=traced][data-samples='16']", timeout=300_000)
    page.mouse.move(5, 790)
    page.wait_for_timeout(800)


def rested(page: Page) -> None:
    """Drawn finely, as it is at rest."""
    page.mouse.move(5, 790)
    page.wait_for_selector("[data-testid=live][data-rested=true]", timeout=300_000)
    page.wait_for_timeout(500)


def point(page: Page, row: str) -> None:
    page.get_by_role("row", name=row).get_by_role("button", name=row, exact=True).first.click()


def shot_view(page: Page, site: Site, production: str, shots: Shots) -> None:
    opened(page, shots["Main title"], 90)
    point(page, "Main title")
    page.get_by_role("button", name="Unfold Main title").click()
    page.get_by_role("button", name="Key of rotation yaw at frame 0").click()
    traced(page)
    take(page, "shot")
    box = page.locator(".picture-frame").bounding_box()
    assert box
    page.mouse.click(box["x"] + 0.36 * box["width"], box["y"] + 0.5 * box["height"])
    page.get_by_text("of the light here").first.wait_for(timeout=60_000)
    page.mouse.move(5, 790)
    page.wait_for_timeout(1500)
    take(page, "answer")


def light_view(page: Page, site: Site, production: str, shots: Shots) -> None:
    opened(page, shots["Main title"], 90)
    point(page, "Key")
    rested(page)
    take(page, "light")


def motion_view(page: Page, site: Site, production: str, shots: Shots) -> None:
    opened(page, shots["Part one: First light"], 20)
    point(page, "Part title")
    page.get_by_role("button", name="Unfold Part title").click()
    page.get_by_role("button", name="motion", exact=True).click()
    page.get_by_role("button", name="Past the camera").scroll_into_view_if_needed()
    rested(page)
    take(page, "motion")


def optics_view(page: Page, site: Site, production: str, shots: Shots) -> None:
    opened(page, shots["Main title"], 70)
    point(page, "Optics")
    traced(page)
    take(page, "optics")


def ornaments_view(page: Page, site: Site, production: str, shots: Shots) -> None:
    opened(page, shots["Part four: Flood"], 0)
    point(page, "Part title")
    page.keyboard.press("Control+k")
    page.keyboard.type("kindled")
    page.wait_for_timeout(800)
    page.keyboard.press("Enter")
    page.wait_for_timeout(2500)
    for _ in range(28):
        page.keyboard.press("ArrowRight")
    page.get_by_role("button", name="reveal", exact=True).click()
    page.get_by_role("button", name="reveal", exact=True).scroll_into_view_if_needed()
    rested(page)
    take(page, "ornaments")


def match_view(page: Page, site: Site, production: str, shots: Shots) -> None:
    opened(page, shots["On the quay"], 24)
    point(page, "Plate")
    page.locator(".plate-report").wait_for()
    page.wait_for_timeout(6000)
    rested(page)
    take(page, "match")


def finishes_view(page: Page, site: Site, production: str, shots: Shots) -> None:
    opened(page, shots["Main title"], 90)
    point(page, "Main title")
    finish = page.get_by_role("region", name="finish", exact=True)
    finish.get_by_role("radio", name="face").click()
    finish.get_by_role("button", name="Choose a finish").or_(
        finish.get_by_role("button", name="gold", exact=True)
    ).first.click()
    until(page, "document.querySelectorAll('.finishes img').length >= 48", seconds=400)
    page.wait_for_timeout(500)
    take(page, "finishes")


def forms_view(page: Page, site: Site, production: str, shots: Shots) -> None:
    opened(page, shots["Part two: Ebb"], 60)
    point(page, "Part title")
    page.locator(".bench .group-fold", has_text="sets").scroll_into_view_if_needed()
    traced(page)
    take(page, "forms")
    page.get_by_label("File to bring").first.set_input_files(
        {"name": "buoy.png", "mimeType": "image/png", "buffer": buoy_picture()}
    )
    page.wait_for_selector(".traced-outline", timeout=30_000)
    page.wait_for_timeout(1200)
    take(page, "trace")


def deliveries_view(page: Page, site: Site, production: str, shots: Shots) -> None:
    first = order(site, shots["Main title"], width=640, height=360, first=40, last=63, quality="draft")
    wait_for(site, first, 24)
    order(site, shots["Part one: First light"], width=640, height=360, first=0, last=99, quality="good")
    page.goto("/deliveries")
    page.get_by_text("of 100 frames").wait_for()
    page.wait_for_timeout(6000)
    take(page, "deliveries")


def starts_view(page: Page, site: Site, production: str, shots: Shots) -> None:
    page.goto(f"/productions/{production}")
    page.get_by_role("button", name="New shot").first.click()
    page.get_by_label("Words").fill("SLACK TIDE")
    shown = (
        "[...document.querySelectorAll('.start-picture img')].filter(i => i.style.visibility !== 'hidden')"
    )
    until(page, f"{shown}.length === 14", seconds=300)
    page.get_by_role("radio", name="gold over water").click()
    page.mouse.move(5, 790)
    page.wait_for_timeout(600)
    take(page, "starts")


def grading_view(page: Page, site: Site, production: str, shots: Shots) -> None:
    opened(page, shots["Main title"], 80)
    point(page, "Optics")
    page.get_by_role("button", name="Scopes").click()
    curve = page.locator(".curves > svg")
    curve.scroll_into_view_if_needed()
    box = curve.bounding_box()
    assert box
    for across, down in ((0.3, 0.74), (0.66, 0.27)):
        page.mouse.dblclick(box["x"] + across * box["width"], box["y"] + down * box["height"])
    rested(page)
    page.wait_for_timeout(2500)
    take(page, "grading")


VIEWS = {
    "production": production_view,
    "starts": starts_view,
    "grading": grading_view,
    "sequence": sequence_view,
    "shot": shot_view,
    "light": light_view,
    "motion": motion_view,
    "optics": optics_view,
    "ornaments": ornaments_view,
    "match": match_view,
    "forms": forms_view,
    "deliveries": deliveries_view,
    "finishes": finishes_view,
}


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
    main(sys.argv[1:])
