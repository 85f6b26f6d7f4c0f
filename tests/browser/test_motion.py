"""Letters one after the other: the fan in time, dragged and by keyboard, and what the picture makes of it."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from .test_main_job import open_demo, settled, shot_of

pytestmark = pytest.mark.browser


def delay(page: Page) -> float:
    found: float = shot_of(page)["document"]["things"]["name"]["sets"][0]["timing"]["delay"]
    return found


def test_the_fan_is_dragged_and_undone(page: Page) -> None:
    open_demo(page, "Lower third: mate")
    row = page.get_by_role("row", name="When each letter of set 1 begins").first
    words = shot_of(page)["document"]["things"]["name"]["words"]
    letters = len("".join(words.split()))
    expect(row.locator("svg.fan line")).to_have_count(letters)
    grip = row.get_by_role("slider")
    assert delay(page) == pytest.approx(1.4)
    box = grip.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 20, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + 140, box["y"] + box["height"] / 2, steps=6)
    page.mouse.up()
    settled(page)
    wider = delay(page)
    assert wider > 1.7
    grip.focus()
    page.keyboard.press("ArrowLeft")
    settled(page)
    # A frame less from the first letter to the last.
    assert delay(page) == pytest.approx(wider - 1 / (letters - 1), abs=2e-3)
    page.keyboard.press("Escape")
    for expected in (wider, 1.4):
        page.get_by_role("button", name="Undo").click()
        for _ in range(100):
            if delay(page) == pytest.approx(expected):
                break
            page.wait_for_timeout(50)
        assert delay(page) == pytest.approx(expected)


def test_an_order_is_chosen_on_the_bench_and_the_fan_follows(page: Page) -> None:
    open_demo(page, "Lower third: mate")
    row = page.get_by_role("row", name="When each letter of set 1 begins").first
    before = row.locator("svg.fan circle").evaluate_all("dots => dots.map(d => Number(d.getAttribute('cx')))")
    assert before == sorted(before)
    page.locator(".time-row .thing", has_text="Name").first.click()
    group = page.get_by_role("group", name="Set 1")
    group.get_by_label("order", exact=True).select_option("reverse")
    settled(page)
    expect(row).to_contain_text("reverse")
    after = row.locator("svg.fan circle").evaluate_all("dots => dots.map(d => Number(d.getAttribute('cx')))")
    assert after == sorted(after, reverse=True)
    # With all of them at once there is nothing to fan out, and nothing about it on the bench.
    group.get_by_label("order", exact=True).select_option("together")
    settled(page)
    expect(page.get_by_role("row", name="When each letter of set 1 begins")).to_have_count(1)
    expect(group.get_by_label("delay", exact=True)).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    page.get_by_role("button", name="Undo").click()
    settled(page)
