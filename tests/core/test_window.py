"""Of a shot that is too long to be held at once, what lies around a frame is evaluated, and the same."""

from __future__ import annotations

import json
import struct
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dreizack.api import scene as live
from dreizack.core.document import MAX_FRAMES, Shot
from dreizack.core.scene import BodyStore, bake, window

FEW = 1_000_000


def moved(titles: int, frames: int) -> Shot:
    """Titles that travel along x, a metre every hundred frames."""
    return Shot.model_validate(
        {
            "name": "Ebb",
            "format": {"width": 320, "height": 180, "rate": {"num": 25, "den": 1}, "frames": frames},
            "things": {f"t{i}": {"kind": "title", "words": "EBB"} for i in range(titles)},
            "channels": {
                f"/things/t{i}/place/position/x": {
                    "keys": [{"frame": 0, "value": 0}, {"frame": max(1, frames - 1), "value": frames / 100}]
                }
                for i in range(titles)
            },
        }
    )


def opened(block: bytes) -> tuple[dict[str, Any], dict[str, np.ndarray[Any, Any]]]:
    (length,) = struct.unpack_from("<I", block)
    facts = json.loads(block[4 : 4 + length])
    body = block[4 + length :]
    return facts, {
        name: np.frombuffer(
            body, "<" + place["dtype"], int(np.prod(place["shape"])), place["offset"]
        ).reshape(place["shape"])
        for name, place in facts["arrays"].items()
    }


@settings(max_examples=40, deadline=None)
@given(st.integers(1, 6), st.integers(1, MAX_FRAMES), st.integers(0, MAX_FRAMES), st.integers(10_000, 10**8))
def test_a_window_lies_within_the_shot_around_the_frame(
    titles: int, frames: int, around: int, most: int
) -> None:
    shot = moved(titles, frames)
    first, count = window(shot, around, most)
    assert first >= 0 and first + count <= frames and count >= min(2, frames)
    assert first <= min(around, frames - 1) < first + count


def test_an_ordinary_shot_is_evaluated_whole() -> None:
    assert window(moved(3, 500), 250) == (0, 500)


def test_what_is_evaluated_at_once_keeps_to_its_bytes() -> None:
    shot = moved(8, 5000)
    first, count = window(shot, 2500, FEW)
    assert count < 5000
    baked = bake(shot, np.arange(first, first + count, dtype=np.float64))
    held = sum(body.matrix.nbytes + body.colours.nbytes + body.terms.nbytes for body in baked.titles.values())
    assert FEW / 10 < held <= FEW


def test_the_scene_of_a_window_is_that_of_the_whole_shot(monkeypatch: pytest.MonkeyPatch) -> None:
    shot = moved(2, 2000)
    monkeypatch.setattr(live, "window", lambda s, around: window(s, around, FEW))
    whole = bake(shot)
    for around in (0, 777, 1999):
        facts, arrays = opened(bytes(live.scene_block(shot, 1, BodyStore(), around).body))
        first, count = facts["first"], facts["count"]
        assert facts["frames"] == 2000 and count < 2000 and first <= around < first + count
        for name in ("t0", "t1"):
            np.testing.assert_allclose(
                arrays[f"title/{name}/matrix"], whole.titles[name].matrix[first : first + count], atol=1e-5
            )
            # What stays as it is has one row.
            assert len(arrays[f"title/{name}/base_colour"]) == 1
            assert len(arrays[f"title/{name}/form"]) == 1
        assert len(arrays["camera/position"]) == 1
        pointer = "/things/t0/place/position/x"
        assert facts["channels_first"] == 0
        np.testing.assert_allclose(arrays[f"channel{pointer}"], whole.channels[pointer], rtol=1e-6)
        monkeypatch.setattr(live, "MOST_VALUES", 100)
        facts, arrays = opened(bytes(live.scene_block(shot, 1, BodyStore(), around).body))
        assert facts["channels_first"] == first
        np.testing.assert_allclose(
            arrays[f"channel{pointer}"], whole.channels[pointer][first : first + count], rtol=1e-6
        )
        monkeypatch.undo()
        monkeypatch.setattr(live, "window", lambda s, around: window(s, around, FEW))
