"""Every form a title can take, made by hand in the real interface."""

from __future__ import annotations

import io
import re
from pathlib import Path

import cv2
import numpy as np
import pytest
import trimesh
from fontTools.ttLib import TTFont
from playwright.sync_api import FilePayload, Page, expect

from bench.browser import until
from dreizack.core.finish import PRESETS
from dreizack.core.lettering import typefaces

from .test_main_job import drawn, drawn_after, settled, shot_of

pytestmark = [pytest.mark.browser]


@pytest.fixture
def shot(page: Page) -> Page:
    """A fresh shot with the words EBB, its plot put away."""
    production = page.request.post("/api/productions", data={"name": "Forms"}).json()["id"]
    wish = {"name": "Trial", "format": {"width": 1280, "height": 720}, "words": "EBB"}
    made = page.request.post(f"/api/productions/{production}/shots", data=wish).json()["id"]
    page.goto(f"/shots/{made}")
    until(page, "document.querySelector('[data-testid=live]')?.dataset.drawn !== undefined")
    page.keyboard.press("p")
    page.get_by_role("row", name="EBB").get_by_role("button", name="EBB", exact=True).click()
    return page


def title(page: Page) -> dict:
    settled(page)
    return shot_of(page)["document"]["things"]["title"]


def spots(page: Page) -> dict[str, tuple[float, float]]:
    """A place of each part of the title's letters in the picture, found as the hand would: by the pointer's
    shape."""
    box = page.get_by_test_id("live").bounding_box()
    assert box
    found: dict[str, tuple[float, float]] = {}
    for y in np.linspace(0.3, 0.7, 9):
        for x in np.linspace(0.12, 0.9, 60):
            at = (box["x"] + x * box["width"], box["y"] + y * box["height"])
            page.mouse.move(*at)
            page.wait_for_timeout(95)
            cursor = page.locator(".picture-frame").evaluate("e => e.style.cursor")
            if cursor:
                found.setdefault(cursor, at)
            if {"ew-resize", "nesw-resize"} <= set(found):
                return found
    return found


def drag(page: Page, start: tuple[float, float], dx: float, dy: float) -> None:
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(start[0] + dx / 2, start[1] + dy / 2, steps=3)
    page.mouse.move(start[0] + dx, start[1] + dy, steps=3)
    page.mouse.up()


def test_edge_and_wall_are_dragged_in_the_picture(shot: Page) -> None:
    before = title(shot)["body"]
    found = spots(shot)
    camera = shot_of(shot)["document"]["camera"]
    drag(shot, found["ew-resize"], 14, 9)
    edge = title(shot)["body"]
    assert (
        edge["front"]["reach"] != before["front"]["reach"] or edge["back"]["reach"] != before["back"]["reach"]
    )
    drag(shot, spots(shot)["nesw-resize"], 25, -12)
    assert title(shot)["body"]["depth"] != before["depth"]
    assert shot_of(shot)["document"]["camera"] == camera, "shaping leaves the view alone"


def test_ranges_gaps_and_single_letters(shot: Page) -> None:
    words = shot.get_by_label("Words of the title")
    words.click()
    for key in ("Home", "ArrowRight", "Shift+ArrowRight"):
        shot.keyboard.press(key)
    shot.get_by_role("button", name="Set “B” differently").click()
    assert [(r["start"], r["end"], r["size"]) for r in title(shot)["ranges"]] == [(1, 2, 1.25)]
    # A gap is kerned with the keyboard.
    shot.get_by_role("button", name="drag in the picture").click()
    gap = shot.get_by_role("slider", name="Gap after letter 1")
    gap.focus()
    shot.keyboard.press("Shift+ArrowRight")
    shot.keyboard.press("ArrowRight")
    assert title(shot)["setting"]["gaps"]["0"]["value"] == 11
    shot.get_by_role("button", name="done", exact=True).click()
    # A letter is moved by itself with the mouse.
    shot.get_by_role("radiogroup", name="What moves by itself").get_by_role("radio", name="letter").click()
    box = shot.get_by_test_id("live").bounding_box()
    assert box
    middle = (box["x"] + 0.22 * box["width"], box["y"] + 0.5 * box["height"])
    shot.mouse.click(*middle)
    drag(shot, middle, 0, -60)
    poses = title(shot)["setting"]["poses"]
    assert list(poses) == ["letter-0"] and poses["letter-0"]["move"]["y"] > 0.05
    shot.keyboard.press("Control+z")
    for _ in range(50):
        if not title(shot)["setting"]["poses"]:
            break
        shot.wait_for_timeout(100)
    assert title(shot)["setting"]["poses"] == {}


def test_lines_outlines_shells_deformations_and_drawn_profiles(shot: Page) -> None:
    for group in ("line of the words", "outline", "shells", "deformation", "sets"):
        shot.locator(".bench .group-fold", has_text=re.compile(f"^{group}$")).click()
    shot.get_by_role("radio", name="arc").click()
    shot.get_by_label("hollow", exact=True).check()
    shot.get_by_role("button", name="Add a shell").click()
    shot.get_by_role("button", name="Add a deformation").click()
    shot.get_by_role("button", name="Add a set").click()
    expect(shot.get_by_role("group", name="Deformation 1")).to_be_visible()
    shot.get_by_role("group", name="Deformation 1").get_by_role("radio", name="twist").click()
    found = title(shot)
    assert (
        found["path"]["kind"] == "arc"
        and found["outlines"]["hollow"]
        and len(found["shells"]) == len(found["sets"]) == 1
    )
    assert found["deformations"][0]["kind"] == "twist"
    # What a deformation does can be keyed, and goes with it.
    shot.get_by_role("group", name="Deformation 1").get_by_label("Key for amount").click()
    settled(shot)
    assert "/things/title/deformations/0/amount" in shot_of(shot)["document"]["channels"]
    shot.get_by_role("button", name="Remove deformation 1").click()
    expect(shot.get_by_role("group", name="Deformation 1")).to_have_count(0)
    settled(shot)
    assert title(shot)["deformations"] == [] and shot_of(shot)["document"]["channels"] == {}
    # A profile is drawn, saved, and found again.
    front = shot.get_by_role("region", name="front edge").first
    front.get_by_role("radio", name="drawn").click()
    point = front.get_by_label(re.compile("Point 2"))
    point.focus()
    shot.keyboard.press("Shift+ArrowUp")
    drawn_points = title(shot)["body"]["front"]["drawn"]
    assert drawn_points[2][1] == pytest.approx(0.65)
    front.get_by_label("Name to save the profile under").fill("gunwale")
    front.get_by_role("button", name="Save", exact=True).click()
    front.get_by_role("button", name="Saved profiles").click()
    expect(shot.get_by_role("menuitem", name="gunwale")).to_be_visible()
    shot.get_by_role("menuitem", name="sweep").click()
    assert title(shot)["body"]["front"]["drawn"] != drawn_points


def test_a_typeface_is_brought_and_filtered(shot: Page) -> None:
    made = TTFont(next(face.path for face in typefaces() if face.name == "saira-stencil-one"))
    for record in made["name"].names:
        if record.nameID in (1, 16):
            record.string = "Tallow Stencil"
    out = io.BytesIO()
    made.save(out)
    shot.get_by_role("button", name=re.compile("^Typeface:")).click()
    file: FilePayload = {"name": "tallow.ttf", "mimeType": "font/ttf", "buffer": out.getvalue()}
    shot.get_by_label("Font file").set_input_files(file)
    choice = shot.get_by_role("menuitem", name="Tallow Stencil")
    expect(choice).to_be_visible()
    before = shot.get_by_role("menuitem").count()
    shot.get_by_label("holds up when extruded").check()
    assert 0 < shot.get_by_role("menuitem").count() < before
    shot.get_by_label("holds up when extruded").uncheck()
    choice.click()
    assert title(shot)["setting"]["typeface"].startswith("tallow-stencil")
    shot.get_by_role("button", name=re.compile("^Typeface:")).click()
    damaged: FilePayload = {"name": "broken.ttf", "mimeType": "font/ttf", "buffer": out.getvalue()[:3000]}
    shot.get_by_label("Font file").set_input_files(damaged)
    expect(shot.get_by_role("alert")).to_contain_text("broken.ttf: The font file is damaged")


def test_ranges_and_gaps_stay_with_their_letters_when_words_are_retyped(shot: Page) -> None:
    words = shot.get_by_label("Words of the title")
    words.fill("EBB\nTIDE")
    words.focus()
    for key in ("Control+End", "Shift+ArrowLeft", "Shift+ArrowLeft"):
        shot.keyboard.press(key)
    shot.get_by_role("button", name="Set “DE” differently").click()
    # Gaps lie between neighbours of one line; this one is dragged.
    shot.get_by_role("button", name="drag in the picture").click()
    expect(shot.get_by_role("slider", name=re.compile("Gap after letter"))).to_have_count(5)
    box = shot.get_by_role("slider", name="Gap after letter 5").bounding_box()
    assert box
    drag(shot, (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2), 30, 0)
    gaps = title(shot)["setting"]["gaps"]
    assert list(gaps) == ["4"] and gaps["4"]["value"] > 10
    assert shot.get_by_role("slider", name="Gap after letter 5").is_visible(), (
        "dragging a gap points at nothing else"
    )
    words.focus()
    shot.keyboard.press("Control+Home")
    shot.keyboard.type("THE ")
    found = title(shot)
    assert (
        found["words"] == "THE EBB\nTIDE"
        and found["words"][found["ranges"][0]["start"] : found["ranges"][0]["end"]] == "DE"
    )
    assert found["setting"]["gaps"] == {"8": gaps["4"]}


def test_axes_of_a_typeface_are_keyed_and_the_line_of_words_is_drawn(shot: Page) -> None:
    shot.get_by_role("button", name=re.compile("^Typeface:")).click()
    shot.get_by_role("menuitem", name="Recursive").click()
    weight = shot.get_by_role("spinbutton", name="weight")
    expect(weight).to_have_value("300")
    shot.get_by_label("Key for weight").click()
    settled(shot)
    shot.keyboard.press("End")
    weight.click()
    weight.fill("900")
    weight.press("Enter")
    settled(shot)
    keys = shot_of(shot)["document"]["channels"]["/things/title/setting/axes/wght/value"]["keys"]
    assert [key["value"] for key in keys] == [300, 900]
    # An axis that was never touched goes on from where the typeface has it.
    shot.get_by_role("spinbutton", name="slant").press("ArrowDown")
    assert title(shot)["setting"]["axes"]["slnt"]["value"] < 0
    shot.locator(".bench .group-fold", has_text=re.compile("^line of the words$")).click()
    shot.get_by_role("radiogroup", name="line", exact=True).get_by_role("radio", name="drawn").click()
    before = title(shot)["path"]["drawn"]
    shot.get_by_role("button", name="Draw the line").click()
    paper = shot.get_by_role("application").bounding_box()
    assert paper
    shot.mouse.click(paper["x"] + 0.9 * paper["width"], paper["y"] + 0.2 * paper["height"])
    expect(shot.locator(".surface-tools")).to_contain_text("3 points")
    shot.get_by_role("button", name="Done").click()
    after = title(shot)["path"]["drawn"]
    assert after.startswith(before) and after.count("L") == 1


def test_a_finish_of_the_library_is_put_on(shot: Page) -> None:
    shot.get_by_role("region", name="finish", exact=True).get_by_role("button", name="worn brass").click()
    choices = shot.get_by_role("group", name="Finishes")
    expect(choices.get_by_role("button")).to_have_count(len(PRESETS))
    # Chips are pictures the renderer made.
    expect(choices.get_by_role("button", name="worn brass").locator("img")).to_be_visible()
    choices.get_by_role("button", name="hull black").click()
    shot.keyboard.press("Escape")
    found = title(shot)["finish"]
    assert (found["clearcoat"], found["metallic"]) == (1, 0)
    drawn_after(shot, drawn(shot)[0] - 1)
    coat = shot.get_by_role("spinbutton", name="clearcoat", exact=True)
    expect(coat).to_have_value("1")
    coat.press("ArrowDown")
    assert title(shot)["finish"]["clearcoat"] < 1
    expect(
        shot.get_by_role("region", name="finish", exact=True).get_by_role("button", name="Choose a finish")
    ).to_be_visible()


def test_detail_of_the_live_view_is_chosen_and_kept(shot: Page) -> None:
    live = shot.get_by_test_id("live")
    expect(live).to_have_attribute("data-level", "fine", timeout=60_000)
    fine = int(live.get_attribute("width") or 0)
    shot.get_by_label("detail").select_option("quick")
    expect(live).to_have_attribute("data-level", "quick")
    assert int(live.get_attribute("width") or 0) < 0.6 * fine
    shot.reload()
    expect(shot.get_by_label("detail")).to_have_value("quick")
    expect(live).to_have_attribute("data-level", "quick")


def test_marks_are_imported_drawn_and_traced_and_sheets_are_cut(shot: Page, tmp_path: Path) -> None:
    bring = shot.get_by_label("File to bring").first
    drawing = (
        b'<svg xmlns="http://www.w3.org/2000/svg"><rect width="6" height="4" fill="#c20"/>'
        b'<circle cx="12" cy="2" r="2"/><text>no</text></svg>'
    )
    bring.set_input_files({"name": "ensign.svg", "mimeType": "image/svg+xml", "buffer": drawing})
    expect(shot.get_by_role("alert")).to_contain_text("Left out: text")
    settled(shot)
    mark = shot_of(shot)["document"]["things"]["mark"]
    assert mark["name"] == "ensign" and len(mark["pieces"]) == 2
    # Its outline is drawn on: a point is moved with the keyboard.
    shot.get_by_role("button", name="draw", exact=True).first.click()
    paper = shot.get_by_role("application")
    paper.locator(".draw-node").first.click()
    shot.keyboard.press("Shift+ArrowUp")
    settled(shot)
    assert shot_of(shot)["document"]["things"]["mark"]["pieces"][0]["path"] != mark["pieces"][0]["path"]
    shot.get_by_role("button", name="Done").click()
    # A picture is traced.
    image = np.full((160, 160, 3), 255, np.uint8)
    cv2.circle(image, (80, 80), 60, (0, 0, 0), -1, cv2.LINE_AA)
    bring.set_input_files(
        {"name": "buoy.png", "mimeType": "image/png", "buffer": cv2.imencode(".png", image)[1].tobytes()}
    )
    make = shot.get_by_role("button", name="Make it a mark")
    expect(make).to_be_enabled()
    expect(shot.locator(".surface-tools [role=status]")).to_contain_text("points")
    # By the colour clicked at: the paper's white has the hole of the disc.
    shot.get_by_role("radio", name="colour").click()
    picture = shot.locator(".surface-paper svg")
    box = picture.bounding_box()
    assert box
    shot.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    expect(shot.locator(".surface-tools input[type=color]")).to_have_value("#000000")
    shot.mouse.click(box["x"] + box["width"] / 2, box["y"] + 0.06 * box["height"])
    expect(shot.locator(".surface-tools input[type=color]")).to_have_value("#ffffff")
    expect(make).to_be_enabled()
    shot.get_by_role("radio", name="lightness").click()
    expect(make).to_be_enabled()
    make.click()
    settled(shot)
    assert shot_of(shot)["document"]["things"]["mark-2"]["pieces"][0]["path"].count("C") >= 2
    # A mesh is brought.
    ring = trimesh.creation.torus(2, 0.5).export(file_type="stl")
    bring.set_input_files({"name": "ring.stl", "mimeType": "model/stl", "buffer": ring})
    expect(shot.get_by_role("row", name="ring")).to_be_visible()
    # A sheet takes the title out of itself.
    shot.get_by_role("button", name="More").click()
    shot.get_by_role("menuitem", name="Sheet").click()
    shot.get_by_label("Title that is cut out").select_option(value="title")
    settled(shot)
    sheet = shot_of(shot)["document"]["things"]["sheet"]
    assert sheet["cut"] == "title"
    drawn_after(shot, drawn(shot)[0] - 1)
    with shot.expect_download() as waiting:
        shot.get_by_role("button", name="Export the body").click()
        shot.get_by_role("menuitem", name=re.compile("^STL")).click()
    file = tmp_path / "sheet.stl"
    waiting.value.save_as(file)
    mesh = trimesh.load_mesh(file)
    assert (
        mesh.is_watertight and 0 < mesh.volume < sheet["width"] * sheet["height"] * sheet["thickness"] * 0.97
    )
