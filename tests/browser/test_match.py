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
    expect(grid.first).to_be_attached(timeout=60_000)
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
    expect(page.get_by_test_id("live")).to_have_attribute("data-drawn", f"{shot['revision'] + 1}:0")
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
    expect(page.get_by_text("above the horizon")).to_be_visible(timeout=60_000)
    assert np.isclose(shot_of(page)["document"]["things"]["sun"]["position"]["x"], -7.7548, atol=0.01)


def test_words_hang_on_a_wall_and_a_spot_becomes_a_point(page: Page) -> None:
    open_demo(page, "On the quay")
    page.keyboard.press("Home")
    page.get_by_role("row", name="Plate").get_by_role("button", name="Plate", exact=True).click()
    expect(page.locator(".verdict")).to_have_text("good", timeout=60_000)

    def pick(button: str, *places: tuple[float, float]) -> None:
        page.get_by_role("button", name=button).click()
        box = page.locator(".plate-picks").bounding_box()
        assert box is not None
        for x, y in places:
            page.mouse.click(box["x"] + x * box["width"], box["y"] + y * box["height"])

    pick("add a wall", (0.2, 0.62), (0.62, 0.7), (0.2, 0.3))
    until(page, lambda: "plate-wall-1" in shot_of(page)["document"]["things"])
    pick("stand it here", (0.4, 0.5))
    # It hangs, turned as the wall is.
    until(page, lambda: position(page)["y"] > 0.3)
    things = shot_of(page)["document"]["things"]
    turns = [things[name]["place"]["rotation"]["y"] for name in ("title", "plate-wall-1")]
    assert turns[0] == pytest.approx(turns[1], abs=0.05) and abs(turns[0]) > 5
    page.keyboard.press("Escape")
    # A spot that is clicked is followed through the plate.
    solve = shot_of(page)["document"]["plate"]["solve"]
    pick("add a point", (0.45, 0.75))
    expect(page.get_by_text(re.compile("It is seen in"))).to_be_visible(timeout=60_000)
    assert shot_of(page)["document"]["plate"]["solve"] != solve
    expect(page.get_by_text(re.compile("2091 points"))).to_be_visible(timeout=60_000)
    page.keyboard.press("Escape")
    # The picture and its plate, in turn.
    page.keyboard.press("y")
    expect(page.get_by_alt_text("The plate alone")).to_be_attached()
    expect(page.get_by_text("plate alone", exact=True)).to_be_visible()
    page.keyboard.press("y")
    expect(page.get_by_alt_text("The plate alone")).to_have_count(0)


def test_a_camera_is_told_by_a_grid_that_is_dragged(page: Page) -> None:
    open_demo(page, "On the quay")
    page.get_by_role("row", name="Plate").get_by_role("button", name="Plate", exact=True).click()
    expect(page.locator(".verdict")).to_have_text("good", timeout=60_000)
    solve = shot_of(page)["document"]["plate"]["solve"]
    page.get_by_role("button", name="or by eye").click()
    grid = page.get_by_role("application", name="A grid to be laid on the ground")
    corner = page.get_by_role("button", name="nearer left corner")
    expect(corner).to_be_focused()
    lines = grid.locator("svg polyline")
    expect(lines).to_have_count(10, timeout=60_000)
    before = lines.first.get_attribute("points")
    page.keyboard.press("Shift+ArrowLeft")
    page.keyboard.press("Shift+ArrowDown")
    expect(lines.first).not_to_have_attribute("points", before or "", timeout=60_000)
    page.keyboard.press("Enter")
    expect(grid).to_have_count(0, timeout=60_000)
    assert shot_of(page)["document"]["plate"]["solve"] != solve
    expect(page.get_by_text(re.compile("rectangle"))).not_to_have_count(0, timeout=60_000)


def test_a_cover_is_drawn_and_carried_by_what_is_inside(page: Page) -> None:
    open_demo(page, "On the quay")
    page.keyboard.press("Home")
    page.get_by_role("row", name="Plate").get_by_role("button", name="Plate", exact=True).click()
    covers = len(shot_of(page)["document"]["plate"]["covers"])
    page.get_by_role("button", name="Draw a cover").click()
    picks = page.locator(".plate-picks")
    box = picks.bounding_box()
    assert box is not None
    # A window of the house behind.
    for x, y in ((0.46, 0.46), (0.56, 0.46), (0.56, 0.58), (0.46, 0.58)):
        page.mouse.click(box["x"] + x * box["width"], box["y"] + y * box["height"])
    page.keyboard.press("Enter")
    expect(picks).to_have_count(0, timeout=60_000)
    page.get_by_role("button", name="Let what is inside carry it").last.click()
    expect(page.get_by_text(re.compile("What is inside carries the cover"))).to_be_visible(timeout=120_000)
    plate = shot_of(page)["document"]["plate"]
    assert len(plate["covers"]) == covers + 1
    assert plate["covers"][-1]["carried_by"] == plate["patches"][-1]["name"]
