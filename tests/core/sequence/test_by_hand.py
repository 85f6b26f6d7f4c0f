"""Shots that are framed by hand in pictures of another shape."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import Shot
from dreizack.core.media import Order, ShotReel
from dreizack.core.sequence import Bundle, Sequence, SequencePiece, SequenceReel, Version, versioned
from dreizack.core.sequence.document import Crop
from dreizack.core.sequence.framing import part_of
from dreizack.core.sequence.versions import read_table, write_table

shares = st.floats(0, 1)


@given(st.floats(0.3, 3.5), st.floats(1, 4), shares, shares, st.integers(16, 4096), st.integers(16, 4096))
def test_a_part_lies_within_its_picture(
    aspect: float, zoom: float, x: float, y: float, width: int, height: int
) -> None:
    part = part_of(aspect, Crop(zoom=zoom, x=x, y=y), (width, height))
    assert part.size == (width, height)
    assert 0 <= part.left <= part.whole[0] - width and 0 <= part.top <= part.whole[1] - height
    # The whole keeps the shot's shape, as well as whole pixels can.
    assert part.whole[0] / part.whole[1] == pytest.approx(aspect, abs=aspect * 3 / min(width, height) + 0.02)
    # At zoom 1 one side is seen whole.
    if zoom == 1:
        assert part.whole[0] - width <= 2 or part.whole[1] - height <= 2


def sequence(shot: Shot, crop: Crop | None, size: tuple[int, int] = (54, 96)) -> Bundle:
    crops = {} if crop is None else {"a": crop}
    line = [SequencePiece(shot="a", frames=2)]
    return Bundle(Sequence(width=size[0], height=size[1], line=line, crops=crops), {"a": shot})


def rendered(bundle: Bundle, size: tuple[int, int]) -> np.ndarray:
    order = Order(1, 1, *size, "draft")
    return next(iter(SequenceReel(bundle, order).pictures(lambda: False))).light


@pytest.mark.parametrize("x", [0.0, 0.5, 1.0])
def test_what_is_seen_is_that_part_of_the_shots_own_picture(shot: Shot, x: float) -> None:
    shot.optics.bloom.amount = 0.5
    whole = (round(96 * shot.format.aspect / 2) * 2, 96)
    truth = next(iter(ShotReel(shot, Order(1, 1, *whole, "draft")).pictures(lambda: False))).light
    found = rendered(sequence(shot, Crop(x=x)), (54, 96))
    left = round(x * (whole[0] - 54))
    np.testing.assert_allclose(found, truth[:, left : left + 54], atol=1e-5)
    # By the rule it is another picture.
    assert np.abs(rendered(sequence(shot, None), (54, 96)) - found).mean() > 1e-3


def test_versions_are_framed_apart_and_tables_leave_it(shot: Shot) -> None:
    bundle = sequence(shot, Crop(x=0.2))
    tall = Version(name="tall", width=54, height=96, crops={"a": Crop(x=0.9, zoom=2)})
    bundle.sequence.versions.append(tall)
    assert versioned(bundle, tall).sequence.crops["a"].x == 0.9
    assert versioned(bundle, Version(name="plain")).sequence.crops["a"].x == 0.2
    assert bundle.sequence.crops["a"].x == 0.2
    (again,) = read_table(write_table(bundle).encode(), bundle)
    assert again.crops == tall.crops
