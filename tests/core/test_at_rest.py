"""Places on the lens and moments of the shutter, against the shapes they must fill."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import Channel, Key, Shot, Title
from dreizack.core.scene import bake, resting_places
from dreizack.core.scene.at_rest import TIMES, opening_places, shutter_moments


@given(st.sampled_from([0, 5, 6, 9]), st.floats(-180, 180))
def test_places_fill_the_opening_evenly(blades: int, turn: float) -> None:
    places = opening_places(4096, blades, turn)
    # As large as a disc of radius 1, however many blades there are: corners reach further out.
    corner = np.sqrt(np.pi / (blades / 2 * np.sin(2 * np.pi / blades))) if blades else 1.0
    assert np.hypot(*places.T).max() <= corner + 1e-9
    assert np.abs(places.mean(axis=0)).max() < 0.02
    # Mean of the squares over a regular polygon: side²/24 (1 + 3 cot²(π/n)) / 2 an axis; over a disc: 1/4.
    side = 2 * corner * np.sin(np.pi / blades) if blades else 0.0
    square = side**2 / 48 * (1 + 3 / np.tan(np.pi / blades) ** 2) if blades else 0.25
    assert (places**2).mean(axis=0) == pytest.approx(np.full(2, square), rel=0.03)


def test_few_of_the_places_are_spread_as_all_are() -> None:
    few, all_ = opening_places(TIMES, 0, 0.0)[: TIMES // 2], opening_places(TIMES, 0, 0.0)
    for places, allowed in ((few, 0.08), (all_, 0.05)):
        assert np.abs(places.mean(axis=0)).max() < 0.08
        assert (places**2).mean(axis=0) == pytest.approx(np.full(2, 0.25), abs=allowed)
    moments = shutter_moments(TIMES)
    assert moments[0] == 0 and np.abs(moments).max() < 0.5
    assert len({int((m + 0.5) * 8) for m in moments[:8]}) >= 7


def test_only_what_is_out_of_focus_or_moves_is_drawn_so_often() -> None:
    shot = Shot(things={"title": Title(words="EBB")})
    shot.camera.shutter_angle = 180
    still = bake(shot, np.arange(3.0))
    assert resting_places(shot, still) == []
    shot.channels["/camera/position/x"] = Channel(keys=[Key(frame=0, value=0.0), Key(frame=9, value=1.0)])
    moved = resting_places(shot, bake(shot, np.arange(3.0)))
    assert len(moved) == TIMES and all((x, y) == (0, 0) for x, y, _ in moved)
    assert np.ptp([t for *_, t in moved]) == pytest.approx(0.5, abs=0.04)
    shot.channels.clear()
    shot.camera.defocus = True
    blurred = resting_places(shot, bake(shot, np.arange(3.0)))
    assert blurred[0] == (0, 0, 0) and all(t == 0 for *_, t in blurred)
    assert np.ptp([x for x, *_ in blurred]) > 1.5
