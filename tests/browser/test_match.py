"""Words in footage: the demo's quay in the live view, its report, and picks that move the words."""

from __future__ import annotations

import re
from collections.abc import Callable

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from .test_main_job import live_picture, open_demo, shot_of

pytestmark = pytest.mark.browser


def position(page: Page) -> dict[str, float]:
    found: dict[str, float] = shot_of(page)["document"]["things"]["title"]["place"]["position"]
    return found


def until(page: Page, holds: Callable[[], bool]) -> None:
    for _ in range(200):
        if holds():
            return
        page.wait_for_timeout(50)
    raise AssertionError("it did not come to that within ten seconds")


def rests(page: Page) -> None:
    """The live view at one level, whatever the machine can do, with the plate and the letters in it."""
    page.get_by_label("detail").select_option("plain edges")
    live = page.get_by_test_id("live")
    expect(live).to_have_attribute("data-drawn", re.compile(":0$"), timeout=60_000)
    expect(live).to_have_attribute("data-level", "plain", timeout=60_000)
    page.wait_for_timeout(3000)


def test_words_stand_in_the_demo_plate_and_are_put_elsewhere(page: Page) -> None:
    open_demo(page, "On the quay")
    page.keyboard.press("Home")
    page.get_by_role("row", name="Plate").get_by_role("button", name="Plate", exact=True).click()
    expect(page.locator(".verdict")).to_have_text("good", timeout=60_000)
    expect(page.get_by_role("img", name=re.compile("Residual over time"))).to_be_visible()
    rests(page)
    grid = page.locator("svg.plate-grid path")
    expect(grid.first).to_be_attached(timeout=30_000)
    page.get_by_label("points and grid are drawn").uncheck()
    expect(grid).to_have_count(0)
    # The plate is seen: the sky is bright and blue, the stones below are dark.
    picture = live_picture(page).astype(float)
    rows = len(picture)
    blue, _, red = sky = picture[: rows // 8].mean(axis=(0, 1))
    assert blue > red + 20 and sky.mean() > picture[-rows // 8 :].mean() + 40
    # The words throw their shadow on the stones: without casting it, the plate is brighter there.
    shot = shot_of(page)
    patch = [{"op": "replace", "path": "/things/title/visibility/casts", "value": False}]
    found = re.search(r"/shots/[0-9a-f-]+", page.url)
    assert found is not None
    assert page.request.post(f"/api{found[0]}/edits", data={"base": shot["revision"], "patch": patch}).ok
    page.wait_for_timeout(3000)
    brighter = live_picture(page).astype(float) - picture
    ground = slice(rows // 2, rows)
    assert (brighter[ground].mean(axis=2) > 12).sum() > 60
    assert (brighter[ground].mean(axis=2) < -12).sum() < 60

    before = position(page)
    page.get_by_role("button", name="stand it here").click()
    picks = page.get_by_role(
        "application", name="Click the ground, a box or a wall where it is to stand or hang"
    )
    box = picks.bounding_box()
    assert box is not None
    page.mouse.click(box["x"] + 0.6 * box["width"], box["y"] + 0.9 * box["height"])
    until(page, lambda: position(page) != before)
    after = position(page)
    assert after["z"] > before["z"] + 1 and abs(after["y"]) < 1e-6
    page.keyboard.press("Escape")
    expect(picks).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    until(page, lambda: position(page) == before)


def test_picks_are_said_taken_back_and_refused_in_words(page: Page) -> None:
    open_demo(page, "On the quay")
    page.get_by_role("row", name="Plate").get_by_role("button", name="Plate", exact=True).click()
    page.get_by_role("button", name="sun from a shadow").click()
    picks = page.locator(".plate-picks")
    expect(picks).to_have_attribute("aria-label", "Pick the foot of something upright")
    box = picks.bounding_box()
    assert box is not None

    def pick(x: float, y: float) -> None:
        page.mouse.click(box["x"] + x * box["width"], box["y"] + y * box["height"])

    pick(0.3, 0.8)
    expect(picks).to_have_attribute("aria-label", "Pick its tip")
    page.keyboard.press("Backspace")
    expect(picks).to_have_attribute("aria-label", "Pick the foot of something upright")
    # A foot in the sky is none.
    for x, y in ((0.3, 0.05), (0.3, 0.02), (0.4, 0.06)):
        pick(x, y)
    page.keyboard.press("Enter")
    expect(page.get_by_text("above the horizon")).to_be_visible(timeout=20_000)
    assert np.isclose(shot_of(page)["document"]["things"]["sun"]["position"]["x"], -7.7548, atol=0.01)
