"""Another unit is the same light, keys and all; and every light can go to nothing."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from dreizack.core.document import Channel, Key, Light, Shot, Surroundings, apply_edit, describe
from dreizack.core.light import UNITS, measured_in, power_of
from dreizack.core.scene import bake, frame_state

KINDS = ("panel", "disc", "spot", "point", "sun", "ambient")


def radiance(shot: Shot, frame: float = 0.0) -> np.ndarray:
    return frame_state(shot, bake(shot, np.array([frame])), 0).lights["key"].radiance


@given(
    st.sampled_from(KINDS),
    st.lists(st.sampled_from(UNITS), min_size=1, max_size=4),
    st.floats(-6, 6),
    st.floats(5, 150),
    st.floats(0, 1),
)
def test_the_light_stays_what_it_is(
    source: str, units: list[str], stops: float, cone: float, penumbra: float
) -> None:
    shot = Shot(things={"key": Light(source=source, intensity=stops, cone=cone, penumbra=penumbra)})  # type: ignore[arg-type]
    before = radiance(shot)
    for unit in units:
        patch = measured_in(shot, "key", unit)
        assert (patch == []) == (shot.lights["key"].measured_in == unit)
        shot = apply_edit(shot, patch).shot if patch else shot
        assert shot.lights["key"].measured_in == unit
        np.testing.assert_allclose(radiance(shot), before, rtol=1e-4)


@given(st.sampled_from(KINDS), st.sampled_from(UNITS[1:]), st.lists(st.floats(-8, 8), min_size=1, max_size=5))
def test_keys_come_along(source: str, unit: str, values: list[float]) -> None:
    channel = Channel(keys=[Key(frame=4 * i, value=value) for i, value in enumerate(values)])
    shot = Shot(things={"key": Light(source=source)}, channels={"/things/key/intensity": channel})  # type: ignore[arg-type]
    there = apply_edit(shot, measured_in(shot, "key", unit)).shot
    assert set(there.channels) == {"/things/key/amount"}
    back = apply_edit(there, measured_in(there, "key", "stops")).shot
    assert set(back.channels) == {"/things/key/intensity"}
    for i, value in enumerate(values):
        for one in (there, back):
            np.testing.assert_allclose(radiance(one, 4.0 * i), radiance(shot, 4.0 * i), rtol=1e-4)
        assert back.channels["/things/key/intensity"].keys[i].value == pytest.approx(value, abs=1e-4)


@pytest.mark.parametrize("source", KINDS)
@pytest.mark.parametrize("unit", UNITS)
def test_every_light_can_go_to_nothing(source: str, unit: str) -> None:
    light = Light(source=source, measured_in=unit, intensity=-16, amount=0)  # type: ignore[arg-type]
    assert radiance(Shot(things={"key": light})).max() == 0
    dark = Shot(surroundings=Surroundings(strength=-16))
    assert frame_state(dark, bake(dark, np.zeros(1)), 0).surroundings_strength == 0


@given(st.floats(-15.9, 12), st.floats(-15.9, 12))
def test_a_stop_doubles_the_light(a: float, b: float) -> None:
    assume(abs(a - b) > 1e-9)
    assert power_of(np.array([a]))[0] / power_of(np.array([b]))[0] == pytest.approx(2 ** (a - b))


def test_what_means_nothing_says_what_it_needs() -> None:
    """Values say, by pointer, under which conditions they mean anything; parts hand theirs on to all
    within."""
    needs = {
        kind: {value["pointer"]: value["needs"] for value in values} for kind, values in describe().items()
    }
    assert all(
        pointer.startswith("/") and "=" in pointer
        for values in needs.values()
        for one in values.values()
        for pointer in one
    )
    assert (
        "/wire/edges!=none" in needs["title"]["/wire/finish/picture/fill"]
        and "/wire/edges!=none" in needs["title"]["/wire/radius"]
    )
    assert needs["title"]["/finish/roughness"] == []
    assert (
        needs["set"]["/finish/metallic"] == ["/own_finish=true"]
        and needs["range"]["/finish/picture/file"][0] == "/own_finish=true"
    )
    assert needs["light"]["/position/x"] == ["/source!=ambient"] and needs["light"]["/amount"] == [
        "/measured_in=candela,lumen,lux"
    ]
    for kind, values in describe().items():
        known = {value["pointer"] for value in values} | {"/source", "/kind"}
        for value in values:
            for one in value["needs"]:
                assert one.split("=")[0].rstrip("!") in known, (kind, value["pointer"], one)
