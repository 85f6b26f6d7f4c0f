"""What letters do is kept by what it is made from: an edit evaluates what it changed, not less."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from dreizack.core.document import (
    Channel,
    Coupling,
    Drift,
    Key,
    LetterSet,
    Path,
    Setting,
    Shot,
    Timing,
    Title,
    apply_edit,
)
from dreizack.core.light import key_fill_rim
from dreizack.core.scene import Baked, bake
from dreizack.core.scene.baking.kept import _kept

SET = "/things/title/sets/0"


def shot() -> Shot:
    return Shot(
        things={
            "title": Title(
                words="SLACK\nWATER",
                path=Path(kind="arc"),
                sets=[LetterSet(timing=Timing(order="reading", delay=3))],
            ),
            "other": Title(words="TIDE", setting=Setting(tracking=20)),
            **key_fill_rim(),
        },
        channels={
            f"{SET}/turn/y": Channel(keys=[Key(frame=0, value=90), Key(frame=40, value=0)]),
            f"{SET}/opacity": Channel(keys=[Key(frame=0, value=0), Key(frame=40, value=1)]),
            "/things/other/setting/tracking": Channel(keys=[Key(frame=0, value=0), Key(frame=40, value=80)]),
        },
        couplings={f"{SET}/move/y": Coupling(source="/things/other/setting/tracking", gain=0.01)},
        drifts={f"{SET}/move/z": Drift(amplitude=0.1)},
    )


def arrays(baked: Baked) -> list[Any]:
    return [array for body in baked.titles.values() for array in (body.poses, body.looks)]


def key(value: float) -> dict[str, Any]:
    return {"keys": [{"frame": 0, "value": value}, {"frame": 40, "value": 0}]}


CHANGES = {
    "a key of the set": ("/channels/~1things~1title~1sets~10~1turn~1y", key(45)),
    "how it looks": ("/channels/~1things~1title~1sets~10~1opacity", key(0.5)),
    "what it follows": ("/channels/~1things~1other~1setting~1tracking", key(30)),
    "by how much it follows": ("/couplings/~1things~1title~1sets~10~1move~1y/gain", 0.02),
    "the seed of its drift": ("/drifts/~1things~1title~1sets~10~1move~1z/seed", 7),
    "a number without keys": ("/things/title/sets/0/stretch", 1.5),
    "when each does it": ("/things/title/sets/0/timing/delay", 5),
    "the hinge": ("/things/title/sets/0/hinge", "bottom"),
    "the line": ("/things/title/path/radius", 0.8),
    "the words": ("/things/title/words", "SLACK\nWAVES"),
    "the size": ("/things/title/setting/size", 0.3),
    "the rate": ("/format/rate/num", 50),
}


@pytest.mark.parametrize("change", CHANGES)
def test_whatever_is_changed_is_evaluated_anew(change: str) -> None:
    before = shot()
    bake(before)
    pointer, value = CHANGES[change]
    after = apply_edit(before, [{"op": "replace", "path": pointer, "value": value}]).shot
    warm = arrays(bake(after))
    _kept.clear()
    cold = arrays(bake(after))
    _kept.clear()
    first = arrays(bake(before))
    for ours, truth in zip(warm, cold, strict=True):
        assert (ours is None) == (truth is None)
        assert ours is None or np.array_equal(ours, truth)
    assert any(
        one is not None and (one.shape != other.shape or not np.array_equal(one, other))
        for one, other in zip(cold, first, strict=True)
    )


@pytest.mark.parametrize(
    ("pointer", "value"),
    [
        ("/things/title/finish/roughness", 0.7),
        ("/things/title/place/position/x", 0.5),
        ("/things/key/intensity", 1.0),
        ("/camera/focal_length", 60.0),
        ("/camera/exposure", 0.5),
    ],
)
def test_what_moves_no_letter_evaluates_none(pointer: str, value: float) -> None:
    before = shot()
    first = arrays(bake(before))
    after = apply_edit(before, [{"op": "replace", "path": pointer, "value": value}]).shot
    assert all(one is other for one, other in zip(arrays(bake(after)), first, strict=True))


def test_nobody_writes_to_what_is_kept() -> None:
    poses = bake(shot()).titles["title"].poses
    with pytest.raises(ValueError, match="read-only"):
        poses[0, 0, 0, 0] = 2
