"""Whole looks of lens, film and grade: sound pictures, and nothing left of the look before."""

from __future__ import annotations

import numpy as np
import pytest

from dreizack.core.document import Optics, Shot, apply_edit
from dreizack.core.media.finishing import finishing
from dreizack.core.optics import LOOKS, Passes, finished, looked
from dreizack.core.scene import bake, frame_state


@pytest.fixture
def graded() -> Shot:
    shot = Shot()
    shot.optics.grain.amount = 0.9
    shot.optics.letterbox.aspect = 2.2
    patch = [
        {
            "op": "add",
            "path": "/channels/~1optics~1bloom~1amount",
            "value": {"keys": [{"frame": 0, "value": 1}]},
        },
        {"op": "add", "path": "/channels/~1camera~1roll", "value": {"keys": [{"frame": 0, "value": 1}]}},
    ]
    return apply_edit(shot, patch).shot


@pytest.mark.parametrize("name", LOOKS)
def test_a_look_replaces_the_one_before_but_not_the_bars(graded: Shot, name: str) -> None:
    made = apply_edit(graded, looked(graded, LOOKS[name])).shot
    wanted = Optics.model_validate({**LOOKS[name].values, "letterbox": {"aspect": 2.2}})
    assert made.optics == wanted
    assert list(made.channels) == ["/camera/roll"]
    again = apply_edit(made, looked(made, LOOKS[name])).shot
    assert again == made


def picture(shot: Shot) -> np.ndarray:
    """What the optics make of a bright bar on a grey ramp."""
    beauty = np.ones((90, 160, 4), np.float32)
    beauty[..., :3] = np.linspace(0.01, 0.9, 160, dtype=np.float32)[:, None]
    beauty[40:50, 60:100, :3] = (9.0, 7.5, 5.0)
    return finished(Passes(beauty), finishing(frame_state(shot, bake(shot), 0), (160, 90))).astype(float)


def test_looks_are_told_apart_and_none_spoils_the_picture() -> None:
    plain = Shot()
    seen = [picture(apply_edit(plain, looked(plain, look)).shot) for look in LOOKS.values()]
    assert np.array_equal(seen[0], picture(plain))
    for one in seen:
        assert 20 < one.mean() < 220 and one.std() > 15
    apart = [np.abs(a - b).mean() for i, a in enumerate(seen) for b in seen[:i]]
    assert len(seen) >= 12 and min(apart) > 1
