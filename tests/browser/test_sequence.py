"""A sequence in the real interface: looked at, cut, ordered in formats and versions, handed over."""

from __future__ import annotations

import json
import re
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import pytest
from playwright.sync_api import Page, expect

from dreizack.core.media import probe

pytestmark = pytest.mark.browser


def opened(page: Page) -> str:
    """A sequence of its own, of the demo's quickest shots; its address below the API."""
    productions = page.request.get("/api/productions").json()
    production = next(one["id"] for one in productions if one["name"] == "SLACK WATER")
    shots = {s["name"]: s["id"] for s in page.request.get(f"/api/productions/{production}").json()["shots"]}
    names = ("Part one: First light", "Part two: Ebb")
    made = page.request.post(
        f"/api/productions/{production}/sequences",
        data={"name": "Two parts", "width": 160, "height": 90, "shots": [shots[name] for name in names]},
    ).json()
    page.goto(f"/sequences/{made['id']}")
    expect(page.get_by_label("Name of the sequence")).to_have_value("Two parts")
    page.get_by_label("make the others meanwhile").uncheck()
    return f"/api/sequences/{made['id']}"


def document(page: Page, at: str) -> Any:
    # An edit is on its way a moment after the key that made it.
    page.wait_for_timeout(150)
    expect(page.get_by_text("saved", exact=True)).to_be_visible()
    return page.request.get(at).json()["document"]


def test_pieces_are_cut_trimmed_moved_and_come_in_softly(page: Page) -> None:
    at = opened(page)
    frame = page.locator(".sequence-frame")
    expect(frame).to_have_attribute("data-drawn", "0", timeout=120_000)
    # Cut in two by the keyboard, where one stands.
    ruler = page.get_by_role("slider", name="Frame")
    for _ in range(30):
        page.keyboard.press("ArrowRight")
    expect(ruler).to_have_attribute("aria-valuenow", "30")
    page.keyboard.press("x")
    pieces = page.locator(".piece-body")
    expect(pieces).to_have_count(3)
    assert [(p["frames"], p["skip"]) for p in document(page, at)["line"]] == [(30, 0), (70, 30), (90, 0)]
    # The last one comes in through a dissolve, by the bench.
    pieces.nth(2).click()
    page.get_by_label("piece 3 comes in by").select_option("dissolve")
    expect(page.get_by_role("spinbutton", name="over")).to_have_attribute("aria-valuenow", "12")
    document(page, at)
    assert page.request.get(at).json()["starts"] == [0, 30, 88]
    # Dragged by its end it is shorter; one gesture is one undo.
    box = pieces.nth(2).bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + box["width"] - 3, box["y"] + 20)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] - 60, box["y"] + 20, steps=6)
    page.mouse.up()
    shorter = document(page, at)["line"][2]["frames"]
    assert 60 < shorter < 88
    page.keyboard.press("Control+z")
    expect(page.get_by_text(re.compile(r"^ ?frame \d+ of 178$"))).to_be_visible()
    assert document(page, at)["line"][2]["frames"] == 90
    # To another place by the keyboard, and by the mouse.
    page.keyboard.press("Alt+ArrowLeft")
    page.keyboard.press("Alt+ArrowLeft")
    assert document(page, at)["line"][0]["name"] == "Part two: Ebb"
    first = pieces.nth(0).bounding_box()
    assert first is not None
    page.mouse.move(first["x"] + first["width"] / 2, first["y"] + 20)
    page.mouse.down()
    page.mouse.move(first["x"] + 900, first["y"] + 20, steps=6)
    expect(page.locator(".piece-drop")).to_be_visible()
    page.mouse.up()
    assert document(page, at)["line"][2]["name"] == "Part two: Ebb"
    # Taken off by a key, and back.
    page.keyboard.press("Delete")
    expect(pieces).to_have_count(2)
    page.keyboard.press("Control+z")
    expect(pieces).to_have_count(3)


def test_frames_that_are_not_kept_are_seen_live(page: Page) -> None:
    # No picture comes: what is seen is drawn here.
    page.route("**/frame?*", lambda route: route.abort())
    at = opened(page)
    found = page.request.get(at).json()
    patch = [{"op": "replace", "path": "/line/1/transition", "value": {"kind": "dissolve", "frames": 10}}]
    assert page.request.post(f"{at}/edits", data={"base": found["revision"], "patch": patch}).ok
    seen = page.locator("canvas.live:not(.unseen)")
    expect(seen).to_have_attribute("data-drawn", "0", timeout=120_000)
    for _ in range(30):
        page.keyboard.press("ArrowRight")
    expect(seen).to_have_attribute("data-drawn", "30")
    gauges = page.locator(".sequence-gauges")
    expect(gauges).to_contain_text("live view; this frame is being traced")
    picture = cv2.imdecode(np.frombuffer(seen.screenshot(), np.uint8), cv2.IMREAD_COLOR)
    assert picture.std() > 10
    # Past the middle of the dissolve it is the second shot, and what is left out is said.
    for _ in range(67):
        page.keyboard.press("ArrowRight")
    second = found["document"]["line"][1]["shot"]
    expect(page.locator(f"canvas.live[data-shot='{second}']:not(.unseen)")).to_have_attribute(
        "data-drawn", "7", timeout=120_000
    )
    expect(gauges).to_contain_text("live view without the transition")


def test_one_order_of_two_versions_is_delivered_and_handed_over(page: Page, tmp_path: Path) -> None:
    at = opened(page)
    found = page.request.get(at).json()
    title = next(key for heading, key in found["columns"].items() if heading.startswith("Part two: Ebb / "))
    versions = [
        {"name": "english", "width": 160, "height": 90},
        {"name": "deutsch tall", "width": 90, "height": 160, "texts": {title: "EBBE"}},
    ]
    patch = [
        {"op": "replace", "path": "/versions", "value": versions},
        {"op": "replace", "path": "/line/0/frames", "value": 3},
        {"op": "replace", "path": "/line/1/frames", "value": 3},
    ]
    assert page.request.post(f"{at}/edits", data={"base": found["revision"], "patch": patch}).ok
    # What it looks like in another version, before it is ordered.
    page.get_by_role("button", name="Look at deutsch tall").click()
    expect(page.locator(".sequence-frame")).to_have_attribute("data-drawn", "0", timeout=120_000)
    page.get_by_role("button", name="Deliver").click()
    form = page.get_by_role("form", name="Order deliveries")
    expect(form.get_by_label("To look at")).to_contain_text("words are read in", timeout=60_000)
    expect(form.get_by_text("2 files, 6 frames each")).to_be_visible()
    form.get_by_role("radio", name="draft").click()
    form.get_by_role("button", name="Order").click()
    # One stays with the sequence; a notice leads to what was ordered.
    page.get_by_role("button", name="Deliveries").click()
    page.wait_for_url("**/deliveries")
    orders = page.get_by_role("article", name="Delivery of Two parts")
    expect(orders).to_have_count(2)
    for order in (orders.nth(0), orders.nth(1)):
        expect(order.get_by_text("complete")).to_be_visible(timeout=240_000)
    sizes = set()
    for order in (orders.nth(0), orders.nth(1)):
        with page.expect_download() as download:
            order.get_by_role("link", name="Download").click()
        path = tmp_path / download.value.suggested_filename
        download.value.save_as(path)
        told = probe(path)
        sizes.add((told["width"], told["height"], told["frames"]))
    assert sizes == {(160, 90, 6), (90, 160, 6)}
    # Taken off the list.
    orders.nth(0).get_by_role("button", name="Remove the delivery").click()
    expect(orders).to_have_count(1)
    # And as a timeline that comes in again.
    production = found["production"]
    timeline = page.request.get(f"{at}/file?kind=otio").body()
    assert json.loads(timeline)["OTIO_SCHEMA"].startswith("Timeline")
    page.goto(f"/productions/{production}")
    (tmp_path / "back.otio").write_bytes(timeline)
    page.get_by_label("Shot file or timeline").set_input_files(tmp_path / "back.otio")
    expect(page.get_by_label("Name of the sequence")).to_have_value("back")
    expect(page.locator(".piece-body")).to_have_count(2)


def change(page: Page, at: str, *patch: dict[str, Any]) -> None:
    """An edit by somebody else, which the page hears of."""
    revision = page.request.get(at).json()["revision"]
    answer = page.request.post(f"{at}/edits", data={"base": revision, "patch": list(patch)})
    assert answer.ok, answer.text()


def test_framed_by_hand_with_levels_and_another_sequence_on_the_line(page: Page) -> None:
    at = opened(page)
    tall = {"name": "tall", "width": 90, "height": 160}
    bell = {"name": "Bell", "file": "bell.wav", "start": 10}
    change(page, at, {"op": "add", "path": "/versions/-", "value": tall})
    change(page, at, {"op": "add", "path": "/sounds/bell", "value": bell})
    # What was changed beside the page is there, before anything is changed on it.
    expect(page.locator("svg.sequence-sound")).to_have_count(1)
    frame = page.locator(".sequence-frame")
    # A version of another shape is framed by hand: the picture is dragged.
    page.get_by_role("button", name="Look at tall").click()
    page.locator(".piece-body").first.click()
    page.get_by_label("by hand").check()
    expect(page.get_by_role("spinbutton", name="across")).to_have_attribute("aria-valuenow", "50")
    expect(frame).to_have_attribute("data-drawn", "0", timeout=120_000)
    box = frame.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 20, box["y"] + 40)
    page.mouse.down()
    page.mouse.move(box["x"] + 20 + box["width"] / 2, box["y"] + 40, steps=5)
    page.mouse.up()
    first = page.request.get(at).json()["document"]["line"][0]["shot"]
    for _ in range(100):
        if first in document(page, at)["versions"][0]["crops"]:
            break
        page.wait_for_timeout(100)
    crop = document(page, at)["versions"][0]["crops"][first]
    # Half of what is seen is some 23 per cent of what lies beside it: 16:9 in 9:16.
    assert crop["x"] == pytest.approx(0.5 - 0.5 / ((16 / 9) ** 2 - 1), abs=0.02) and crop["y"] == 0.5
    expect(frame).to_have_attribute("data-drawn", "0", timeout=120_000)
    # The cut is moved by the keyboard: what follows stays where it is.
    page.keyboard.press("Alt+Shift+ArrowRight")
    assert [piece["frames"] for piece in document(page, at)["line"]] == [101, 89]
    assert page.request.get(at).json()["total"] == 190
    # A level of the bell by a double click, another one in the bench, at the present frame.
    row = page.locator("svg.sequence-sound")
    row.scroll_into_view_if_needed()
    line = row.bounding_box()
    assert line is not None
    page.mouse.dblclick(line["x"] + 300, line["y"] + 2 + 24 * 12 / 54)
    expect(page.locator(".sound-levels circle")).to_have_count(1)
    point = page.locator(".sound-levels circle")
    begun = float(point.get_attribute("aria-valuenow") or "nan")
    point.focus()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    (level,) = document(page, at)["sounds"]["bell"]["levels"]
    assert level["frame"] > 20 and level["gain"] == pytest.approx(begun - 1, abs=1e-6) and abs(begun) < 2
    # The demo's opening lies on the line as one piece.
    page.get_by_role("button", name="The sequence").click()
    page.get_by_role("button", name=re.compile("^Sequence Opening")).click()
    expect(page.locator(".piece-body")).to_have_count(3)
    piece = document(page, at)["line"][2]
    assert piece["kind"] == "sequence" and page.request.get(at).json()["total"] == 190 + piece["frames"]
    expect(page.get_by_role("link", name="open the sequence")).to_be_visible()
