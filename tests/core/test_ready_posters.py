"""The demo's shots have their pictures before anybody asks for them."""

from __future__ import annotations

import cv2
import pytest

from dreizack.core.document import Format, Shot, read_shot, write_shot
from dreizack.core.scene import poster_frame, poster_name, poster_size
from dreizack.demo import demo_shots
from dreizack.demo.posters import READY_POSTERS

SHOTS = demo_shots()


@pytest.mark.parametrize("name", SHOTS)
def test_every_shot_of_the_demo_has_its_poster(name: str) -> None:
    shot = SHOTS[name]
    found = cv2.imread(str(READY_POSTERS / f"{poster_name(shot)}.jpg"))
    assert found is not None, "make it with python -m dreizack.demo posters"
    assert found.shape[1::-1] == poster_size(shot)
    assert found.std() > 4 and 2 < found.mean() < 253


def test_there_is_none_that_nobody_asks_for() -> None:
    names = {f"{poster_name(shot)}.jpg" for shot in SHOTS.values()}
    assert {file.name for file in READY_POSTERS.glob("*.jpg")} == names


def test_a_shot_is_known_by_the_same_picture_after_it_was_kept() -> None:
    for shot in SHOTS.values():
        again = read_shot(write_shot(shot))
        assert poster_name(again) == poster_name(shot)
        assert poster_name(again.model_copy(update={"name": "Other"})) != poster_name(shot)


@pytest.mark.parametrize(("width", "height"), [(1920, 1080), (1080, 1920), (1000, 1000), (4096, 16)])
def test_a_poster_has_the_shape_of_its_shot(width: int, height: int) -> None:
    shot = Shot(format=Format(width=width, height=height, frames=50))
    across, down = poster_size(shot)
    assert max(across, down) == 640 and min(across, down) >= 16
    assert across / down == pytest.approx(width / height, rel=0.01) or down == 16
    assert 0 <= poster_frame(shot) < 50
