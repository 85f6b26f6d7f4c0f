"""A photograph that words are to stand in: its camera told by edges, how high it is by a known distance."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from playwright.sync_api import Page, expect

from dreizack.core.document import Format, Shot, Vector
from dreizack.core.scene import Sight, sight

from ..api.test_api import unpack
from .test_main_job import settled

pytestmark = pytest.mark.browser

SIZE = (960, 540)
HEIGHT = 1.4
CORNERS = np.array([[-2.0, 0, -3.0], [1.0, 0, -3.0], [-2.0, 0, 0.0], [1.0, 0, 0.0]])


def camera() -> Sight:
    """Turned by 35 degrees against the tiles it looks down at."""
    shot = Shot(format=Format(width=SIZE[0], height=SIZE[1], frames=1))
    shot.camera.position, shot.camera.aim = Vector(x=3, y=HEIGHT, z=4), Vector(x=-0.5, y=0.1, z=-1)
    shot.camera.focal_length = 28.0
    return sight(shot, 0)


def tiles(seen: Sight) -> bytes:
    """A photograph of tiles one metre wide under an even sky."""
    x, y = np.meshgrid(*(((np.arange(n) + 0.5) / n) for n in SIZE))
    ways = seen.ways(np.stack([x.ravel(), y.ravel()], axis=1)).reshape(SIZE[1], SIZE[0], 3)
    down = ways[..., 1] < -0.02
    away = np.where(down, -seen.eye[1] / np.minimum(ways[..., 1], -0.02), 0)
    on = np.floor(seen.eye + away[..., None] * ways)
    tone = np.where(down, np.where((on[..., 0] + on[..., 2]) % 2 > 0, 90, 150), 210)
    noisy = tone + np.random.default_rng(4).normal(0, 3, tone.shape)
    done, picture = cv2.imencode(".png", noisy.clip(0, 255).astype(np.uint8))
    assert done
    return picture.tobytes()


def test_words_stand_in_a_photograph_whose_edges_are_drawn(page: Page) -> None:
    seen = camera()
    production = page.request.post("/api/productions", data={"name": "Stills"}).json()["id"]
    wish = {"name": "Trial", "format": {"width": 1280, "height": 720}, "words": "EBB"}
    made = page.request.post(f"/api/productions/{production}/shots", data=wish).json()["id"]
    page.goto(f"/shots/{made}")
    photograph = {"name": "tiles.png", "mimeType": "image/png", "buffer": tiles(seen)}
    page.get_by_label("File to bring").first.set_input_files(photograph)  # type: ignore[arg-type]
    page.get_by_role("button", name="Stand words in it").click()
    # Nothing moves in it, so nothing is solved; it is picked in without the words before it.
    page.get_by_role("button", name="by edges", exact=True).click(timeout=60_000)
    expect(page.get_by_role("button", name="Solve the plate")).to_have_count(0)
    expect(page.get_by_alt_text("The plate alone")).to_be_visible()
    box = page.locator(".plate-picks").bounding_box()
    assert box is not None
    at = seen.seen(CORNERS) * [box["width"], box["height"]] + [box["x"], box["y"]]

    def drag(one: int, other: int) -> None:
        page.mouse.move(*at[one])
        page.mouse.down()
        page.mouse.move(*at[other], steps=5)
        page.mouse.up()

    for one, other in ((0, 1), (2, 3), (0, 2), (1, 3)):
        drag(one, other)
    expect(page.locator(".verdict")).to_have_text("good", timeout=60_000)
    expect(page.locator(".plate-picks")).to_have_count(0)
    page.get_by_role("button", name="scale").click()
    drag(2, 3)
    page.get_by_label("Metres between them").fill("3")
    page.keyboard.press("Enter")
    expect(page.locator(".plate-picks")).to_have_count(0)
    settled(page)
    _, told = unpack(page.request.get(f"/api/shots/{made}/scene").body())
    half = np.tan(np.radians(told["camera/angle"].ravel()[0] / 2))
    assert half == pytest.approx(seen.half, rel=0.02)
    assert told["camera/position"][0, 1] == pytest.approx(HEIGHT, rel=0.03)
