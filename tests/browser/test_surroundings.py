"""Rooms as pictures, and air that things fade in."""

from __future__ import annotations

import numpy as np
import pytest
from playwright.sync_api import Page, expect

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
