"""Letters one after the other: the fan in time, dragged and by keyboard, and what the picture makes of it."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import Locator, Page, expect

from .test_light import sixty_frames_on
from .test_main_job import live_picture, open_demo, rested_picture, settled, shot_of

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


def document(page: Page) -> dict[str, Any]:
    found: dict[str, Any] = shot_of(page)["document"]
    return found


def until(page: Page, reached: Callable[[], bool], seconds: float = 20) -> None:
    for _ in range(int(seconds * 10)):
        if reached():
            return
        page.wait_for_timeout(100)
    assert reached()


def test_a_movement_is_tried_in_the_picture_put_on_and_taken_back(page: Page) -> None:
    open_demo(page, "Part one: First light")
    page.get_by_role("row", name="Part title").get_by_role("button", name="Part title", exact=True).click()
    page.get_by_role("button", name="motion", exact=True).click()
    chip = page.get_by_role("button", name="Shutters", exact=True)
    chip.scroll_into_view_if_needed()
    before = document(page)
    rows = page.get_by_role("row", name="When each letter of set")
    expect(rows).to_have_count(1)
    # Pointed at, it plays: the shot itself stays as it is.
    chip.hover()
    expect(rows).to_have_count(2, timeout=60_000)
    until(page, lambda: page.get_by_role("button", name="Pause").count() == 1)
    assert document(page) == before
    page.mouse.move(400, 300)
    expect(rows).to_have_count(1)
    chip.click()
    until(page, lambda: len(document(page)["things"]["title"]["sets"]) == 2)
    page.mouse.move(400, 300)
    page.get_by_role("button", name="Undo").click()
    until(page, lambda: document(page) == before)


def test_the_end_of_a_span_is_dragged_and_its_keys_go_along(page: Page) -> None:
    open_demo(page, "Lower third: mate")
    page.get_by_role("row", name="Office").first.hover()
    end = page.get_by_label("End of Office")
    box = end.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] - 90, box["y"] + box["height"] / 2, steps=6)
    page.mouse.up()
    until(page, lambda: document(page)["things"]["office"]["span"]["whole"] is False)
    span = document(page)["things"]["office"]["span"]
    assert 55 < span["end"] < 80
    # Its departure's keys stood at the end of the shot.
    last = document(page)["channels"]["/things/office/place/position/x"]["keys"][-1]["frame"]
    assert last == 79 - (80 - span["end"])
    page.get_by_role("button", name="Undo").click()
    until(page, lambda: document(page)["things"]["office"]["span"]["whole"] is True)


def test_the_camera_becomes_an_orbit_and_recording_keys_it(page: Page) -> None:
    open_demo(page, "Part two: Ebb")
    page.get_by_role("row", name="Camera").get_by_role("button", name="Camera", exact=True).click()
    page.get_by_role("radio", name="orbit").click()
    until(page, lambda: document(page)["camera"]["rig"] == "orbit")
    assert set(document(page)["channels"]) >= {"/camera/azimuth", "/camera/distance"}
    assert not any(pointer.startswith("/camera/position") for pointer in document(page)["channels"])
    page.mouse.click(640, 500)
    page.keyboard.press("r")
    expect(page.get_by_role("button", name="Record")).to_have_attribute("aria-pressed", "true")
    page.get_by_role("row", name="Camera").get_by_role("button", name="Camera", exact=True).click()
    roll = page.get_by_role("spinbutton", name="roll")
    roll.click()
    roll.fill("12")
    roll.press("Enter")
    settled(page)
    assert document(page)["channels"]["/camera/roll"]["keys"][0]["value"] == 12
    page.get_by_role("button", name="Record").click()
    # A value that drifts says so, and its strand is there.
    page.get_by_label("What moves roll").click()
    page.get_by_role("button", name="Let it drift").click()
    until(page, lambda: "/camera/roll" in document(page)["drifts"])
    for _ in range(3):
        page.get_by_role("button", name="Undo").click()
    until(page, lambda: document(page)["camera"]["rig"] == "free")


def test_optics_are_seen_at_once_and_change_only_the_picture(page: Page) -> None:
    open_demo(page, "Part four: Flood")
    sixty_frames_on(page)
    live = page.get_by_test_id("live")
    # One level whatever the machine can do.
    page.get_by_label("detail").select_option("plain edges")
    expect(live).to_have_attribute("data-drawn", re.compile(":60$"), timeout=60_000)
    expect(live).to_have_attribute("data-level", "plain", timeout=60_000)
    plain = rested_picture(page).astype(float)
    page.get_by_role("row", name="Optics").get_by_role("button", name="Optics", exact=True).click()
    page.get_by_role("button", name="letterbox").click()
    shape = page.get_by_role("spinbutton", name="shape")
    shape.click()
    shape.fill("2.39")
    shape.press("Enter")
    settled(page)
    revision = shot_of(page)["revision"]
    expect(live).to_have_attribute("data-drawn", f"{revision}:60", timeout=60_000)
    expect(live).to_have_attribute("data-level", "plain", timeout=60_000)
    boxed = rested_picture(page).astype(float)
    rows = boxed.shape[0]
    bar = (1 - 16 / 9 / 2.39) / 2
    for _ in range(10):
        # What a picture is drawn with for the first time is compiled aside; until then the last one stays.
        if not np.array_equal(boxed, plain):
            break
        page.wait_for_timeout(1500)
        boxed = rested_picture(page).astype(float)
    assert boxed[: int(rows * bar) - 2].max() <= 2
    inside = slice(int(rows * bar) + 3, int(rows * (1 - bar)) - 3)
    page.get_by_role("button", name="Undo").click()
    until(page, lambda: document(page)["optics"]["letterbox"]["aspect"] == 0)
    expect(live).to_have_attribute("data-drawn", f"{shot_of(page)['revision']}:60")
    for _ in range(20):
        # The first picture may have lacked what was still on its way; without the bars it is whole.
        plain = rested_picture(page).astype(float)
        if (off := np.abs(boxed[inside] - plain[inside]).mean()) < 2:
            break
    assert off < 2
    assert plain[: int(rows * bar) - 2].mean() > 20


def test_a_look_is_seen_while_pointed_at_and_given_with_a_press(page: Page) -> None:
    open_demo(page, "Part four: Flood")
    sixty_frames_on(page)
    expect(page.get_by_test_id("live")).to_have_attribute("data-drawn", re.compile(":60$"), timeout=60_000)
    page.get_by_role("row", name="Optics").get_by_role("button", name="Optics", exact=True).click()
    before = document(page)

    def colourless() -> bool:
        picture = live_picture(page)
        return float(np.ptp(picture, axis=2).mean()) < 0.5

    assert not colourless()
    silver = page.get_by_role("group", name="Whole looks").get_by_role("button", name="silver", exact=True)
    silver.hover()
    until(page, colourless)
    assert document(page) == before
    page.get_by_test_id("live").hover()
    until(page, lambda: not colourless())
    silver.click()
    until(page, lambda: document(page)["optics"]["grade"]["saturation"] == 0)
    page.get_by_test_id("live").hover()
    until(page, colourless)
    page.get_by_role("button", name="Undo").click()
    until(page, lambda: document(page) == before)


def test_a_dragged_key_snaps_to_a_marker_and_space_plays_after_a_click(page: Page) -> None:
    open_demo(page, "Part one")
    page.get_by_role("button", name="Unfold Key").click()
    key = page.get_by_role("button", name="Key of intensity at frame 60")
    expect(key).to_be_visible()
    # The button that unfolds the row has the focus, yet Space plays.
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name="Pause")).to_be_visible()
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name="Play", exact=True)).to_be_visible()
    expect(key).to_be_visible()

    sixty_frames_on(page)
    for _ in range(10):
        page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+M")
    until(page, lambda: [marker["frame"] for marker in document(page)["markers"]] == [70])
    page.keyboard.press("Home")

    # Five pixels beside the marker: held free by Alt it is the frame after it, else the marker's own.
    there, first = (middle(page, frame) for frame in (60, 0))
    wide = (there[0] - first[0]) / 60
    assert wide < 10
    page.mouse.move(*there)
    page.mouse.down()
    page.keyboard.down("Alt")
    page.mouse.move(there[0] + 10 * wide + 5, there[1], steps=5)
    until(page, lambda: intensity_frame(page) == 71)
    page.keyboard.up("Alt")
    page.mouse.move(there[0] + 10 * wide + 4.5, there[1])
    until(page, lambda: intensity_frame(page) == 70)
    page.mouse.up()


def middle(page: Page, frame: int) -> tuple[float, float]:
    """Where a key of the key light stands."""
    box = page.get_by_role("button", name=f"Key of intensity at frame {frame}").bounding_box()
    assert box is not None
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def intensity_frame(page: Page) -> float:
    found: float = document(page)["channels"]["/things/key/intensity"]["keys"][1]["frame"]
    return found


def test_cameras_are_cut_between(page: Page) -> None:
    open_demo(page, "Part one: First light")
    at = f"/api/shots/{page.url.rsplit('/', 1)[1]}"

    def document() -> Any:
        expect(page.get_by_text("saved", exact=True)).to_be_visible()
        return page.request.get(at).json()["document"]

    page.get_by_role("row", name="Camera").get_by_role("button", name="Camera", exact=True).click()
    for _ in range(2):
        page.keyboard.press("Shift+ArrowRight")
    first = document()["camera"]
    page.get_by_role("button", name="Another camera").click()
    expect(page.get_by_role("row", name="Camera 2")).to_be_visible()
    # What is dragged in the picture is the camera that is looked through.
    frame = page.locator(".picture-frame").bounding_box()
    assert frame is not None
    x, y = frame["x"] + frame["width"] / 2, frame["y"] + 12
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 90, y + 10, steps=4)
    page.mouse.up()
    page.wait_for_timeout(300)
    made = document()
    assert made["camera"] == first and made["cameras"]["camera-2"]["name"] == "Camera 2"
    cuts = made["changes"]["/through"]["keys"]
    assert cuts == [{"frame": 0, "value": ""}, {"frame": 20, "value": "camera-2"}]
    # By the keyboard back to the first one; where nothing changes there is no cut.
    for _ in range(2):
        page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("Shift+C")
    expect(page.locator(".camera-look")).to_have_count(3)
    page.get_by_role("row", name="Camera 2").get_by_role("button", name="Camera 2", exact=True).click()
    page.get_by_role("button", name="Remove it").click()
    expect(page.get_by_role("row", name="Camera 2")).to_have_count(0)
    assert "/through" not in document()["changes"] and not document()["cameras"]
    for _ in range(4):
        page.keyboard.press("Control+z")
        page.wait_for_timeout(150)


def test_strands_grow_lie_over_one_another_and_eases_are_kept(page: Page) -> None:
    open_demo(page, "Main title")
    page.get_by_role("button", name="Unfold Camera").click()
    row = page.get_by_role("row", name="position x", exact=True)
    assert row.locator(".speed").count() == 0
    edge = page.get_by_role("separator", name="Height of position x")
    before = row.bounding_box()
    assert before is not None
    edge.focus()
    for _ in range(3):
        page.keyboard.press("ArrowDown")
    after = row.bounding_box()
    assert after is not None and after["height"] == pytest.approx(before["height"] + 60, abs=2)
    # Tall enough it shows how fast the value moves.
    expect(row.locator(".speed")).to_have_count(1)
    page.get_by_role("button", name="Strands of Camera over one another").click()
    together = page.get_by_role("row", name="All values of Camera")
    expect(together.locator(".strand")).to_have_count(4)
    # A key is taken from among them, and its ease kept under a name.
    together.locator("[aria-label^='Key of']").last.click()
    page.get_by_role("button", name="past and back", exact=True).click()
    page.get_by_role("button", name="Eases of your own").click()
    page.get_by_label("Name of the ease").fill("over the quay")
    page.keyboard.press("Enter")
    mine = page.get_by_role("button", name="over the quay")
    expect(mine).to_be_visible()
    kept = page.request.get("/api/library/eases").json()
    assert [(one["name"], one["ease"]["y1"]) for one in kept] == [("over the quay", 1.4)]
    page.keyboard.press("Escape")
    page.get_by_role("button", name="hold", exact=True).click()
    page.get_by_role("button", name="Eases of your own").click()
    mine.click()
    expect(page.get_by_role("button", name="past and back", exact=True)).to_have_attribute(
        "aria-pressed", "true"
    )
    page.request.delete("/api/library/eases/over the quay")
    settled(page)


def middle_at_rest(mark: Locator) -> tuple[float, float]:
    """The middle of a mark once it stays where it is: marks follow the picture as it is drawn."""
    before = None
    while (box := mark.bounding_box()) != before or box is None:
        before = box
        mark.page.wait_for_timeout(400)
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def test_a_path_is_dragged_in_the_picture_and_made_even(page: Page) -> None:
    open_demo(page, "Part two: Ebb")
    at = f"/api/shots/{page.url.rsplit('/', 1)[1]}"
    before = shot_of(page)
    title = next(name for name, thing in before["document"]["things"].items() if thing["kind"] == "title")
    pointer = f"/things/{title}/place/position"
    keys = {"x": [(0, -0.6), (10, 0.0), (70, 0.5)], "y": [(0, 0.0), (10, 0.3), (70, 0.0)]}
    patch = [
        {
            "op": "add",
            "path": "/channels/" + f"{pointer}/{axis}".replace("/", "~1"),
            "value": {"keys": [{"frame": f, "value": v} for f, v in row]},
        }
        for axis, row in keys.items()
    ]
    page.request.post(f"{at}/edits", data={"base": before["revision"], "patch": patch})
    page.locator(".time-row .thing").first.click()
    page.get_by_role("button", name="guides").click()
    page.get_by_label("path of what is pointed at").check()
    page.get_by_label("where it was and will be").check()
    page.keyboard.press("Escape")
    for _ in range(2):
        page.keyboard.press("Shift+ArrowRight")
    expect(page.locator(".ghost")).to_have_count(6)
    marks = page.locator(".way-key")
    expect(marks).to_have_count(3)
    x, y = middle_at_rest(marks.nth(1))
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 30, y - 25, steps=4)
    page.mouse.up()
    settled(page)

    def channel(axis: str) -> Any:
        return shot_of(page)["document"]["channels"][f"{pointer}/{axis}"]["keys"]

    assert channel("x")[1]["value"] > 0.03 and channel("y")[1]["value"] > 0.32
    assert channel("x")[1]["frame"] == 10
    # A handle of the path bends it, and its fellow on the other side with it.
    in_picture = page.locator(".motion-in-picture")
    x, y = middle_at_rest(in_picture.get_by_role("button", name="Handle leaving frame 10"))
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y + 30, steps=4)
    page.mouse.up()
    settled(page)
    assert channel("y")[1]["ease"]["kind"] == "handles" and channel("y")[1]["ease"]["out"] < 0
    assert channel("y")[0]["ease"]["back"] > 0
    # In the plot it is bent, too.
    before_out = channel("x")[1]["ease"]["out"]
    in_plot = page.locator(".motion-path").get_by_role("button", name="Handle leaving frame 10")
    x, y = middle_at_rest(in_plot)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 18, y + 4, steps=4)
    page.mouse.up()
    settled(page)
    assert channel("x")[1]["ease"]["out"] > before_out + 0.05
    # Chosen all together in their row, they are moved to where the speed is even.
    page.get_by_role("button", name=re.compile("^Keys of .* at frame 0$")).first.click()
    for frame in (10, 70):
        page.get_by_role("button", name=re.compile(f"^Keys of .* at frame {frame}$")).first.click(
            modifiers=["Shift"]
        )
    page.get_by_role("button", name="More for the chosen keys").click()
    page.get_by_role("menuitem", name=re.compile("Even speed")).click()
    # The core makes that edit: it is there a moment later.
    for _ in range(100):
        if channel("x")[1]["frame"] != 10:
            break
        page.wait_for_timeout(100)
    # The first way is about as long as the second one: its end comes later.
    assert 25 < channel("x")[1]["frame"] < 55
    assert channel("x")[1]["frame"] == channel("y")[1]["frame"]
    for _ in range(3):
        page.keyboard.press("Control+z")
        page.wait_for_timeout(200)
