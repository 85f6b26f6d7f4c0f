"""Whole looks to begin with, and the look of one shot worn by another."""

from __future__ import annotations

import numpy as np
import pytest

from dreizack.core.document import Coupling, Format, Shot, Sound, Title, apply_edit, read_shot, write_shot
from dreizack.core.document.keys import Channel, Key
from dreizack.core.light import key_fill_rim
from dreizack.core.media.frames import pictures
from dreizack.core.media.order import Order
from dreizack.core.scene import bake
from dreizack.core.starts import STARTS, started, worn

WIDE, TALL = Format(width=1920, height=1080), Format(width=1080, height=1920)


@pytest.mark.parametrize("name", STARTS)
@pytest.mark.parametrize("format_", [WIDE, TALL], ids=["wide", "tall"])
def test_a_start_is_a_plain_sound_shot(name: str, format_: Format) -> None:
    shot = started(STARTS[name], "EBB", format_, "Ebb")
    assert read_shot(write_shot(shot)) == shot
    assert shot.format == format_ and [title.words for title in shot.titles.values()] == ["EBB"]
    assert shot.lit or shot.surroundings.strength > -16
    assert np.isfinite(bake(shot, np.array([0.0])).camera_position).all()


@pytest.mark.parametrize("name", STARTS)
def test_words_are_seen_whatever_they_begin_with(name: str) -> None:
    shot = started(STARTS[name], "SLACK", Format(width=192, height=108, frames=1), "Slack")
    ((_, _, rgba, _),) = pictures(shot, Order(0, 0, 192, 108, "draft"), None, lambda: False)
    assert np.isfinite(rgba).all()
    assert float((rgba[..., :3].sum(axis=2) > 0.004).mean()) > 0.01, "something is lit"


def two() -> tuple[Shot, Shot]:
    here = Shot(things={"title": Title(words="EBB"), **key_fill_rim()})
    here.optics.letterbox.aspect = 2.39
    here.channels["/things/key/intensity"] = Channel(keys=[Key(frame=0, value=0.0), Key(frame=9, value=1.0)])
    there = started(STARTS["haze"], "FLOOD", WIDE, "Flood")
    there.channels["/things/behind/intensity"] = Channel(
        keys=[Key(frame=0, value=-4.0), Key(frame=20, value=3.0)]
    )
    there.channels["/optics/bloom/amount"] = Channel(keys=[Key(frame=0, value=0.0), Key(frame=20, value=0.2)])
    there.sounds["bell"] = Sound(name="Bell", file="sound-0.wav")
    there.couplings["/things/edge/intensity"] = Coupling(source="/sounds/bell/heard/level")
    return here, Shot.model_validate(there.model_dump())


def test_a_look_goes_over_with_what_moves_it_and_words_stay() -> None:
    here, there = two()
    made = apply_edit(here, worn(here, there)).shot
    assert set(made.lights) == set(there.lights) and made.titles == here.titles
    assert made.surroundings == there.surroundings and made.backdrop == there.backdrop
    assert made.optics.rays == there.optics.rays and made.optics.letterbox.aspect == 2.39
    assert set(made.channels) == {"/things/behind/intensity", "/optics/bloom/amount"}
    # The bell is not here: what followed it does not.
    assert not made.couplings
    # A look that is worn again changes nothing but what is there already.
    again = apply_edit(made, worn(made, there)).shot
    assert again == made


def test_lights_never_take_the_name_of_something_else() -> None:
    here, there = two()
    here.things["behind"] = Title(words="NAMED ALIKE")
    here = Shot.model_validate(here.model_dump())
    made = apply_edit(here, worn(here, there)).shot
    assert isinstance(made.things["behind"], Title) and "behind-2" in made.lights
    assert "/things/behind-2/intensity" in made.channels


def test_a_plate_stays_what_is_behind() -> None:
    here, there = two()
    here.backdrop.kind = "plate"
    assert apply_edit(here, worn(here, there)).shot.backdrop.kind == "plate"
    assert apply_edit(there, worn(there, here)).shot.backdrop == there.backdrop
