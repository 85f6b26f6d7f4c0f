"""What the live view says that it leaves out."""

from __future__ import annotations

import numpy as np
import pytest

from dreizack.core.document import Floor, Format, Key, Light, Shot, Title
from dreizack.core.document.keys import Channel
from dreizack.core.scene import bake, live_gaps

MIRRORED = "things out of sight, mirrored in letters"


def gaps(shot: Shot) -> list[str]:
    return live_gaps(shot, bake(shot, np.arange(3.0)))


def matte() -> Shot:
    title = Title(words="EBB")
    title.finish.metallic, title.finish.roughness, title.finish.clearcoat = 0.0, 0.8, 0.0
    return Shot(format=Format(frames=3), things={"title": title})


def test_a_matte_title_lacks_light_between_things_alone() -> None:
    assert gaps(matte()) == ["light from things out of sight"]
    assert gaps(Shot(format=Format(frames=3))) == []


@pytest.mark.parametrize(
    ("values", "gap"),
    [
        ({"metallic": 1.0, "roughness": 0.2}, MIRRORED),
        ({"clearcoat": 1.0}, MIRRORED),
        ({"emission": 2.0}, "light of what glows"),
        ({"transmission": 1.0}, "light through glass, and glass behind glass"),
        ({"scatter": 0.5}, "light below surfaces"),
    ],
)
def test_what_a_finish_brings_is_said(values: dict[str, float], gap: str) -> None:
    shot = matte()
    for name, value in values.items():
        setattr(shot.things["title"].finish, name, value)
    assert gaps(shot)[0] == gap


def test_a_rough_metal_mirrors_nothing_and_a_key_can_polish_it() -> None:
    shot = matte()
    shot.things["title"].finish.metallic = 1.0
    assert MIRRORED not in gaps(shot)
    shot.channels["/things/title/finish/roughness"] = Channel(
        keys=[Key(frame=0, value=0.8), Key(frame=2, value=0.1)]
    )
    assert gaps(shot)[0] == MIRRORED


def test_a_floor_that_mirrors_is_drawn() -> None:
    shot = matte()
    floor = Floor(name="Floor")
    floor.finish.metallic, floor.finish.roughness = 1.0, 0.05
    shot.things["floor"] = floor
    assert MIRRORED not in gaps(shot)


def test_slides_are_said() -> None:
    shot = matte()
    shot.things["key"] = Light(name="Key", source="spot", slide="leaves.png")
    assert gaps(shot)[0] == "slides of lights"
