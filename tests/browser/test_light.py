"""Light in the real interface: the picture answers, lights follow the pointer, parts and floors, views and
looks."""

from __future__ import annotations

import re

import numpy as np
import pytest
from playwright.sync_api import Locator, Page, expect

from bench.browser import until

from .test_main_job import drawn_after, live_picture, open_demo, rested_picture, settled, shot_of

pytestmark = [pytest.mark.browser]


@pytest.fixture
def shot(page: Page) -> Page:
    """A fresh shot with the words EBB."""
    production = page.request.post("/api/productions", data={"name": "Light"}).json()["id"]
    wish = {"name": "Trial", "format": {"width": 1280, "height": 720}, "words": "EBB"}
    made = page.request.post(f"/api/productions/{production}/shots", data=wish).json()["id"]
    page.goto(f"/shots/{made}")
    until(page, "document.querySelector('[data-testid=live]')?.dataset.drawn !== undefined")
    return page


def at(page: Page, x: float, y: float) -> None:
    """Click a place of the picture, from 0 to 1."""
    box = page.locator(".picture-frame").bounding_box()
    assert box
    page.mouse.click(box["x"] + x * box["width"], box["y"] + y * box["height"])


def thing(page: Page, name: str) -> dict:
    return next(one for one in shot_of(page)["document"]["things"].values() if one["name"] == name)


def add(page: Page, name: str) -> None:
    with page.expect_response(re.compile("/things$")):
        page.locator(".chooser-now").click()
        page.get_by_role("menuitem", name="Add a title").click()
        page.get_by_role("menuitem", name=name, exact=True).click()
    # The core adds it; it is pointed at when it is there.
    expect(page.locator(".chooser-now")).to_contain_text(name.split(":")[0])
    settled(page)


def type_number(page: Page, field: Locator, text: str) -> None:
    """Typing begins with Enter on the field, as by hand."""
    field.focus()
    page.keyboard.press("Enter")
    page.keyboard.press("Control+a")
    page.keyboard.type(text)
    page.keyboard.press("Enter")


def test_the_picture_answers_and_a_light_follows(shot: Page) -> None:
    page = shot
    add(page, "Floor")
    page.keyboard.press("End")
    at(page, 0.5, 0.93)
    card = page.get_by_role("region", name="What is here")
    expect(card.get_by_text(re.compile("face of Floor"))).to_be_visible(timeout=60_000)
    expect(card.get_by_text(re.compile("of the light here"))).to_be_visible()
    before = thing(page, "Key")["position"]
    with page.expect_response(re.compile("/highlight")), page.expect_response(re.compile("/edits")):
        card.get_by_label("Put the highlight here").select_option(label="Key")
    settled(page)
    moved = thing(page, "Key")
    assert moved["position"] != before
    # It aims at the spot, which is on the floor.
    assert abs(moved["aim"]["y"] - thing(page, "Floor")["place"]["position"]["y"]) < 0.01
    card.get_by_role("button", name="Fill", exact=False).first.click()
    expect(page.locator(".chooser-now")).to_contain_text("Fill")
    card.get_by_role("button", name="Focus here").click()
    settled(page)
    camera = shot_of(page)["document"]["camera"]
    assert camera["defocus"] is True and camera["focus"] == "distance" and camera["focus_distance"] > 1
    card.get_by_role("button", name="Close the answer").click()
    expect(card).to_have_count(0)


def test_parts_wear_their_own_finish_and_lights_change_kind(shot: Page) -> None:
    page = shot
    page.locator(".chooser-now").click()
    page.get_by_role("menuitem", name="EBB", exact=True).click()
    finish = page.get_by_role("region", name="finish", exact=True)
    finish.get_by_role("radio", name="wall").click()
    revision = shot_of(page)["revision"]
    finish.get_by_role("button", name="Give the wall its own finish").click()
    settled(page)
    type_number(page, finish.get_by_role("spinbutton", name="metallic"), "0")
    settled(page)
    drawn_after(page, revision)
    worn = thing(page, "Title")["finish"]
    assert worn["parts"]["wall"]["metallic"] == 0 and worn["metallic"] == 1
    finish.get_by_role("button", name="Wear what the whole wears").click()
    settled(page)
    assert thing(page, "Title")["finish"]["parts"] == {}

    page.locator(".chooser-now").click()
    page.get_by_role("menuitem", name="Key", exact=True).click()
    page.get_by_label("kind of light", exact=True).select_option("spot")
    expect(page.get_by_label("cone", exact=True)).to_be_visible()
    page.get_by_role("radio", name="kelvin").click()
    settled(page)
    key = thing(page, "Key")
    assert key["source"] == "spot" and key["colour_by"] == "kelvin"
    page.get_by_role("button", name="Duplicate mirrored").click()
    expect(page.locator(".chooser-now")).to_contain_text("Key mirrored")
    settled(page)
    other = thing(page, "Key mirrored")
    assert abs(other["position"]["x"] + key["position"]["x"] - 2 * key["aim"]["x"]) < 0.01


def test_the_traced_picture_shows_what_eyes_cannot_tell_and_is_kept(shot: Page) -> None:
    page = shot
    page.keyboard.press("End")
    page.keyboard.press("t")
    page.wait_for_selector("[data-testid=traced][data-samples='16']", timeout=180_000)
    expect(page.locator(".traced-run")).to_have_count(1, timeout=60_000)
    page.get_by_label("Shown").select_option("parts")
    until(
        page,
        "() => { const i = document.querySelector('[data-testid=traced]'); return i && i.complete && "
        "i.naturalWidth > 100 }",
    )
    page.get_by_label("Shown").select_option("false colour")
    expect(page.get_by_label("Stops from middle grey")).to_be_visible()
    page.get_by_label("Shown").select_option("picture")
    page.get_by_role("button", name="wipe").click()
    wipe = page.get_by_role("slider", name="Wipe")
    expect(wipe).to_have_attribute("aria-valuenow", "50")
    wipe.focus()
    page.keyboard.press("ArrowLeft")
    expect(wipe).to_have_attribute("aria-valuenow", "48")


def test_a_look_is_saved_worn_and_followed(shot: Page) -> None:
    page = shot
    page.locator(".chooser-now").click()
    page.get_by_role("menuitem", name="EBB", exact=True).click()
    look = page.locator(".row:has(.number-label:text-is('look')) button")
    look.click()
    page.get_by_label("Name of the look").fill("Chalk house")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("button", name="Chalk house").last).to_be_visible()
    page.keyboard.press("Escape")
    settled(page)
    assert thing(page, "Title")["look"] == "Chalk house"
    type_number(page, page.get_by_role("spinbutton", name="depth", exact=True).first, "0.3")
    settled(page)
    expect(look).to_contain_text("changed")
    look.click()
    page.get_by_role("button", name="Change “Chalk house” wherever it is used").click()
    page.keyboard.press("Escape")
    expect(look).not_to_contain_text("changed")


def test_a_region_is_traced_alone_and_takes_are_compared_and_gone_back_to(shot: Page) -> None:
    page = shot
    page.keyboard.press("End")
    page.keyboard.press("t")
    page.wait_for_selector("[data-testid=traced][data-samples='16']", timeout=180_000)
    page.get_by_role("button", name="takes").click()
    page.get_by_label("Name of the take").fill("First light")
    page.get_by_role("button", name="Save take").click()
    expect(page.get_by_role("button", name="Forget First light")).to_be_visible()
    page.keyboard.press("Escape")

    before = shot_of(page)["document"]
    page.locator(".chooser-now").click()
    page.get_by_role("menuitem", name="Key", exact=True).click()
    type_number(page, page.get_by_role("spinbutton", name="intensity", exact=True), "3")
    settled(page)
    page.wait_for_selector("[data-testid=traced][data-samples='16']", timeout=180_000)
    page.get_by_role("button", name="before").click()
    expect(page.locator(".wipe-name.left")).to_have_text("before")

    page.get_by_role("button", name="region").click()
    picker = page.get_by_role("application", name="Draw the part to be traced")
    box = picker.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + box["width"] * 0.3, box["y"] + box["height"] * 0.3)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] * 0.6, box["y"] + box["height"] * 0.7, steps=4)
    page.mouse.up()
    part = page.locator("[data-testid=traced].part[data-samples='16']")
    part.wait_for(timeout=180_000)
    held = part.bounding_box()
    assert (
        held is not None
        and abs(held["width"] - box["width"] * 0.3) < 3
        and abs(held["height"] - box["height"] * 0.4) < 3
    )
    page.get_by_role("button", name="region").click()

    page.get_by_role("button", name="takes").click()
    page.get_by_role("button", name="Compare", exact=True).click()
    expect(page.locator(".wipe-name.left")).to_have_text("First light", timeout=180_000)
    page.get_by_role("button", name="takes").click()
    with page.expect_response(re.compile("/recall")):
        page.get_by_role("button", name="Go back").click()
    until(page, "() => document.querySelector('[aria-label=Saved]')?.textContent === 'saved'")
    assert shot_of(page)["document"] == before


def test_the_tip_of_a_shadow_is_dragged_on_the_plot(shot: Page) -> None:
    page = shot
    add(page, "Floor")
    page.keyboard.press("End")
    # Walking past by Tab points at nothing yet.
    page.get_by_role("button", name="Key: position").focus()
    expect(page.get_by_role("button", name="Pointed at: Floor")).to_be_visible()
    page.keyboard.press("Enter")
    tip = page.get_by_role("button", name=re.compile("Shadow’s tip: .* by key"))
    expect(tip).to_be_visible()
    before = thing(page, "Key")["position"]
    with page.expect_response(re.compile("/shadow")), page.expect_response(re.compile("/edits")):
        tip.focus()
        page.keyboard.press("Shift+ArrowLeft")
    settled(page)
    assert thing(page, "Key")["position"] != before


def sixty_frames_on(page: Page) -> None:
    """From the first frame to one in which the letters of every part title stand still."""
    page.keyboard.press("Home")
    for _ in range(6):
        page.keyboard.press("Shift+ArrowRight")


def test_the_live_view_throws_shadows_that_a_switch_takes_away(page: Page) -> None:
    open_demo(page, "Part two")
    frame = "/shots/" + shot_of(page)["id"]

    def pictures() -> np.ndarray:
        page.goto(frame)
        until(page, "document.querySelector('[data-testid=live]')?.dataset.drawn !== undefined")
        # What a slow machine would choose by itself is not asked here.
        page.get_by_label("detail").select_option("plain edges")
        sixty_frames_on(page)
        until(page, "document.querySelector('[data-testid=live]').dataset.drawn.endsWith(':60')")
        return rested_picture(page).mean(axis=2)

    casting = pictures()
    shot = shot_of(page)
    bodies = [name for name, one in shot["document"]["things"].items() if one["kind"] == "title"]
    patch = [{"op": "replace", "path": f"/things/{name}/visibility/casts", "value": False} for name in bodies]
    assert page.request.post(f"/api{frame}/edits", data={"base": shot["revision"], "patch": patch}).ok
    without = pictures()
    darker = (without - casting) > 20
    assert 0.02 < darker.mean() < 0.6
    # Nothing else changes.
    assert ((casting - without) > 20).mean() < 0.002


def test_graphics_that_are_taken_away_are_waited_for_and_drawn_with_again(shot: Page) -> None:
    shot.get_by_label("detail").select_option("plain edges")
    before = rested_picture(shot)
    take = """canvas => {
        window.taken = canvas.getContext("webgl2").getExtension("WEBGL_lose_context");
        window.taken.loseContext();
    }"""
    shot.get_by_test_id("live").evaluate(take)
    expect(shot.get_by_text("The system has taken the graphics away")).to_be_visible()
    shot.evaluate("() => window.taken.restoreContext()")
    expect(shot.get_by_text("The system has taken the graphics away")).to_have_count(0)
    again = rested_picture(shot)
    assert np.abs(again - before).mean() < 0.5 and before.std() > 5
    # It is not a picture that is left over: it goes on following what is changed.
    live = shot.get_by_test_id("live")
    drawn = live.get_attribute("data-drawn")
    assert drawn is not None
    shot.keyboard.press("Home" if not drawn.endswith(":0") else "End")
    expect(live).not_to_have_attribute("data-drawn", drawn)


def test_a_live_picture_that_rests_is_drawn_again_and_its_edges_become_smoother(page: Page) -> None:
    open_demo(page, "Lower third")
    live = page.locator("[data-testid=live]")
    sixty_frames_on(page)
    # What a slow machine would choose by itself is not asked here.
    page.get_by_label("detail").select_option("fine")
    expect(live).to_have_attribute("data-rested", "true", timeout=180_000)
    refined = rested_picture(page).mean(axis=2)
    page.get_by_label("detail").select_option("plain edges")
    expect(live).to_have_attribute("data-level", "plain")
    expect(live).to_have_attribute("data-times", "1")
    plain = rested_picture(page).mean(axis=2)

    def steepness(picture: np.ndarray) -> float:
        """How sharp the sharpest steps from one pixel to the next are."""
        return float(np.percentile(np.abs(np.diff(picture, axis=1)), 99.5))

    # The same picture, but for its edges.
    assert np.abs(refined - plain).mean() < 3
    assert steepness(refined) < 0.9 * steepness(plain)


def test_what_is_out_of_focus_is_blurred_in_the_live_view_as_it_is_traced(shot: Page) -> None:
    live = shot.get_by_test_id("live")
    shot.get_by_label("detail").select_option("fine")

    def edited(patch: list[dict]) -> None:
        found = shot_of(shot)
        at = re.search(r"/shots/[0-9a-f-]+", shot.url)
        assert (
            at
            and shot.request.post(f"/api{at[0]}/edits", data={"base": found["revision"], "patch": patch}).ok
        )
        expect(live).to_have_attribute("data-drawn", f"{found['revision'] + 1}:0", timeout=60_000)
        expect(live).to_have_attribute("data-rested", "true", timeout=120_000)

    edited([{"op": "replace", "path": "/camera/shutter_angle", "value": 0}])
    sharp = live_picture(shot).astype(float)
    edited(
        [
            {"op": "replace", "path": "/camera/defocus", "value": True},
            {"op": "replace", "path": "/camera/f_stop", "value": 0.7},
            {"op": "replace", "path": "/camera/focus", "value": "distance"},
            {"op": "replace", "path": "/camera/focus_distance", "value": 1.2},
        ]
    )
    blurred = live_picture(shot).astype(float)
    shot.keyboard.press("t")
    expect(shot.get_by_test_id("traced")).to_have_attribute("data-samples", "16", timeout=120_000)
    shot.wait_for_timeout(500)
    traced = live_picture(shot).astype(float)
    far = [np.abs(picture - traced).mean() for picture in (sharp, blurred)]
    assert far[1] < 0.65 * far[0], far


def test_letters_mirror_in_the_live_view_at_rest_what_is_near_as_they_do_when_traced(shot: Page) -> None:
    live = shot.get_by_test_id("live")
    found = shot_of(shot)
    floor = {"kind": "floor", "finish": {"base_colour": {"r": 0.7, "g": 0.03, "b": 0.02}, "roughness": 0.9}}
    polished = {"metallic": 1.0, "roughness": 0.06, "base_colour": {"r": 0.9, "g": 0.9, "b": 0.9}}
    patch = [{"op": "add", "path": "/things/floor", "value": floor}]
    patch += [
        {"op": "replace", "path": f"/things/title/finish/{term}", "value": value}
        for term, value in polished.items()
    ]
    at = re.search(r"/shots/[0-9a-f-]+", shot.url)
    assert at and shot.request.post(f"/api{at[0]}/edits", data={"base": found["revision"], "patch": patch}).ok
    shot.get_by_label("detail").select_option("plain edges")
    expect(live).to_have_attribute("data-drawn", f"{found['revision'] + 1}:0", timeout=60_000)
    expect(live).to_have_attribute("data-level", "plain")
    passing = rested_picture(shot).astype(float)
    shot.get_by_label("detail").select_option("fine")
    expect(live).to_have_attribute("data-level", "fine", timeout=60_000)
    expect(live).to_have_attribute("data-rested", "true", timeout=180_000)
    resting = live_picture(shot).astype(float)
    shot.keyboard.press("t")
    expect(shot.get_by_test_id("traced")).to_have_attribute("data-samples", "16", timeout=120_000)
    shot.wait_for_timeout(500)
    traced = live_picture(shot).astype(float)
    # Where letters are: the floor below them is not looked at, and is red in all three.
    rows, columns = traced.shape[:2]
    middle = (slice(int(0.3 * rows), int(0.62 * rows)), slice(int(0.2 * columns), int(0.8 * columns)))
    far = [np.abs(picture[middle] - traced[middle]).mean() for picture in (passing, resting)]
    assert far[1] < 0.8 * far[0], far


def test_a_shot_opens_in_the_view_one_looked_at_last(page: Page) -> None:
    open_demo(page, "Main title")
    page.keyboard.press("t")
    traced = page.get_by_test_id("traced")
    expect(traced).to_be_visible(timeout=60_000)
    page.reload()
    expect(traced).to_be_visible(timeout=60_000)
    # It takes clicks, whether or not the live view beneath has been drawn.
    box = page.get_by_test_id("live").bounding_box()
    assert box
    page.mouse.click(box["x"] + 0.5 * box["width"], box["y"] + 0.95 * box["height"])
    expect(page.get_by_role("button", name="Close the answer")).to_be_visible(timeout=60_000)
    page.keyboard.press("t")
    expect(traced).to_have_count(0)
    page.reload()
    expect(page.get_by_test_id("live")).to_have_attribute("data-level", "fine", timeout=60_000)
    assert traced.count() == 0
