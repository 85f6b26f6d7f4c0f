"""Live view: how fast it plays, and how close it comes to the traced view in silhouettes and colour, per demo
shot."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import cv2
import numpy as np
from playwright.sync_api import Browser, Page, sync_playwright

from dreizack.core.scene.poster import POSTER_AT

from .browser import FLAGS, until
from .colour import delta_e, lab, linear
from .figure import Figure
from .site import Site, running

# For silhouettes: everything shines by itself, alike all over, so that the edge of the letters is the one
# edge there is.
EVEN = {
    "base_colour": {"r": 0, "g": 0, "b": 0},
    "metallic": 0,
    "roughness": 1,
    "ior": 1,
    "emission": 1,
    "emission_colour": {"r": 1, "g": 1, "b": 1},
}


# Pictures a second while a shot plays.
PLAYED = """async () => {
  const live = document.querySelector('[data-testid=live]');
  let drawn = 0;
  const watch = new MutationObserver(() => drawn++);
  watch.observe(live, { attributes: true, attributeFilter: ['data-drawn'] });
  await new Promise((done) => setTimeout(done, 5000));
  watch.disconnect();
  return drawn / 5;
}"""


def measure() -> Iterator[Figure]:
    with running() as site, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        yield from speed(browser, site)
        page = browser.new_page(viewport={"width": 1800, "height": 1000})
        production = next(p["id"] for p in site.ask("GET", "/api/productions") if p["name"] == "SLACK WATER")
        for shot in site.ask("GET", f"/api/productions/{production}")["shots"]:
            # Inside the letters as they are.
            live, traced = both_views(page, site, shot["id"])
            inside = np.logical_and(*(np.abs(p - p[4, 4]).max(axis=2) > 10 for p in (live, traced)))
            a, b = (lab(linear(p[..., ::-1] / 255)) for p in (live, traced))
            colour = float(delta_e(a, b)[inside].mean())
            even = evenly_lit(site, shot["id"])
            masks = silhouettes(*both_views(page, site, even))
            overlap = float((masks[0] & masks[1]).sum() / (masks[0] | masks[1]).sum())
            yield Figure(
                f"{shot['name']}: overlap of live and traced silhouettes", overlap, "IoU", 0.99, least=True
            )
            yield Figure(f"{shot['name']}: mean colour difference inside the letters", colour, "ΔE00")
        browser.close()


def speed(browser: Browser, site: Site) -> Iterator[Figure]:
    """A title of 24 letters in a picture of at least 640 by 360, playing."""
    production = site.ask("POST", "/api/productions", {"name": "Measured"})["id"]
    shot = site.ask(
        "POST",
        f"/api/productions/{production}/shots",
        {
            "name": "Played",
            "words": "SLACK WATER\nFIRST LIGHT\nFLOOD",
            "format": {"width": 1280, "height": 720, "rate": {"num": 25, "den": 1}, "frames": 100},
        },
    )["id"]
    page = browser.new_page(viewport={"width": 1280, "height": 900})
    page.goto(f"{site.address}/shots/{shot}")
    until(page, "document.querySelector('[data-testid=live]')?.dataset.drawn !== undefined")
    page.wait_for_timeout(3000)
    box = page.get_by_test_id("live").bounding_box()
    assert box is not None
    for detail, bar in (("quick", 10.0), ("automatic", None)):
        page.get_by_label("detail").select_option(detail)
        page.wait_for_timeout(1000)
        page.get_by_role("button", name="Play", exact=True).click()
        drawn = page.evaluate(PLAYED)
        page.get_by_role("button", name="Pause", exact=True).click()
        yield Figure(
            f"24 letters playing at {box['width']:.0f}×{box['height']:.0f}, detail {detail}",
            drawn,
            "pictures a second",
            bar,
            least=True,
        )
    page.close()


def silhouettes(live: np.ndarray, traced: np.ndarray) -> list[np.ndarray]:
    """Pixels half covered; both views average edges in light, the live view of thirty-two places: the limit
    lies between two steps."""
    return [linear(p / 255).mean(axis=2) > 15.5 / 32 for p in (live, traced)]


def evenly_lit(site: Site, shot: str) -> str:
    """A copy of a shot whose letters shine white all over before black."""
    copy: str = site.ask("POST", f"/api/shots/{shot}/copy")["id"]
    document = site.ask("GET", f"/api/shots/{copy}")["document"]
    patch = [
        {"op": "replace", "path": "/surroundings", "value": {"studio": "dark", "strength": -16}},
        {"op": "replace", "path": "/backdrop", "value": {"colour": {"r": 0, "g": 0, "b": 0}}},
        {"op": "replace", "path": "/camera/defocus", "value": False},
        {"op": "replace", "path": "/camera/shutter_angle", "value": 0},
        {"op": "replace", "path": "/camera/exposure", "value": 0},
        {"op": "replace", "path": "/camera/view", "value": "plain sRGB"},
        *(
            {"op": "remove", "path": f"/channels/{pointer.replace('/', '~1')}"}
            for pointer in document["channels"]
            if held(pointer)
        ),
    ]
    for name, thing in document["things"].items():
        floor = thing["kind"] == "floor"
        patch.append(
            {"op": "remove", "path": f"/things/{name}"}
            if floor
            else {"op": "replace", "path": f"/things/{name}", "value": even(thing)}
        )
    site.ask("POST", f"/api/shots/{copy}/edits", {"base": 0, "patch": patch})
    return copy


def held(pointer: str) -> bool:
    """Whether a channel would undo what is set for all frames."""
    return "/finish/" in pointer or pointer == "/camera/exposure" or pointer.startswith("/surroundings/")


def even(part: Any) -> Any:
    """The same with every finish and fill white, and every light out."""
    if isinstance(part, list):
        return [even(item) for item in part]
    if not isinstance(part, dict):
        return part
    made = {key: even(value) for key, value in part.items()}
    if "base_colour" in made:
        return EVEN
    if made.get("kind") == "light":
        made["on"] = False
    if made.get("kind") == "sheet":
        made["fill"] = {"kind": "colour"}
    return made


def both_views(page: Page, site: Site, shot: str) -> tuple[np.ndarray, np.ndarray]:
    """The frame a shot is known by, live and traced, as shown."""
    page.goto(f"{site.address}/shots/{shot}")
    until(page, "document.querySelector('[data-testid=live]')?.dataset.drawn !== undefined")
    frame = int(site.ask("GET", f"/api/shots/{shot}")["document"]["format"]["frames"] * POSTER_AT)
    page.get_by_label("Present moment").click()
    page.get_by_label("Go to frame or timecode").fill(str(frame))
    page.keyboard.press("Enter")
    page.get_by_label("detail").select_option("fine")
    page.wait_for_timeout(2000)
    # Whole, of this frame, and twice the same: surroundings and letters come in their own time.
    live, before = np.zeros(0), None
    while before is None or not np.array_equal(live, before):
        page.wait_for_timeout(1000)
        page.wait_for_selector(
            f"[data-testid=live][data-rested=true][data-level=fine][data-drawn$=':{frame}']", timeout=180_000
        )
        live, before = picture(page), live
    page.keyboard.press("t")
    page.wait_for_selector("[data-testid=traced][data-samples='16']", timeout=90_000)
    page.wait_for_timeout(300)
    traced = picture(page)
    # As one looked last, the next shot is opened.
    page.keyboard.press("t")
    return live, traced


def picture(page: Page) -> np.ndarray:
    data = page.get_by_test_id("live").screenshot()
    return cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR).astype(float)
