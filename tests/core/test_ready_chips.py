"""Chips of the finishes that ship are there before anybody asks for them."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from dreizack.core.document import Colour, Finish
from dreizack.core.finish import PRESETS
from dreizack.core.scene import chip_name, swatch
from dreizack.demo.chips import READY_MADE, SIDE


def picture(finish: Finish) -> np.ndarray:
    found = cv2.imread(str(READY_MADE / f"{chip_name(swatch(finish, SIDE))}.jpg"))
    assert found is not None, "make it with python -m dreizack.demo chips"
    return found


@pytest.mark.parametrize("name", PRESETS)
def test_every_finish_has_its_chip(name: str) -> None:
    found = picture(PRESETS[name])
    assert found.shape == (SIDE, SIDE, 3)
    middle = found[SIDE // 3 : -SIDE // 3, SIDE // 3 : -SIDE // 3]
    assert middle.std() > 0.5


def test_there_is_none_that_nobody_asks_for() -> None:
    names = {f"{chip_name(swatch(finish, SIDE))}.jpg" for finish in PRESETS.values()}
    assert {file.name for file in READY_MADE.glob("*.jpg")} == names


def test_glass_has_the_colour_that_is_seen_through_it() -> None:
    blue, green, red = picture(PRESETS["bottle glass"])[40:72, 40:72].reshape(-1, 3).mean(axis=0)
    assert green > 1.5 * red and green > blue


def test_a_chip_is_called_by_what_it_shows() -> None:
    one = swatch(Finish(base_colour=Colour(r=1, g=0, b=0)), SIDE)
    other = swatch(Finish(base_colour=Colour(r=0.9, g=0, b=0)), SIDE)
    assert chip_name(one) != chip_name(other) == chip_name(other.model_copy(deep=True))
