"""The whole job in the real interface, and the delivered file decoded."""

from __future__ import annotations

import re
from pathlib import Path

import av
import cv2
import numpy as np
import pytest
from playwright.sync_api import Page, expect

from bench.browser import until
from dreizack.core.media import probe
from dreizack.demo import demo_shots

pytestmark = [pytest.mark.browser]


def drawn(page: Page) -> tuple[int, int]:
    """Revision and frame that the live view drew last."""
    revision, frame = page.get_by_test_id("live").get_attribute("data-drawn").split(":")
    return int(revision), int(frame)


def settled(page: Page) -> None:
    # What was just done is shown as waiting by the next picture of the page at the latest.
    page.evaluate("() => new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)))")
    expect(page.get_by_label("Saved", exact=True)).to_have_text("saved")


def drawn_after(page: Page, revision: int) -> None:
    until(
        page,
        "r => Number((document.querySelector('[data-testid=live]').dataset.drawn ?? '-1').split(':')[0]) > r",
        arg=revision,
    )


def shot_of(
    page: Page,
) -> dict:
    found = re.search(r"/shots/([0-9a-f-]+)", page.url)
    assert found
    return page.request.get(f"/api/shots/{found[1]}", max_retries=2).json()


def live_picture(page: Page) -> np.ndarray:
    data = page.get_by_test_id("live").screenshot()
    return cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR).astype(int)


def rested_picture(page: Page) -> np.ndarray:
    """The live picture once it stays what it is: letters and surroundings come in their own time."""
    page.wait_for_timeout(1500)
    seen = live_picture(page)
    for _ in range(20):
        page.wait_for_timeout(1500)
        before, seen = seen, live_picture(page)
        if np.array_equal(before, seen):
            break
    return seen


def open_demo(page: Page, shot: str) -> None:
    page.goto("/")
    page.get_by_role("link", name="SLACK WATER").last.click()
    page.get_by_role("link", name=shot).last.click()
    until(page, "document.querySelector('[data-testid=live]')?.dataset.drawn !== undefined")


def test_from_words_to_a_played_clip(page: Page, tmp_path: Path) -> None:
    # A production and a shot.
    page.goto("/")
    page.get_by_role("button", name="New production").first.click()
    expect(page.get_by_label("Name of the production")).to_be_focused()
    page.keyboard.type("NEAP")
    page.keyboard.press("Enter")
    expect(page.locator(".crumb")).to_contain_text("NEAP")
    page.get_by_role("button", name="New shot").first.click()
    page.get_by_label("Words").fill("EBB")
    page.get_by_label("Seconds").fill("0.8")
    page.get_by_role("button", name="Create shot").click()
    until(page, "document.querySelector('[data-testid=live]')?.dataset.drawn !== undefined")
    assert "llvmpipe" in page.evaluate(
        "() => { const gl = document.createElement('canvas').getContext('webgl2');"
        " return gl.getParameter(gl.getExtension('WEBGL_debug_renderer_info').UNMASKED_RENDERER_WEBGL) }"
    )

    # Words typed in place show at once as a lit body.
    before = live_picture(page)
    page.keyboard.press("Enter")
    page.keyboard.type("FLOOD")
    settled(page)
    drawn_after(page, 0)
    page.keyboard.press("Escape")
    assert shot_of(page)["document"]["things"]["title"]["words"] == "FLOOD"
    page.keyboard.press("o")
    settled(page)
    after = live_picture(page)
    assert np.abs(after - before).mean() > 2
    assert after.max() > 180, "it is lit"

    # The view is turned with the mouse.
    position = shot_of(page)["document"]["camera"]["position"]
    box = page.get_by_test_id("live").bounding_box()
    assert box
    page.mouse.move(box["x"] + 30, box["y"] + 20)
    page.mouse.down()
    page.mouse.move(box["x"] + 120, box["y"] + 40, steps=6)
    page.mouse.up()
    settled(page)
    turned = shot_of(page)["document"]["camera"]["position"]
    assert abs(turned["x"] - position["x"]) > 0.3

    # Keys on title, light and camera.
    page.get_by_role("row", name="FLOOD").get_by_role("button", name="FLOOD", exact=True).click()
    page.get_by_label("Key for rotation yaw").click()
    page.keyboard.press("End")
    yaw = page.get_by_role("spinbutton", name="rotation yaw")
    yaw.click()
    yaw.fill("-40 + 10")
    yaw.press("Enter")
    page.get_by_role("row", name="Key").get_by_role("button", name="Key", exact=True).click()
    page.get_by_label("Key for intensity").click()
    page.keyboard.press("Home")
    stops = page.get_by_role("spinbutton", name="intensity")
    stops.click()
    stops.fill("-3")
    stops.press("Enter")
    settled(page)
    channels = shot_of(page)["document"]["channels"]
    assert [(k["frame"], k["value"]) for k in channels["/things/title/place/rotation/y"]["keys"]] == [
        (0, 0),
        (19, -30),
    ]
    assert [(k["frame"], k["value"]) for k in channels["/things/key/intensity"]["keys"]] == [
        (0, -3),
        (19, 0.6),
    ]

    # It plays in real time and loops.
    page.get_by_role("button", name="Play", exact=True).click()
    seen: set[int] = set()
    for _ in range(200):
        page.wait_for_timeout(70)
        seen.add(drawn(page)[1])
        if len(seen) > 6:
            break
    assert len(seen) > 6, "however few frames a busy machine draws, playing comes by more and more of them"
    page.get_by_role("button", name="Pause", exact=True).click()

    # The traced view sharpens.
    page.keyboard.press("t")
    page.wait_for_selector("[data-testid=traced][data-samples='16']", timeout=180_000)
    page.keyboard.press("t")

    # Delivered, watched, downloaded, decoded.
    page.keyboard.press("d")
    page.get_by_role("radio", name="draft").click()
    page.get_by_label("size", exact=True).click(force=True)
    page.get_by_role("option", name="480 × 270").click()
    page.get_by_role("button", name="Order").click()
    # One stays with the shot; a notice leads to what was ordered.
    expect(page.locator(".picture-frame")).to_be_visible()
    page.get_by_role("button", name="Deliveries").click()
    order = page.get_by_role("article").first
    expect(order.get_by_role("status")).to_contain_text("complete", timeout=90_000)
    expect(order.get_by_role("status")).to_contain_text("20 frames")
    order.get_by_role("button", name="Play").click()
    until(page, "document.querySelector('video')?.currentTime > 0.2")
    with page.expect_download() as waiting:
        order.get_by_role("link", name="Download").click()
    file = tmp_path / "clip.mp4"
    waiting.value.save_as(file)
    assert waiting.value.suggested_filename.endswith(".mp4")
    found = probe(file)
    assert (found["codec"], found["width"], found["height"], found["frames"], found["rate"]) == (
        "h264",
        480,
        270,
        20,
        25,
    )
    assert (found["primaries"], found["transfer"], found["matrix"], found["range"]) == (1, 1, 1, 1)
    with av.open(str(file)) as container:
        frames = [f.to_ndarray(format="gray").astype(float) for f in container.decode(video=0)]
    backdrop = np.median(frames[0])
    letters = [np.abs(f - backdrop) > 12 for f in (frames[0], frames[-1])]
    assert all(0.05 < mask.mean() < 0.9 for mask in letters), "the words are in the picture"
    assert (letters[0] ^ letters[1]).mean() > 0.01, "and they move"
    first, last = (
        float(frame[mask].mean()) for frame, mask in zip((frames[0], frames[-1]), letters, strict=True)
    )
    assert last > first + 2, "and the key comes up"


def test_the_delivered_words_are_where_the_live_view_shows_them(page: Page) -> None:
    open_demo(page, "Main title")
    # The words stand there.
    page.get_by_label("Present moment").click()
    page.keyboard.type("80")
    page.keyboard.press("Enter")
    page.wait_for_timeout(2500)
    live = live_picture(page)
    page.keyboard.press("t")
    page.wait_for_selector("[data-testid=traced][data-samples='16']", timeout=180_000)
    traced = live_picture(page)
    # Few samples are noisy: what is compared is what lies there, not single pixels.
    smooth = [cv2.GaussianBlur(p.astype(np.float32), (0, 0), 1.5) for p in (live, traced)]
    masks = [np.abs(p - p[2, 2]).max(axis=2) > 24 for p in smooth]
    overlap = (masks[0] & masks[1]).sum() / (masks[0] | masks[1]).sum()
    assert overlap > 0.97


def test_undo_redo_and_reload_keep_every_edit(page: Page) -> None:
    open_demo(page, "Part one")
    page.get_by_role("row", name="Part title").get_by_role("button", name="Part title", exact=True).click()
    depth = page.get_by_role("region", name="body", exact=True).get_by_role("spinbutton", name="depth")
    before = depth.input_value()
    assert before != "0.3"
    depth.click()
    depth.fill("30cm")
    depth.press("Enter")
    settled(page)
    expect(depth).to_have_value("0.3")
    page.reload()
    page.get_by_role("row", name="Part title").get_by_role("button", name="Part title", exact=True).click()
    expect(depth).to_have_value("0.3")
    page.get_by_role("button", name="Undo").click()
    expect(depth).to_have_value(before)
    page.get_by_role("button", name="Redo").click()
    expect(depth).to_have_value("0.3")
    page.get_by_role("button", name="Undo").click()
    settled(page)


def test_two_tabs_on_one_shot_stay_in_step(page: Page, browser: object, site: str) -> None:
    open_demo(page, "Lower third")
    other = browser.new_page(base_url=site, viewport={"width": 1280, "height": 800})  # type: ignore[attr-defined]
    other.set_default_timeout(90_000)
    other.goto(page.url)
    until(other, "document.querySelector('[data-testid=live]')?.dataset.drawn !== undefined")
    for tab in (page, other):
        tab.get_by_role("row", name="Name").get_by_role("button", name="Name", exact=True).click()
    page.get_by_label("Words of the title").fill("ODDLEIF BRACKENSHAW")
    expect(other.get_by_label("Words of the title")).to_have_value("ODDLEIF BRACKENSHAW")
    # Both at once, on different values: nobody's work is lost.
    page.get_by_label("Words of the title").fill("TOVE HALLIARD")
    other.get_by_role("spinbutton", name="cap height").click()
    other.get_by_role("spinbutton", name="cap height").fill("0.2")
    other.get_by_role("spinbutton", name="cap height").press("Enter")
    for tab in (page, other):
        expect(tab.get_by_label("Words of the title")).to_have_value("TOVE HALLIARD")
        expect(tab.get_by_role("spinbutton", name="cap height")).to_have_value("0.2")
    other.close()


def test_edits_made_while_the_server_is_away_arrive_later(page: Page) -> None:
    open_demo(page, "Lower third")
    page.get_by_role("row", name="Office").get_by_role("button", name="Office", exact=True).click()
    page.route("**/edits*", lambda route: route.abort())
    page.get_by_label("Words of the title").fill("Deckhand")
    expect(page.get_by_label("Saved", exact=True)).to_contain_text("does not answer")
    page.unroute("**/edits*")
    settled(page)
    assert shot_of(page)["document"]["things"]["office"]["words"] == "Deckhand"


def new_shot(page: Page, production: str, words: str) -> None:
    """A production and a shot of one's own, open in the live view: nobody else has changed it."""
    page.goto("/")
    page.get_by_role("button", name="New production").first.click()
    expect(page.get_by_label("Name of the production")).to_be_focused()
    page.keyboard.type(production)
    page.keyboard.press("Enter")
    page.get_by_role("button", name="New shot").first.click()
    page.get_by_label("Words").fill(words)
    page.get_by_role("button", name="Create shot").click()
    until(page, "document.querySelector('[data-testid=live]')?.dataset.drawn !== undefined")


def test_pointing_at_a_part_shows_its_controls(page: Page) -> None:
    new_shot(page, "SPRING TIDE", "EBB")
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="Pointed at: Shot")).to_be_visible()
    live = rested_picture(page)
    box = page.get_by_test_id("live").bounding_box()
    assert box
    # The backdrop has one colour.
    lit = np.abs(live - live[2, 2]).max(axis=2) > 60
    # The place of a letter that is farthest from its edges.
    within = cv2.distanceTransform(lit.astype(np.uint8), cv2.DIST_L2, 5)
    y, x = np.unravel_index(within.argmax(), within.shape)
    assert within[y, x] > 6
    page.mouse.click(box["x"] + int(x), box["y"] + int(y))
    expect(page.get_by_role("button", name="Pointed at: EBB")).to_be_visible()
    expect(page.locator(".group.lit")).to_have_count(1)
    page.mouse.click(box["x"] + 8, box["y"] + 8)
    expect(page.get_by_role("button", name="Pointed at: Backdrop")).to_be_visible()


def test_everything_can_be_reached_by_keyboard(page: Page) -> None:
    open_demo(page, "Main title")
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("Shortcuts")
    page.keyboard.press("Escape")
    page.keyboard.press("Control+k")
    page.keyboard.type("add a light")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Pointed at: Light")).to_be_visible()
    page.keyboard.press("Delete")
    expect(page.get_by_role("row", name="Light", exact=True)).to_have_count(0)
    page.keyboard.press("]")
    until(page, "document.querySelector('[data-testid=live]').dataset.drawn.endsWith(':10')")
    page.keyboard.press("Control+z")
    expect(page.get_by_role("row", name="Light", exact=True)).to_have_count(1)
    page.keyboard.press("Control+z")
    expect(page.get_by_role("row", name="Light", exact=True)).to_have_count(0)
    settled(page)


def test_what_a_menu_adds_is_found_by_typing_and_a_floor_has_no_hard_end(page: Page) -> None:
    new_shot(page, "NEAP TIDE", "TITLE")
    page.keyboard.press("Control+k")
    page.keyboard.type("a floor")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Pointed at: Floor")).to_be_visible()
    settled(page)
    # Left of the words and of its own marks, from the backdrop onto the floor, nothing jumps.
    column = rested_picture(page)[:, 40].astype(float).mean(axis=1)
    assert column.max() - column.min() > 30
    assert np.abs(np.diff(column)).max() < 12
    # Values are found by what they may be; what is pointed at is copied.
    page.keyboard.press("Control+k")
    page.keyboard.type("sun")
    expect(page.get_by_role("option", name="kind of light").first).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("Control+k")
    page.keyboard.type("duplicate what")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Pointed at: Floor copy")).to_be_visible()
    settled(page)


def test_a_damaged_shot_file_is_refused_with_its_place(page: Page, tmp_path: Path) -> None:
    page.goto("/")
    page.get_by_role("link", name="SLACK WATER").last.click()
    expect(page.get_by_role("article")).to_have_count(len(demo_shots()) + 1)
    broken = tmp_path / "broken.json"
    broken.write_text('{"dreizack_shot": 1, "camera": {"roll": "much"}}')
    page.get_by_label("Shot file or timeline").set_input_files(broken)
    expect(page.get_by_role("alert")).to_contain_text("/camera/roll")
    expect(page.get_by_role("article")).to_have_count(len(demo_shots()) + 1)


def test_keys_are_dragged_in_time(page: Page) -> None:
    open_demo(page, "Part one")
    page.get_by_role("button", name="Unfold Key").click()
    key = page.get_by_role("button", name="Key of intensity at frame 60")
    box = key.bounding_box()
    assert box
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2 + 75, box["y"] + box["height"] / 2, steps=5)
    page.mouse.up()
    settled(page)
    keys = shot_of(page)["document"]["channels"]["/things/key/intensity"]["keys"]
    assert keys[0]["frame"] == 0 and 66 <= keys[1]["frame"] <= 75 and keys[1]["value"] == pytest.approx(0.35)
    page.get_by_role("button", name="hold").click()
    settled(page)
    assert shot_of(page)["document"]["channels"]["/things/key/intensity"]["keys"][1]["ease"]["kind"] == "hold"
    page.get_by_role("button", name="Undo").click()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Key of intensity at frame 60")).to_be_visible()


def test_lights_are_dragged_and_nudged_in_the_plot(page: Page) -> None:
    open_demo(page, "Part one")
    handle = page.get_by_role("button", name="Fill: position")
    before = shot_of(page)["document"]["things"]["fill"]["position"]
    box = handle.bounding_box()
    assert box
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2 - 40, box["y"] + box["height"] / 2, steps=4)
    page.mouse.up()
    settled(page)
    after = shot_of(page)["document"]["things"]["fill"]["position"]
    assert after["x"] < before["x"] - 0.2 and after["y"] == before["y"]
    handle.focus()
    page.keyboard.press("ArrowDown")
    settled(page)
    assert shot_of(page)["document"]["things"]["fill"]["position"]["z"] == pytest.approx(
        after["z"] + 0.05, abs=1e-6
    )
    for _ in range(2):
        page.get_by_role("button", name="Undo").click()
        settled(page)
