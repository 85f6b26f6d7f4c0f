"""Words on a flat area of a plate whose camera moved: they stand where that stands in the room."""

from __future__ import annotations

import json
import shutil
from pathlib import Path

import numpy as np
import pytest
from numpy.typing import NDArray

from dreizack.core import library
from dreizack.core.document import FlatPatch, Format, Pivot, Plate, Shot
from dreizack.core.match import Followed, followed_bytes, standing_places
from dreizack.core.motion import Motion
from dreizack.core.scene import sight
from dreizack.core.scene.baking.covering import square_to
from dreizack.core.scene.baking.places import placed
from dreizack.demo.on_the_quay import SHIPPED

from .test_sound import shelf

__all__ = ["shelf"]
Floats = NDArray[np.float64]
FRAMES = 96
# How the demo stands on its quay.
GROUND = {
    name: value
    for name, value in json.loads((Path(__file__).parents[2] / "examples" / "on-the-quay.json").read_text())[
        "plate"
    ].items()
    if name in ("origin", "turn", "scale")
}
# A sign of 1.2 by 0.8 metres that stands on the quay, turned to one side.
SIDE, UP = np.array([1.2 * np.cos(0.4), 0, -1.2 * np.sin(0.4)]), np.array([0, 0.8, 0])
FOOT = np.array([-0.6, 0.3, -1.0])


def footage(shelf: Path, moves: Floats, wobble: float = 0.0) -> Shot:
    """A shot matched to the demo's quay, with a followed sign that is moved by ``moves`` (frames, 3)."""
    shutil.copy(SHIPPED / "quay.solve", shelf / "solve-quay.solve")
    shot = Shot(format=Format(width=960, height=540, frames=FRAMES))
    shot.plate = Plate(solve="solve-quay.solve", **GROUND)
    shot.camera.rig, shot.backdrop.kind = "matched", "plate"
    sign = np.array([FOOT, FOOT + SIDE, FOOT + SIDE + UP, FOOT + UP])
    places = np.array([sight(shot, k).seen(sign + moves[k]) for k in range(FRAMES)])
    drawn = places[0].copy()
    places[1:] += np.random.default_rng(5).normal(0, wobble, places[1:].shape) / [960, 540]
    begin = np.linalg.inv(square_to(drawn))
    ways = np.array([square_to(there) @ begin for there in places])
    made = followed_bytes(Followed(0, ways / ways[:, 2:, 2:], np.ones(FRAMES)))
    patch = FlatPatch.model_validate(
        {
            "name": "Sign",
            "shape": {"frame": 0, "points": drawn.tolist()},
            "track": library.keep(shelf, made, "track"),
        }
    )
    shot.plate.patches, shot.things["on"] = [patch], Pivot(goes_with="Sign", width=0.5)
    return shot


@pytest.mark.parametrize("wobble", [0.0, 0.3])
def test_an_area_that_stands_still_is_one_place_however_its_corners_wobble(
    shelf: Path, wobble: float
) -> None:
    shot = footage(shelf, np.zeros((FRAMES, 3)), wobble)
    found = placed(Motion(shot, np.arange(0.0, FRAMES, 7)), "on")
    assert np.ptp(found, axis=0).max() == 0
    off = 0.002 + 0.02 * (wobble > 0)
    assert found[0, :3, 3] == pytest.approx(FOOT + (SIDE + UP) / 2, abs=off)
    # As wide as it is taken to be: half a metre of its space lies over 1.2 metres.
    assert found[0, :3, 0] * 0.5 == pytest.approx(SIDE, abs=2 * off)
    assert found[0, :3, 1] * 0.5 / 1.2 == pytest.approx([0, 1, 0], abs=2 * off)


def test_an_area_that_moves_by_itself_is_gone_with(shelf: Path) -> None:
    moves = np.linspace(0, 1, FRAMES)[:, None] * np.array([0.5, 0.6, 0.0])
    shot = footage(shelf, moves)
    frames = np.array([0.0, 40, 95])
    found = placed(Motion(shot, frames), "on")
    for frame, matrix in zip(frames, found, strict=True):
        seen = sight(shot, frame)
        middle = FOOT + (SIDE + UP) / 2 + moves[int(frame)]
        assert seen.seen(matrix[None, :3, 3]) == pytest.approx(seen.seen(middle[None]), abs=0.004)


def test_from_one_place_nothing_tells_how_far_away_something_stands() -> None:
    eyes = np.zeros((5, 3))
    ways = np.tile([[[0.0, 0, -1]]], (5, 1, 1))
    assert standing_places(eyes, ways, np.full(5, 0.3)) is None
