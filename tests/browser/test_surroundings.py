"""Rooms as pictures, and air that things fade in."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from playwright.sync_api import Page, expect

from dreizack.core.document import read_shot
from dreizack.core.media.finishing import finishing
from dreizack.core.optics import Passes, finished
from dreizack.core.render import Quality, Stage, trace
from dreizack.core.scene import BodyStore, bake, frame_state

from .test_main_job import open_demo, rested_picture, settled, shot_of
from .test_motion import until

pytestmark = pytest.mark.browser


def test_a_room_is_chosen_by_its_picture_and_air_takes_contrast(page: Page) -> None:
    open_demo(page, "Part three: Slack")
    page.get_by_label("detail").select_option("plain edges")
    page.get_by_role("row", name="Surroundings").get_by_role(
        "button", name="Surroundings", exact=True
    ).click()
    rooms = page.get_by_role("radiogroup", name="room").get_by_role("radio")
    here = "[...document.querySelectorAll('.rooms img')].filter(i => i.naturalWidth === 192).length"
    until(page, lambda: page.evaluate(here) == 14)
    before = shot_of(page)["document"]["surroundings"]["studio"]
    other = next(name for one in rooms.all() if (name := one.get_attribute("aria-label")) != before)
    page.get_by_role("radio", name=other, exact=True).click()
    settled(page)
    assert shot_of(page)["document"]["surroundings"]["studio"] == other
    page.keyboard.press("Control+z")
    until(page, lambda: shot_of(page)["document"]["surroundings"]["studio"] == before)
    clear = rested_picture(page).mean(axis=2)
    density = page.get_by_role("spinbutton", name="density")
    density.click()
    density.fill("0.4")
    density.press("Enter")
    settled(page)
    hazy = rested_picture(page).mean(axis=2)
    # Everything goes towards one light.
    assert np.std(hazy) < 0.7 * np.std(clear)
    page.get_by_role("button", name="Undo").click()
    until(page, lambda: shot_of(page)["document"]["surroundings"]["air"]["density"] == 0)
    expect(density).to_have_value("0")


def test_letters_throw_shadows_into_the_air_as_they_do_in_the_finished_picture(page: Page) -> None:
    """A spot behind words in haze: the live picture is as bright as the core's, region by region."""
    open_demo(page, "Part two")
    production = shot_of(page)["production"]
    size = {"width": 640, "height": 360, "rate": {"num": 25, "den": 1}, "frames": 10}
    made = page.request.post(
        f"/api/productions/{production}/shots", data={"name": "Haze", "words": "EBB", "format": size}
    ).json()["id"]
    spot = {
        "position": {"x": 0.6, "y": 0.9, "z": -2.2},
        "aim": {"x": 0, "y": 0.2, "z": 0},
        "source": "spot",
        "intensity": 0.5,
        "width": 0.25,
    }
    patch = [
        {"op": "replace", "path": "/surroundings/air/density", "value": 0.12},
        {"op": "replace", "path": "/surroundings/strength", "value": -6.0},
        *({"op": "replace", "path": f"/things/rim/{name}", "value": value} for name, value in spot.items()),
        *({"op": "replace", "path": f"/things/{name}/on", "value": False} for name in ("key", "fill")),
    ]
    revision = page.request.get(f"/api/shots/{made}").json()["revision"]
    assert page.request.post(f"/api/shots/{made}/edits", data={"base": revision, "patch": patch}).ok
    page.goto(f"/shots/{made}")
    until(page, lambda: page.evaluate("!!document.querySelector('[data-testid=live]')?.dataset.drawn"))
    page.get_by_label("detail").select_option("plain edges")
    live = rested_picture(page)
    shot = read_shot(page.request.get(f"/api/shots/{made}/file").text())
    state = frame_state(shot, bake(shot, np.array([0.0])), 0)
    stage = Stage(BodyStore())
    stage.show(state)
    rgba = trace(stage, 320, 180, Quality(64, "high")).rgba
    picture = finished(Passes(rgba), finishing(state, (320, 180)))[..., ::-1]
    seen, wanted = (
        cv2.resize(one[..., :3].astype(np.float32), (16, 9), interpolation=cv2.INTER_AREA).mean(axis=2)
        for one in (live, picture)
    )
    assert wanted.max() - wanted.min() > 40
    # Lit where the lamp shines past the letters, dark where they stand before it.
    assert np.corrcoef(seen.ravel(), wanted.ravel())[0, 1] > 0.97
    assert np.abs(seen - wanted).mean() < 10
