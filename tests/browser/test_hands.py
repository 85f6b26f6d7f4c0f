"""What hands do without thinking: keys on choices and numbers, a typed frame, a value that is found."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from .test_main_job import open_demo, settled, shot_of

pytestmark = pytest.mark.browser


def test_keys_do_what_hands_expect(page: Page) -> None:
    open_demo(page, "Part one")
    page.keyboard.press("Home")
    # A value is found by typing what it is called, and has the focus.
    page.keyboard.press("Control+k")
    page.get_by_label("Search commands").fill("part title depth")
    page.get_by_role("option").first.click()
    depth = page.get_by_role("spinbutton", name="depth", exact=True).first
    expect(depth).to_be_focused()
    # So is what is done beside values.
    for typed, name in (
        ("bring a camera", "Bring a camera …"),
        ("cdl in", "CDL in"),
        ("add a shell", "Add a shell"),
    ):
        page.keyboard.press("Control+k")
        page.get_by_label("Search commands").fill(typed)
        page.get_by_role("option").first.click()
        expect(page.get_by_role("button", name=name, exact=True)).to_be_focused()
    page.keyboard.press("Control+k")
    page.get_by_label("Search commands").fill("part title depth")
    page.get_by_role("option").first.click()
    expect(depth).to_be_focused()
    # A digit begins to type; Escape leaves it as it was, Enter takes it.
    before = depth.get_attribute("aria-valuenow")
    page.keyboard.type("9")
    page.keyboard.press("Escape")
    assert depth.get_attribute("aria-valuenow") == before
    page.keyboard.type("0.21")
    page.keyboard.press("Enter")
    expect(depth).to_have_attribute("aria-valuenow", "0.21")
    # Undo says what it takes back.
    page.keyboard.press("Control+z")
    expect(page.get_by_text("Taken back: depth of Part title").first).to_be_visible()
    page.keyboard.press("Control+Shift+z")
    expect(page.get_by_text("Done again: depth of Part title").first).to_be_visible()
    expect(depth).to_have_attribute("aria-valuenow", "0.21")
    # Arrow keys on one of a few choices choose its neighbour; time stays where it is.
    align = page.get_by_role("radiogroup", name="alignment").get_by_role("radio")
    chosen = align.evaluate_all("all => all.findIndex(one => one.ariaChecked === 'true')")
    align.nth(chosen).focus()
    page.keyboard.press("ArrowRight")
    expect(align.nth((chosen + 1) % align.count())).to_have_attribute("aria-checked", "true")
    clock = page.get_by_label("Present moment")
    expect(clock).to_contain_text("frame 0 of 100")
    # A timecode at the clock, and so many frames on.
    for typed, shown in (("1:10", "frame 35 of"), ("+5", "frame 40 of"), ("3 s", "frame 75 of")):
        clock.click()
        page.get_by_label("Go to frame or timecode").fill(typed)
        page.keyboard.press("Enter")
        expect(clock).to_contain_text(shown)
    clock.click()
    page.get_by_label("Go to frame or timecode").fill("soon")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Go to frame or timecode")).to_have_attribute("aria-invalid", "true")
    page.keyboard.press("Escape")
    # A title that nobody named is known by its words.
    page.keyboard.press("Shift+w")
    expect(page.get_by_role("row", name="WORDS")).to_be_visible()
    # What is not in a field is not marked as a whole.
    page.get_by_role("button", name="Play", exact=True).focus()
    page.keyboard.press("Control+a")
    assert page.evaluate("() => String(getSelection())") == ""
    assert shot_of(page)["document"]["things"]["title"]["body"]["depth"] == 0.21


def test_a_key_for_all_of_a_camera_is_one_press(page: Page) -> None:
    open_demo(page, "Part two")
    page.get_by_role("row", name="Camera").get_by_role("button", name="Camera", exact=True).click()
    before = {at for at in shot_of(page)["document"]["channels"] if at.startswith("/camera/")}
    page.get_by_role("button", name="Key all of it").click()
    settled(page)
    keyed = {at for at in shot_of(page)["document"]["channels"] if at.startswith("/camera/")}
    assert keyed - before and {"/camera/focal_length", "/camera/exposure"} <= keyed
    page.get_by_role("button", name="Remove its keys here").click()
    settled(page)
    assert {at for at in shot_of(page)["document"]["channels"] if at.startswith("/camera/")} <= before
    # Three values of a place together, too.
    page.get_by_role("button", name="Key for all of position").first.click()
    settled(page)
    there = shot_of(page)["document"]["channels"]
    assert {f"/camera/position/{axis}" for axis in "xyz"} <= there.keys()


def test_a_shot_is_found_by_its_words_and_the_library_is_looked_through(page: Page) -> None:
    page.goto("/")
    page.get_by_label("Find shots by name or words").fill("marrow")
    found = page.get_by_role("list", name="found").get_by_role("link")
    expect(found.filter(has_text="On the wall")).to_have_count(1)
    page.get_by_label("Find shots by name or words").fill("nothing of the kind")
    expect(page.get_by_text("Nothing is called")).to_be_visible()
    page.keyboard.press("Escape")
    # All that the demo brought is used.
    page.get_by_role("button", name="Look for files that nothing uses").click()
    expect(page.get_by_text("Every file of the library is used")).to_be_visible()
    page.get_by_label("Find shots by name or words").fill("MARROW LIGHT")
    found.filter(has_text="On the wall").click()
    page.wait_for_url("**/shots/*")
