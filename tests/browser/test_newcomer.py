"""What a newcomer does on the first day, each task once by mouse, counted, and once by keyboard alone.

An action is one click, one drag, one key pressed, one text typed or one file chosen. How many each task may
take is written beside it.
"""

from __future__ import annotations

from pathlib import Path
from typing import Any

import av
import cv2
import numpy as np
import pytest
from playwright.sync_api import Locator, Page, expect

from bench.browser import until

from .test_main_job import settled, shot_of
from .test_match import until as until_true

pytestmark = pytest.mark.long

# A walk by Tab that is longer would be given up by anybody.
FAR = 140


class Hands:
    """A mouse, with the keyboard for texts alone; ``count`` is how many actions it took."""

    def __init__(self, page: Page) -> None:
        self.page, self.count = page, 0

    def use(self, what: Locator) -> None:
        """Press a button, choose one of a few, open a row."""
        what.click()
        self.count += 1

    def toggle(self, name: str) -> None:
        """Tick a box of the values, or take its tick away."""
        self.use(self.page.get_by_role("checkbox", name=name))

    def press(self, key: str) -> None:
        self.page.keyboard.press(key)
        self.count += 1

    def type(self, text: str) -> None:
        self.page.keyboard.type(text)
        self.count += 1

    def fill(self, what: Locator, text: str) -> None:
        self.use(what)
        self.type(text)

    def change(self, number: Locator, text: str) -> None:
        """Another number: to one that looks right with the mouse, to one that is known by keyboard."""
        number.scroll_into_view_if_needed()
        box = number.bounding_box()
        assert box
        x, y = box["x"] + 20, box["y"] + box["height"] / 2
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x + 40, y, steps=4)
        self.page.mouse.up()
        self.count += 1

    def choose(self, select: Locator, option: str) -> None:
        select.select_option(label=option)
        self.count += 2

    def bring(self, button: Locator, file: Path) -> None:
        with self.page.expect_file_chooser() as chooser:
            self.use(button)
        chooser.value.set_files(file)
        self.count += 1


class Keys(Hands):
    """The keyboard alone."""

    def reach(self, what: Locator) -> None:
        """Walk there by Tab; into the values by their key."""
        if what.evaluate(
            "e => Boolean(e.closest('.bench')) && !e.closest('.bench').contains(document.activeElement)"
        ):
            self.press("v")
        before = "e => e.compareDocumentPosition(document.activeElement) & Node.DOCUMENT_POSITION_FOLLOWING"
        for _ in range(FAR):
            if what.evaluate("e => e === document.activeElement || e.contains(document.activeElement)"):
                return
            self.press("Shift+Tab" if what.evaluate(before) else "Tab")
        raise AssertionError(f"not reached by {FAR} Tabs: {what}")

    def use(self, what: Locator) -> None:
        what.wait_for()
        if what.get_attribute("role") in ("radio", "option"):
            return self.pick(what)
        if what.get_attribute("role") == "menuitem":
            return self.go_down(what)
        self.reach(what)
        return self.press("Space" if what.evaluate("e => e.matches('input')") else "Enter")

    def go_down(self, item: Locator) -> None:
        """One of a menu: along it by arrow keys."""
        for _ in range(40):
            if item.evaluate("e => e === document.activeElement"):
                return self.press("Enter")
            self.press("ArrowDown")
        raise AssertionError(f"not reached by arrow keys: {item}")

    def toggle(self, name: str) -> None:
        """Far down in the values: found by its name."""
        self.press("Control+k")
        self.page.get_by_role("dialog").wait_for()
        self.type(name)
        self.press("Enter")
        expect(self.page.get_by_role("checkbox", name=name)).to_be_focused()
        self.press("Space")

    def pick(self, radio: Locator) -> None:
        """One of a few: into the group by Tab, along it by arrow keys."""
        group = radio.locator("xpath=ancestor::*[@role='radiogroup' or @role='listbox'][1]")
        self.reach(group)
        for _ in range(40):
            if radio.get_attribute("aria-checked") == "true":
                return
            self.press("ArrowRight")
            self.page.wait_for_timeout(500)
        raise AssertionError(f"not chosen by arrow keys: {radio}")

    def fill(self, what: Locator, text: str) -> None:
        self.reach(what)
        self.type(text)

    def change(self, number: Locator, text: str) -> None:
        self.reach(number)
        self.type(text)
        self.press("Enter")

    def choose(self, select: Locator, option: str) -> None:
        self.reach(select)
        self.type(option)


@pytest.fixture(params=[Hands, Keys], ids=["mouse", "keyboard"])
def hands(request: pytest.FixtureRequest, page: Page) -> Hands:
    page.set_default_timeout(12_000)
    made: Hands = request.param(page)
    return made


def new_shot(page: Page, words: str = "EBB") -> None:
    production = page.request.post("/api/productions", data={"name": "First day"}).json()["id"]
    wish = {"name": "Trial", "format": {"width": 1280, "height": 720}, "words": words}
    made = page.request.post(f"/api/productions/{production}/shots", data=wish).json()["id"]
    page.goto(f"/shots/{made}")
    until(page, "document.querySelector('[data-testid=live]')?.dataset.drawn !== undefined")
    # As it is for who has just made it.
    row(page, words).click()


def document(page: Page) -> dict[str, Any]:
    settled(page)
    found: dict[str, Any] = shot_of(page)["document"]
    return found


def within(hands: Hands, most: int) -> None:
    """By mouse a task takes so many actions at most."""
    print(type(hands).__name__, hands.count)
    assert isinstance(hands, Keys) or hands.count <= most


def row(page: Page, name: str) -> Locator:
    return page.get_by_role("row", name=name).get_by_role("button", name=name, exact=True)


def number(page: Page, name: str) -> Locator:
    return page.get_by_role("spinbutton", name=name, exact=True).first


def group(page: Page, name: str) -> Locator:
    """The line that unfolds a group of the bench."""
    return page.get_by_role("region", name=name, exact=True).get_by_role("button", name=name, exact=True)


def test_a_title_of_two_lines(page: Page, hands: Hands) -> None:
    production = page.request.post("/api/productions", data={"name": "First day"}).json()["id"]
    page.goto(f"/productions/{production}")
    hands.use(page.get_by_role("button", name="New shot").first)
    expect(page.get_by_label("Words", exact=True)).to_be_focused()
    hands.type("SLACK\nWATER")
    hands.use(page.get_by_role("button", name="Create shot"))
    page.wait_for_url("**/shots/*")
    assert document(page)["things"]["title"]["words"] == "SLACK\nWATER"
    within(hands, 9)


def test_depth_and_edges(page: Page, hands: Hands) -> None:
    new_shot(page)
    before = document(page)["things"]["title"]["body"]
    hands.change(number(page, "depth"), "0.32")
    edge = page.get_by_role("region", name="front edge")
    hands.use(edge.get_by_role("radio", name="cove"))
    hands.change(edge.get_by_role("spinbutton", name="reach", exact=True), "0.03")
    body = document(page)["things"]["title"]["body"]
    assert body["depth"] != before["depth"] and body["front"]["profile"] == "cove"
    assert body["front"]["reach"] != before["front"]["reach"]
    within(hands, 5)


def test_parts_a_look_and_a_second_title_that_wears_it(page: Page, hands: Hands) -> None:
    new_shot(page)
    name = f"Ferry {type(hands).__name__.lower()}"
    finish = page.get_by_role("region", name="finish", exact=True)
    hands.use(finish.get_by_role("radio", name="face", exact=True))
    hands.use(page.get_by_role("button", name="Give the face its own finish"))
    expect(finish.locator(".finish-row button").first).to_be_focused()
    hands.use(page.locator(".finish-row button").first)
    hands.use(page.get_by_role("button", name="signal lacquer", exact=True))
    hands.press("Escape")
    look = page.locator(".row:has(.number-label:text-is('look')) button")
    hands.use(look)
    hands.fill(page.get_by_label("Name of the look"), name)
    hands.press("Enter")
    expect(look).to_contain_text(name)
    hands.press("Escape")
    hands.press("Shift+w")
    expect(page.get_by_role("row", name="WORDS", exact=True)).to_be_visible()
    hands.use(look)
    hands.use(page.get_by_role("button", name=name, exact=True).last)
    until_true(page, lambda: [look_of(t) for t in titles(page)] == [name, name])
    assert all("face" in title["finish"]["parts"] for title in titles(page))
    within(hands, 14)


def test_three_lights(page: Page, hands: Hands) -> None:
    new_shot(page)
    before = document(page)["things"]
    for light, stops in (("Key", "1"), ("Fill", "-2"), ("Rim", "2")):
        hands.use(row(page, light))
        hands.change(number(page, "intensity"), stops)
        expect(page.get_by_role("button", name=f"Pointed at: {light}")).to_be_visible()
    after = document(page)["things"]
    assert all(after[name]["intensity"] != before[name]["intensity"] for name in ("key", "fill", "rim"))
    within(hands, 16)


def test_a_floor(page: Page, hands: Hands) -> None:
    new_shot(page)
    hands.use(page.get_by_role("button", name="More", exact=True))
    hands.use(page.get_by_role("menuitem", name="Floor", exact=True))
    until_true(page, lambda: "floor" in kinds(page))
    within(hands, 6)


def test_a_panorama_of_ones_own(page: Page, hands: Hands, tmp_path: Path) -> None:
    new_shot(page)
    picture = tmp_path / "strait.png"
    cv2.imwrite(str(picture), np.linspace(20, 230, 64 * 128 * 3).reshape(64, 128, 3).astype(np.uint8))
    hands.use(row(page, "Surroundings"))
    hands.choose(page.get_by_label("surroundings", exact=True), "picture")
    hands.bring(page.get_by_role("button", name="Bring HDR, EXR …"), picture)
    until_true(page, lambda: document(page)["surroundings"]["picture"].endswith(".panorama"))
    within(hands, 6)


def test_words_on_an_arc(page: Page, hands: Hands) -> None:
    new_shot(page)
    hands.use(group(page, "line of the words"))
    hands.use(page.get_by_role("radio", name="arc", exact=True))
    hands.change(number(page, "radius"), "1.2")
    assert titles(page)[0]["path"]["kind"] == "arc"
    within(hands, 4)


def test_an_orbit_with_focus_and_motion_blur(page: Page, hands: Hands) -> None:
    new_shot(page)
    hands.use(row(page, "Camera"))
    hands.use(page.get_by_role("radio", name="orbit", exact=True))
    hands.use(page.get_by_role("button", name="Key for azimuth"))
    hands.press("End")
    hands.change(number(page, "azimuth"), "40")
    hands.use(page.get_by_role("checkbox", name="depth of field"))
    hands.change(number(page, "shutter angle"), "180")
    found = document(page)
    assert found["camera"]["defocus"] and found["camera"]["shutter_angle"] > 0
    assert len(found["channels"]["/camera/azimuth"]["keys"]) == 2
    within(hands, 13)


def test_a_keyed_light(page: Page, hands: Hands) -> None:
    new_shot(page)
    hands.use(row(page, "Key"))
    hands.use(page.get_by_role("button", name="Key for intensity"))
    hands.press("End")
    hands.change(number(page, "intensity"), "-3")
    assert len(document(page)["channels"]["/things/key/intensity"]["keys"]) == 2
    within(hands, 5)


def test_letters_cut_out_of_a_sheet(page: Page, hands: Hands) -> None:
    new_shot(page)
    hands.use(page.get_by_role("button", name="More", exact=True))
    hands.use(page.get_by_role("menuitem", name="Sheet", exact=True))
    hands.choose(page.get_by_label("Title that is cut out"), "EBB")
    until_true(page, lambda: any(t.get("cut") == "title" for t in document(page)["things"].values()))
    within(hands, 14)


def test_a_shadow_of_words_that_are_not_seen(page: Page, hands: Hands) -> None:
    new_shot(page)
    hands.use(page.get_by_role("button", name="More", exact=True))
    hands.use(page.get_by_role("menuitem", name="Floor", exact=True))
    expect(page.get_by_role("button", name="Pointed at: Floor")).to_be_visible()
    hands.use(row(page, "EBB"))
    hands.toggle("seen by camera")
    until_true(page, lambda: not titles(page)[0]["visibility"]["camera"])
    assert titles(page)[0]["visibility"]["casts"]
    within(hands, 16)


def test_a_logo_and_a_mesh(page: Page, hands: Hands, tmp_path: Path) -> None:
    new_shot(page)
    logo, buoy = tmp_path / "logo.svg", tmp_path / "buoy.obj"
    logo.write_text('<svg xmlns="http://www.w3.org/2000/svg"><rect width="4" height="3"/></svg>')
    buoy.write_text("v 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\nf 1 3 2\nf 1 2 4\nf 2 3 4\nf 3 1 4\n")
    for kind, file in (("mark", logo), ("mesh", buoy)):
        hands.use(page.get_by_role("button", name="More", exact=True))
        hands.bring(page.get_by_role("menuitem", name="from a file"), file)
        until_true(page, lambda kind=kind: kind in kinds(page))
    within(hands, 10)


def test_a_video_on_the_faces(page: Page, hands: Hands, tmp_path: Path) -> None:
    new_shot(page)
    swell = tmp_path / "swell.mp4"
    with av.open(str(swell), "w") as movie:
        stream = movie.add_stream("libx264", rate=25)
        stream.width, stream.height, stream.pix_fmt = 64, 48, "yuv420p"
        for level in range(40, 220, 20):
            frame = av.VideoFrame.from_ndarray(np.full((48, 64, 3), level, np.uint8), format="rgb24")
            movie.mux(stream.encode(frame))
        movie.mux(stream.encode(None))
    finish = page.get_by_role("region", name="finish", exact=True)
    hands.use(finish.get_by_role("radio", name="face", exact=True))
    hands.use(page.get_by_role("button", name="Give the face its own finish"))
    hands.choose(finish.get_by_label("picture", exact=True), "video")
    hands.bring(page.get_by_role("button", name="Bring a video …"), swell)
    until_true(page, lambda: titles(page)[0]["finish"]["parts"]["face"]["picture"]["file"].endswith(".clip"))
    within(hands, 7)


def test_frosted_glass(page: Page, hands: Hands) -> None:
    new_shot(page)
    hands.use(page.locator(".finish-row button").first)
    hands.use(page.get_by_role("button", name="frosted glass", exact=True))
    assert titles(page)[0]["finish"]["transmission"] > 0.5
    within(hands, 4)


def test_a_delivery(page: Page, hands: Hands) -> None:
    new_shot(page)
    hands.press("d")
    hands.use(page.get_by_role("radio", name="draft"))
    hands.use(page.get_by_role("button", name="Order", exact=True))
    expect(page.get_by_role("link", name="Deliveries")).to_contain_text("1", timeout=60_000)
    within(hands, 8)


def titles(page: Page) -> list[dict[str, Any]]:
    return [thing for thing in document(page)["things"].values() if thing["kind"] == "title"]


def kinds(page: Page) -> set[str]:
    return {thing["kind"] for thing in document(page)["things"].values()}


def look_of(title: dict[str, Any]) -> str:
    return str(title["look"])
