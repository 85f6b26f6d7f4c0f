"""Pivots and copies that stand on the lines of strands."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray

from dreizack.core.document import (
    Colour,
    Copies,
    Mark,
    Pivot,
    Place,
    Shot,
    Strand,
    Title,
    Vector,
    apply_edit,
    with_copies,
    without_thing,
)
from dreizack.core.document.pointer import keyable
from dreizack.core.motion import Motion
from dreizack.core.scene.baking.on_surface import spot_on
from dreizack.core.scene.baking.places import placed

Floats = NDArray[np.float64]


def stands(shot: Shot, name: str) -> Floats:
    return placed(Motion(shot, np.array([0.0])), name)[0]


def shot_of(**things: object) -> Shot:
    return Shot.model_validate(
        {**Shot().model_dump(), "things": {n: t.model_dump() for n, t in things.items()}}
    )  # type: ignore[attr-defined]


@given(share=st.floats(0, 1), radius=st.floats(0.1, 20))
def test_what_rides_a_ring_stands_on_it_and_looks_outward(share: float, radius: float) -> None:
    shot = shot_of(ring=Strand(rule="ring", radius=radius), p=Pivot(rides="ring", share=share))
    matrix = stands(shot, "p")
    angle = 2 * np.pi * share
    out = np.array([np.cos(angle), np.sin(angle), 0.0])
    assert matrix[:3, 3] == pytest.approx(radius * out, abs=1e-3 * radius)
    assert matrix[:3, 1] == pytest.approx(out, abs=0.01)
    assert matrix[:3, :3] @ matrix[:3, :3].T == pytest.approx(np.eye(3), abs=1e-9)
    assert np.linalg.det(matrix[:3, :3]) == pytest.approx(1)


@given(share=st.floats(0, 1), x=st.floats(-3, 3), y=st.floats(-3, 3))
def test_a_line_that_stands_elsewhere_carries_what_rides_it(share: float, x: float, y: float) -> None:
    line = Strand(rule="line", length=4, place=Place(position=Vector(x=x, y=y, z=1), scale=2))
    beside = Place(position=Vector(x=0, y=0.5, z=0))
    shot = shot_of(line=line, p=Pivot(rides="line", share=share, place=beside))
    assert stands(shot, "p")[:3, 3] == pytest.approx([x + 8 * (share - 0.5), y + 1.0, 1])


def test_a_drawn_line_is_ridden_by_its_length() -> None:
    corner = Strand(rule="drawn", drawn="M0 0L3 0L3 1")
    for share, place in ((0, [0, 0, 0]), (0.5, [2, 0, 0]), (0.875, [3, 0.5, 0]), (1, [3, 1, 0])):
        shot = shot_of(corner=corner, p=Pivot(rides="corner", share=share, turned=False))
        matrix = stands(shot, "p")
        assert matrix[:3, 3] == pytest.approx(place, abs=0.01)
        assert matrix[:3, :3] == pytest.approx(np.eye(3))


def test_outlines_of_words_are_ridden() -> None:
    outline = Strand(rule="outline", along="words")
    shot = shot_of(words=Title(words="O"), o=outline, p=Pivot(rides="o", share=0.3, turned=False))
    x, y, z = stands(shot, "p")[:3, 3]
    assert (abs(x) > 0.02 or y > 0.02) and z == pytest.approx(0)


@pytest.mark.parametrize(
    ("rule", "drawn", "shares"), [("ring", "", 4), ("line", "", 3), ("drawn", "M0 0L1 0", 3)]
)
def test_copies_stand_evenly_on_a_strand_the_thing_itself_first(rule: str, drawn: str, shares: int) -> None:
    strand = Strand.model_validate({"rule": rule, **({"drawn": drawn} if drawn else {})})
    word = Title(words="A", copies=Copies(count=3, along="strand", strand="s"))
    made = with_copies(shot_of(s=strand, t=word))
    for k, name in enumerate(("t", "t--1", "t--2", "t--3")):
        told = shot_of(s=strand, p=Pivot(rides="s", share=k / shares))
        assert stands(made, name) == pytest.approx(stands(told, "p"), abs=1e-9)


def test_spots_of_a_surface_lie_on_it_evenly_and_look_out_of_it() -> None:
    """A box: four walls, top and bottom, each with as many as it has of all the surface."""
    wide, high, deep = 1.0, 0.5, 0.25
    plain = {"depth": deep, "direction": "both", "front": {"profile": "none"}, "back": {"profile": "none"}}
    path = f"M-{wide / 2} 0L{wide / 2} 0L{wide / 2} {high}L-{wide / 2} {high}Z"
    box = Mark.model_validate({"size": 1, "pieces": [{"path": path}], "body": plain})
    count = 240
    spots = [spot_on(box, k) for k in range(count)]
    places, out = (np.array([spot[i] for spot in spots if spot is not None]) for i in (0, 1))
    local = places - (places.min(axis=0) + places.max(axis=0)) / 2
    sides = np.array([wide, high, deep]) / 2
    faces = np.abs(out).argmax(axis=1)
    assert np.abs(out).max(axis=1) == pytest.approx(np.ones(count), abs=1e-6)
    for axis, area in enumerate((high * deep, wide * deep, wide * high)):
        there = faces == axis
        assert local[there, axis] * out[there, axis] == pytest.approx(
            np.full(there.sum(), sides[axis]), abs=2e-3
        )
        share = area / (high * deep + wide * deep + wide * high)
        assert there.mean() == pytest.approx(share, abs=0.05)
    front = int(np.argmax(out[:, 2] > 0.9))
    matrix = stands(shot_of(box=box, p=Pivot(rides="box", spot=front)), "p")
    assert matrix[:3, 3] == pytest.approx(places[front]) and matrix[:3, :3] == pytest.approx(np.eye(3))


def test_copies_stand_over_a_surface_each_elsewhere() -> None:
    word = Title(words="A", copies=Copies(count=5, along="surface", over="m"))
    made = with_copies(shot_of(m=Mark(), t=word))
    places = np.array([stands(made, name)[:3, 3] for name in ("t", "t--1", "t--2", "t--3", "t--4", "t--5")])
    apart = np.linalg.norm(places[:, None] - places[None], axis=2)[~np.eye(6, dtype=bool)]
    assert apart.min() > 0.01


def test_each_copy_is_tinted_further() -> None:
    tinted = Copies(count=2, tint=Colour(r=0.5, g=1, b=0.9))
    made = with_copies(shot_of(t=Title(words="A", copies=tinted)))
    own = made.things["t"].finish.base_colour  # type: ignore[union-attr]
    last = made.things["t--2"].finish.base_colour  # type: ignore[union-attr]
    assert (last.r, last.g, last.b) == pytest.approx((own.r * 0.25, own.g, own.b * 0.81))


def test_steps_of_copies_have_no_keys() -> None:
    shot = shot_of(t=Title(words="A", copies=Copies(count=2)))
    assert keyable(shot, "/things/t/finish/base_colour/r")
    assert not keyable(shot, "/things/t/copies/tint/r") and not keyable(shot, "/things/t/copies/fade")


def test_a_strand_that_is_removed_lets_go_what_rides_it() -> None:
    shot = shot_of(
        ring=Strand(), p=Pivot(rides="ring", share=0.5, place=Place(position=Vector(x=1, y=2, z=3)))
    )
    after = apply_edit(shot, without_thing(shot, "ring")).shot
    assert stands(after, "p")[:3, 3] == pytest.approx([1, 2, 3])


@pytest.mark.parametrize("by_copies", [True, False])
def test_nothing_rides_on_what_hangs_on_it(by_copies: bool) -> None:
    strand = Strand(place=Place(hangs_on="it"))
    it = (
        Title(words="A", copies=Copies(count=2, along="strand", strand="s"))
        if by_copies
        else Pivot(rides="s")
    )
    with pytest.raises(ValueError, match="in a circle"):
        shot_of(s=strand, it=it)
    if by_copies:
        with pytest.raises(ValueError, match="in a circle"):
            shot_of(s=Strand(copies=Copies(count=2, along="strand", strand="s")))
