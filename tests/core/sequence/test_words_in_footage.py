"""Words in footage keep to the safe area where a picture of another shape cuts the footage off."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from dreizack.core.library import shelve
from dreizack.core.proof import TITLE_SAFE, title_box
from dreizack.core.scene import BodyStore, bake
from dreizack.core.sequence.framing import reframed
from dreizack.demo.on_the_quay import bring_quay, on_the_quay


@pytest.fixture(scope="module", autouse=True)
def quay(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("library")
    bring_quay(folder)
    shelve(folder)
    return folder


@pytest.mark.parametrize("words", ["SLACK WATER", "SLACK\nWATER", "EBB"])
@pytest.mark.parametrize(("width", "height"), [(1080, 1920), (1080, 1080), (1080, 1350)])
def test_words_stay_within_the_safe_area(words: str, width: int, height: int) -> None:
    shot = on_the_quay()
    title = shot.titles["title"]
    title.words = words
    before = title.place.scale
    made = reframed(shot, width, height, "fit")
    scale = made.titles["title"].place.scale
    assert shot.titles["title"].place.scale == before, "the shot itself is left as it is"
    frames = np.linspace(0, made.format.frames - 1, 7)
    baked, bodies = bake(made, frames), BodyStore()
    boxes = np.array([title_box(made, baked, "title", k, bodies) for k in range(7)])
    assert scale <= before
    assert np.abs(boxes[:, [0, 2]]).max() <= TITLE_SAFE * 1.03 or scale == 0.25
    if words == "EBB":
        assert scale == before, "what fits keeps its size"


def test_what_is_not_cut_off_keeps_its_size() -> None:
    shot = on_the_quay()
    assert reframed(shot, 1920, 1080, "fit").titles == shot.titles
    assert reframed(shot, 2390, 1000, "fit").titles == shot.titles
    free = on_the_quay()
    free.camera.rig = "free"
    assert reframed(free, 1080, 1920, "fit").titles == free.titles
