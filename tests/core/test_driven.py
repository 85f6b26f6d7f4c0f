"""Drift, couplings and formulas: what they say, exactly, and nothing else."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from dreizack.core.document import Channel, Coupling, Drift, Ease, Format, Key, Light, Shot, Title
from dreizack.core.document.formula import FormulaError, parse
from dreizack.core.motion import Motion, drift
from dreizack.core.motion.formula import evaluate

Y, X, TURN = (f"/things/title/place/{name}" for name in ("position/y", "position/x", "rotation/y"))
FRAMES = np.arange(100.0)


def shot_of(**driven: object) -> Shot:
    linear = Ease(kind="linear")
    keys = [Key(frame=0, value=0, ease=linear), Key(frame=50, value=5, ease=linear), Key(frame=80, value=-1)]
    return Shot.model_validate(
        {
            "format": Format(frames=100),
            "things": {"title": Title(), "lamp": Light()},
            "channels": {X: Channel(keys=keys)},
        }
        | driven
    )


def moved(shot: Shot, pointer: str, frames: np.ndarray = FRAMES) -> np.ndarray:
    return Motion(shot, frames).value(pointer)


@given(st.floats(-5, 5), st.floats(-3, 3), st.floats(-20, 20), st.booleans())
def test_what_follows_is_the_other_value_times_gain_later_and_offset(
    gain: float, offset: float, delay: float, limited: bool
) -> None:
    shot = shot_of(
        couplings={
            Y: Coupling(source=X, gain=gain, offset=offset, delay=delay, limited=limited, low=-1, high=2)
        }
    )
    wanted = np.interp(FRAMES - delay, [0, 50, 80], [0, 5, -1]) * gain + offset
    np.testing.assert_allclose(moved(shot, Y), np.clip(wanted, -1, 2) if limited else wanted, atol=1e-9)


@given(st.floats(1, 60))
def test_smoothing_leaves_straight_lines_alone_and_rounds_corners(width: float) -> None:
    shot = shot_of(couplings={Y: Coupling(source=X, smoothing=width)})
    plain, smooth = moved(shot, X), moved(shot, Y)
    inside = (width < FRAMES) & (50 - width > FRAMES)
    np.testing.assert_allclose(smooth[inside], plain[inside], atol=1e-9)
    assert smooth[50] <= plain[50]
    # Whoever asks for whichever frames gets the same numbers.
    some = np.array([3.25, 49.5, 50.125, 77.0])
    np.testing.assert_allclose(
        moved(shot, Y, some), [moved(shot, Y, some[k : k + 1])[0] for k in range(4)], atol=1e-9
    )


def test_formulas_read_what_is_followed_their_own_keys_and_other_values() -> None:
    own = Channel(keys=[Key(frame=0, value=2)])
    shot = shot_of(
        channels={**shot_of().channels, Y: own},
        couplings={Y: Coupling(source=X, formula="own * max(x, 0) + sin(90 * t) + k", also={"k": TURN})},
        drifts={TURN: Drift(amplitude=3)},
    )
    x = np.interp(FRAMES, [0, 50, 80], [0, 5, -1])
    wanted = 2 * np.maximum(x, 0) + np.sin(np.radians(90 * FRAMES / 25)) + moved(shot, TURN)
    np.testing.assert_allclose(moved(shot, Y), wanted, atol=1e-9)


numbers = st.floats(-50, 50).map(lambda v: round(v, 3))
formulas = st.recursive(
    st.one_of(numbers.map(lambda v: f"({v})"), st.sampled_from(["x", "t"])),
    lambda inner: st.one_of(
        st.tuples(inner, st.sampled_from("+-*"), inner).map(lambda p: f"({p[0]} {p[1]} {p[2]})"),
        inner.map(lambda p: f"-{p}"),
        st.tuples(st.sampled_from(["abs", "floor", "ceil"]), inner).map(lambda p: f"{p[0]}({p[1]})"),
        st.tuples(inner, inner).map(lambda p: f"min({p[0]}, {p[1]})"),
    ),
    max_leaves=12,
)


@given(formulas, numbers, numbers)
def test_formulas_mean_what_arithmetic_means(text: str, x: float, t: float) -> None:
    names = {"x": x, "t": t, "abs": abs, "floor": math.floor, "ceil": math.ceil, "min": min}
    wanted = eval(text, {"__builtins__": {}}, names)  # the test's own truth, of text it made itself
    found = float(evaluate(parse(text), {"x": np.array(x), "t": np.array(t)}))
    assert found == pytest.approx(min(max(wanted, -1e9), 1e9), rel=1e-9, abs=1e-6)


@pytest.mark.parametrize(
    ("text", "wanted"),
    [
        ("2 + 3 * 4", 14),
        ("-2 ^ 2", -4),
        ("2 ^ 3 ^ 2", 512),
        ("(1 + 2) * 3", 9),
        ("7 % 4", 3),
        ("1 < 2", 1),
        ("8 / 2 / 2", 2),
    ],
)
def test_signs_bind_as_in_school(text: str, wanted: float) -> None:
    assert float(evaluate(parse(text), {})) == wanted


@pytest.mark.parametrize(
    "text",
    [
        "x.real",
        "__import__('os')",
        "open(x)",
        "x[0]",
        "lambda: 1",
        "1 +",
        "(1",
        "sin(1, 2)",
        "2 ** 3",
        "x = 3",
        "(" * 90 + "1" + ")" * 90,
        "+".join("1" * 300),
    ],
)
def test_formulas_that_reach_for_more_are_refused_in_words(text: str) -> None:
    with pytest.raises(FormulaError, match=r"formula|function|takes"):
        parse(text)


@given(st.sampled_from(["9 ^ 9 ^ 9", "1 / (x - x)", "log(0)", "sqrt(0 - 1)", "exp(9999)", "0 % 0"]))
def test_no_formula_leaves_the_numbers(text: str) -> None:
    found = evaluate(parse(text), {"x": np.ones(3)})
    assert np.all(np.isfinite(found)) and np.all(np.abs(found) <= 1e9)


def test_circles_are_named() -> None:
    with pytest.raises(
        ValidationError, match=r"in a circle: .*position/y follows .*position/x follows .*position/y"
    ):
        shot_of(couplings={Y: Coupling(source=X), X: Coupling(source=Y)})
    with pytest.raises(ValidationError, match="reads 'z'"):
        Coupling(formula="z + 1")


@given(
    st.floats(0.01, 10),
    st.floats(0.05, 4),
    st.integers(1, 4),
    st.integers(0, 99),
    st.sampled_from([24.0, 25.0, 60.0]),
)
def test_drift_is_bounded_repeatable_and_moves_without_corners(
    amplitude: float, frequency: float, detail: int, seed: int, rate: float
) -> None:
    by = Drift(amplitude=amplitude, frequency=frequency, detail=detail, seed=seed)
    frames = np.linspace(0, 400, 4001)
    found = drift(by, X, frames, rate)
    assert np.abs(found).max() <= amplitude + 1e-9
    np.testing.assert_array_equal(found, drift(by, X, frames, rate))
    assert not np.array_equal(found, drift(by, Y, frames, rate))
    # Bernstein: what is limited in frequency is limited in speed.
    fastest = 2 * np.pi * frequency * 2 ** (detail - 1) * 2 / rate * amplitude
    assert np.abs(np.diff(found)).max() <= fastest * 0.1 * 2


@given(st.floats(0.1, 3), st.integers(20, 200))
def test_drift_that_repeats_comes_back_without_a_jump(frequency: float, loop: int) -> None:
    by = Drift(frequency=frequency, loop=loop, detail=3)
    frames = np.linspace(0, loop, 50)
    np.testing.assert_allclose(drift(by, X, frames, 25.0), drift(by, X, frames + loop, 25.0), atol=1e-9)


def test_drift_has_hardly_anything_above_twice_its_frequency() -> None:
    by = Drift(amplitude=1, frequency=1.0)
    found = drift(by, X, np.arange(25_000.0), 25.0)
    power = np.abs(np.fft.rfft(found - found.mean())) ** 2
    hertz = np.fft.rfftfreq(len(found), 1 / 25.0)
    assert power[hertz > 2.0].sum() < 0.01 * power.sum()
    assert found.std() > 0.3
