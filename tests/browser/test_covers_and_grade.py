"""Covers drawn in a plate, curves and scopes, guides, starts and the contact sheet, by hand."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from bench.browser import until

from .test_main_job import open_demo

pytestmark = pytest.mark.browser


def test_a_cover_is_drawn_in_the_picture_and_hides_there(page: Page) -> None:
    open_demo(page, "On the quay")
    page.get_by_role("row", name="Plate").get_by_role("button", name="Plate", exact=True).click()
    page.get_by_role("button", name="Draw a cover").click()
    box = page.locator(".plate-picks").bounding_box()
    assert box
    for across, down in ((0.3, 0.55), (0.5, 0.55), (0.5, 0.85), (0.3, 0.85)):
        page.mouse.click(box["x"] + across * box["width"], box["y"] + down * box["height"])
    page.keyboard.press("Enter")
    expect(page.get_by_role("group", name="Cover 1", exact=True)).to_be_visible()
    until(page, "document.querySelectorAll('.cover-point').length === 5")
    # All of it is dragged: it is drawn at this frame then.
    whole = page.locator(".cover-point.whole")
    start = whole.bounding_box()
    assert start
    page.mouse.move(start["x"] + 5, start["y"] + 5)
    page.mouse.down()
    page.mouse.move(start["x"] + 45, start["y"] + 5, steps=4)
    page.mouse.up()
    until(page, f"document.querySelector('.cover-point.whole').getBoundingClientRect().x > {start['x'] + 30}")
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    expect(page.get_by_role("group", name="Cover 1", exact=True)).to_have_count(0)


def test_curves_scopes_and_guides(page: Page) -> None:
    open_demo(page, "Part four")
    page.get_by_role("row", name="Optics").get_by_role("button", name="Optics", exact=True).click()
    page.get_by_role("button", name="Scopes").click()
    expect(page.get_by_alt_text("vectorscope of the picture")).to_be_attached(timeout=60_000)
    before = page.get_by_alt_text("histogram of the picture").get_attribute("src")
    curve = page.locator(".curves > svg")
    curve.scroll_into_view_if_needed()
    box = curve.bounding_box()
    assert box
    page.mouse.dblclick(box["x"] + 0.4 * box["width"], box["y"] + 0.3 * box["height"])
    expect(page.locator(".curves circle")).to_have_count(3)
    # The picture changes, and its graphs with it.
    expect(page.get_by_alt_text("histogram of the picture")).not_to_have_attribute(
        "src", before or "", timeout=60_000
    )
    page.get_by_role("button", name="Point 2: ").focus()
    page.keyboard.press("Delete")
    expect(page.locator(".curves circle")).to_have_count(2)
    page.get_by_role("button", name="guides").click()
    page.get_by_label("title safe").check()
    page.keyboard.press("Escape")
    expect(page.locator(".guide-name")).to_have_text("title safe")


def test_a_shot_begins_with_a_whole_look(page: Page) -> None:
    # In a production of its own: others count the shots of the demo.
    page.goto("/")
    page.get_by_role("button", name="New production").first.click()
    page.get_by_role("button", name="New shot").first.click()
    page.get_by_label("Words").fill("EBB TIDE")
    page.get_by_role("radio", name="drawn in wire").click()
    page.get_by_role("button", name="Create shot").click()
    until(page, "document.querySelector('[data-testid=live]')?.dataset.drawn !== undefined")
    expect(page.get_by_label("Words").first).to_have_value("EBB TIDE")


def test_a_contact_sheet_leads_to_a_version(page: Page) -> None:
    page.goto("/")
    page.get_by_role("link", name="SLACK WATER").last.click()
    page.get_by_role("link", name="Opening").last.click()
    page.get_by_role("button", name="Contact sheet").click()
    page.get_by_role("button", name="deutsch 9:16, On the quay").click()
    expect(page.get_by_role("button", name="Look at deutsch 9:16")).to_have_attribute("aria-pressed", "true")
    shape = page.locator(".sequence-frame").evaluate("e => e.clientWidth / e.clientHeight")
    assert shape == pytest.approx(9 / 16, abs=0.02)
