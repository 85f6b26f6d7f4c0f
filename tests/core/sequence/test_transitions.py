"""Transitions as arrays of light."""

from __future__ import annotations

import numpy as np
import pytest

from dreizack.core.document import Colour
from dreizack.core.sequence import TRANSITIONS, Transition
from dreizack.core.sequence.transitions import Crossing

KINDS = sorted(TRANSITIONS)


def pictures(rng: np.random.Generator) -> tuple[np.ndarray, np.ndarray]:
    return rng.uniform(0, 2, (24, 40, 3)).astype(np.float32), rng.uniform(0, 2, (24, 40, 3)).astype(
        np.float32
    )


@pytest.mark.parametrize("kind", KINDS)
def test_all_of_them_begin_with_what_was_and_end_with_what_comes(kind: str, rng: np.random.Generator) -> None:
    out, into = pictures(rng)
    coverage = np.zeros((24, 40), np.float32)
    coverage[10:14, 16:24] = 1
    how = Transition(kind=kind, frames=10)  # type: ignore[arg-type]
    at = {a: TRANSITIONS[kind](Crossing(out, into, a, coverage), how) for a in (0.0, 0.3, 0.5, 0.7, 1.0)}
    np.testing.assert_allclose(at[0.0], out, atol=1e-4)
    np.testing.assert_allclose(at[1.0], into, atol=1e-4)
    assert all(np.isfinite(picture).all() and (picture >= 0).all() for picture in at.values())
    assert np.abs(at[0.5] - out).mean() > 0.01 and np.abs(at[0.5] - into).mean() > 0.01


@pytest.mark.parametrize("kind", ["dissolve", "wipe", "circle", "letters", "push"])
def test_a_picture_that_gives_way_to_itself_stays(kind: str, rng: np.random.Generator) -> None:
    flat = np.full((24, 40, 3), 0.4, np.float32)
    made = TRANSITIONS[kind](Crossing(flat, flat, 0.37), Transition(kind=kind, frames=10))  # type: ignore[arg-type]
    np.testing.assert_allclose(made, flat, atol=1e-3)


def test_a_dissolve_is_a_mixture_of_light(rng: np.random.Generator) -> None:
    out, into = pictures(rng)
    made = TRANSITIONS["dissolve"](Crossing(out, into, 0.25), Transition())
    np.testing.assert_allclose(made, 0.75 * out + 0.25 * into, rtol=1e-5)


def test_a_dip_is_all_colour_in_its_middle(rng: np.random.Generator) -> None:
    out, into = pictures(rng)
    how = Transition(kind="dip", frames=9, colour=Colour(r=0.1, g=0.2, b=0.3))
    made = TRANSITIONS["dip"](Crossing(out, into, 0.5), how)
    np.testing.assert_allclose(made, np.broadcast_to([0.1, 0.2, 0.3], made.shape), atol=1e-6)


@pytest.mark.parametrize(
    ("angle", "first"), [(0, np.s_[:, :4]), (180, np.s_[:, -4:]), (90, np.s_[-3:]), (270, np.s_[:3])]
)
def test_wipes_travel_where_they_are_told(angle: float, first: tuple, rng: np.random.Generator) -> None:
    out, into = np.zeros((24, 40, 3), np.float32), np.ones((24, 40, 3), np.float32)
    how = Transition(kind="wipe", frames=9, angle=angle, softness=0.02)
    made = TRANSITIONS["wipe"](Crossing(out, into, 0.5), how)
    assert made[first].min() == 1 and made.mean() == pytest.approx(0.5, abs=0.02)


def test_pushed_pictures_keep_their_pixels() -> None:
    out = np.tile(np.arange(40, dtype=np.float32)[None, :, None], (24, 1, 3))
    made = TRANSITIONS["push"](Crossing(out, out + 100, 0.5), Transition(kind="push", frames=9))
    np.testing.assert_allclose(made[:, 20:, 0], out[:, :20, 0], atol=1e-3)
    np.testing.assert_allclose(made[:, :20, 0], out[:, 20:, 0] + 100, atol=1e-3)


def test_through_letters_the_next_is_seen_where_letters_were() -> None:
    out, into = np.zeros((40, 80, 3), np.float32), np.ones((40, 80, 3), np.float32)
    letters = np.zeros((40, 80), np.float32)
    letters[15:25, 20:60] = 1
    shares = [
        TRANSITIONS["letters"](
            Crossing(out, into, along, letters), Transition(kind="letters", frames=9)
        ).mean()
        for along in (0.1, 0.2, 0.4, 0.8)
    ]
    assert shares == sorted(shares) and shares[0] > 0.05 and shares[-1] > 0.95


@pytest.mark.parametrize("taken", [0.0, 1.0])
def test_where_no_letters_stand_out_a_circle_opens(taken: float) -> None:
    """Without words, and where a ground behind them takes up the frame."""
    out, into = np.zeros((40, 80, 3), np.float32), np.ones((40, 80, 3), np.float32)
    coverage = np.full((40, 80), taken, np.float32)
    crossing = Crossing(out, into, 0.5, coverage)
    through = TRANSITIONS["letters"](crossing, Transition(kind="letters", frames=9))
    circle = TRANSITIONS["circle"](crossing, Transition(kind="letters", frames=9))
    assert np.array_equal(through, circle) and through[20, 40].min() > 0.9 and through[0, 0].max() < 0.1
