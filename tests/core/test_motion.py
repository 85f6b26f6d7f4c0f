"""Keys to values, against the definition of the CSS easing functions."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import Channel, Ease, Key, Shot
from dreizack.core.motion import Motion, ease, sample
from dreizack.core.motion.eases import bounce, spring, stepped

unit = st.floats(0, 1)
rise = st.floats(-2, 3)


@given(unit, rise, unit, rise)
def test_ease_lies_on_the_curve_that_defines_it(x1: float, y1: float, x2: float, y2: float) -> None:
    t = np.linspace(0, 1, 101)
    x = 3 * (1 - t) ** 2 * t * x1 + 3 * (1 - t) * t**2 * x2 + t**3
    y = 3 * (1 - t) ** 2 * t * y1 + 3 * (1 - t) * t**2 * y2 + t**3
    slope = np.gradient(y, x, edge_order=1, axis=0) if np.all(np.diff(x) > 1e-4) else None
    found = ease(x, x1, y1, x2, y2)
    if slope is not None:
        np.testing.assert_allclose(found, y, atol=1e-6 + 1e-6 * float(np.abs(slope).max()))
    assert found[0] == pytest.approx(0, abs=1e-6) and found[-1] == pytest.approx(1, abs=1e-6)


def test_ease_out_of_the_standard_at_known_points() -> None:
    # cubic-bezier(0.25, 0.1, 0.25, 1), the standard's `ease`, solved by hand at t = 0.5: x = 0.3125, y =
    # 0.5375.
    assert ease(np.array(0.3125), 0.25, 0.1, 0.25, 1.0) == pytest.approx(0.5375, abs=1e-9)


@given(unit, unit, st.floats(-50, 50), st.floats(-50, 50), st.floats(-50, 50))
def test_handles_draw_the_curve_that_defines_them(
    x1: float, x2: float, out: float, back: float, last: float
) -> None:
    by = Ease(kind="handles", x1=x1, x2=x2, out=out, back=back)
    channel = Channel(keys=[Key(frame=10, value=3, ease=by), Key(frame=50, value=last)])
    t = np.linspace(0, 1, 50)
    corners = np.array([[10, 3], [10 + 40 * x1, 3 + out], [10 + 40 * x2, last + back], [50, last]])
    shares = np.stack([(1 - t) ** 3, 3 * (1 - t) ** 2 * t, 3 * (1 - t) * t**2, t**3])
    times, values = corners.T @ shares
    # Where the curve is next to upright, a moment's rounding is a step in value.
    steep = np.gradient(times, t) < 0.5
    found = sample(channel, times)
    np.testing.assert_allclose(found[~steep], values[~steep], atol=1e-4)


keys = st.lists(
    st.tuples(st.integers(0, 400), st.floats(-1e3, 1e3), st.sampled_from(["linear", "cubic-bezier", "hold"])),
    min_size=1,
    max_size=12,
    unique_by=lambda key: key[0],
)


@given(keys)
def test_channels_pass_through_their_keys_and_hold_outside(points: list[tuple[int, float, str]]) -> None:
    points.sort()
    channel = Channel(keys=[Key(frame=f, value=v, ease=Ease(kind=k)) for f, v, k in points])  # type: ignore[arg-type]
    frames, values = np.array([p[0] for p in points], float), np.array([p[1] for p in points])
    np.testing.assert_allclose(sample(channel, frames), values, atol=1e-6)
    assert sample(channel, np.array([frames[0] - 50.0]))[0] == values[0]
    assert sample(channel, np.array([frames[-1] + 50.0]))[0] == values[-1]
    for (f, v, kind), (g, w, _) in itertools.pairwise(points):
        middle = sample(channel, np.array([(f + g) / 2]))[0]
        if kind == "linear":
            assert middle == pytest.approx((v + w) / 2, abs=1e-6)
        elif kind == "hold":
            assert middle == v
        else:
            assert min(v, w) - 1e-6 <= middle <= max(v, w) + 1e-6


@given(keys, st.lists(st.floats(-10, 420), min_size=1, max_size=30))
def test_times_may_come_in_any_order_and_shape(
    points: list[tuple[int, float, str]], times: list[float]
) -> None:
    points.sort()
    channel = Channel(keys=[Key(frame=f, value=v, ease=Ease(kind=k)) for f, v, k in points])  # type: ignore[arg-type]
    together = sample(channel, np.array([times, times[::-1]]))
    alone = [float(sample(channel, np.array([t]))[0]) for t in times]
    np.testing.assert_array_equal(together, [alone, alone[::-1]])


def test_all_frames_at_once_are_the_frames_one_by_one(shot: Shot) -> None:
    shot.channels["/camera/roll"] = Channel(keys=[Key(frame=2, value=-4), Key(frame=9, value=11)])
    together = Motion(shot, np.arange(12.0)).value("/camera/roll")
    alone = [float(Motion(shot, np.array([f])).value("/camera/roll")[0]) for f in np.arange(12.0)]
    np.testing.assert_array_equal(together, alone)


def test_overshoot_is_cut_where_the_value_does_not_allow_it(shot: Shot) -> None:
    bounce = Ease(kind="cubic-bezier", x1=0.3, y1=3, x2=0.6, y2=3)
    for pointer, limited in (("/things/title/finish/roughness", True), ("/camera/roll", False)):
        shot.channels[pointer] = Channel(keys=[Key(frame=0, value=0, ease=bounce), Key(frame=11, value=1)])
        assert (Motion(shot, np.arange(12.0)).value(pointer).max() > 1) is not limited


@given(st.floats(1, 2000), st.floats(0.5, 100))
def test_springs_solve_their_equation(stiffness: float, damping: float) -> None:
    """Integrated step by step (Runge and Kutta, fourth order), plus what makes it end at the next key."""

    def change(state: np.ndarray) -> np.ndarray:
        place, speed = state
        return np.array([speed, stiffness * (1 - place) - damping * speed])

    steps = 4000
    step, state, places = 1 / steps, np.zeros(2), [0.0]
    for _ in range(steps):
        a = change(state)
        b = change(state + step / 2 * a)
        c = change(state + step / 2 * b)
        d = change(state + step * c)
        state = state + step / 6 * (a + 2 * b + 2 * c + d)
        places.append(float(state[0]))
    time = np.linspace(0, 1, steps + 1)
    expected = np.array(places) + (1 - places[-1]) * time**3
    np.testing.assert_allclose(spring(time, stiffness, damping), expected, atol=1e-6)


def test_a_spring_that_just_does_not_swing_is_the_limit_of_those_that_do() -> None:
    time = np.linspace(0, 1, 50)
    critical = spring(time, 100.0, 20.0)
    np.testing.assert_allclose(critical, spring(time, 100.0, 20.001), atol=1e-4)
    np.testing.assert_allclose(critical, spring(time, 100.0, 19.999), atol=1e-4)


@given(st.integers(1, 12), st.floats(0.01, 0.9))
def test_bounces_touch_the_next_key_and_lose_height(count: int, rebound: float) -> None:
    found = bounce(np.linspace(0, 1, 200_001), count, rebound)
    assert found[0] == 0 and found[-1] == 1 and found.max() <= 1 + 1e-12
    # Lowest between two touches: how high it came up.
    turns = (found[1:-1] < found[:-2]) & (found[1:-1] <= found[2:])
    heights = 1 - found[1:-1][turns]
    expected = rebound ** np.arange(1, count + 1)
    seen = expected > 1e-6
    np.testing.assert_allclose(heights[: seen.sum()], expected[seen], atol=1e-3)


@given(unit, st.integers(1, 20), st.sampled_from(["start", "end", "none", "both"]))
def test_steps_are_those_of_the_standard(progress: float, count: int, jump: str) -> None:
    found = float(stepped(np.array([progress]), count, jump)[0])
    jumps = {"start": count, "end": count, "none": max(1, count - 1), "both": count + 1}[jump]
    assert found * jumps == pytest.approx(round(found * jumps), abs=1e-9)
    if 0 < progress < 1:
        # CSS Easing Functions Level 2, section 2.4: the step, one more where the start jumps.
        step = math.floor(progress * count) + (jump in ("start", "both"))
        assert found == pytest.approx(min(step, jumps) / jumps)


@given(
    st.lists(
        st.tuples(st.integers(0, 300), st.floats(-100, 100)), min_size=2, max_size=9, unique_by=lambda k: k[0]
    )
)
def test_a_smooth_curve_never_goes_beyond_its_keys_and_has_no_corners(keys: list[tuple[int, float]]) -> None:
    keys.sort()
    channel = Channel(keys=[Key(frame=f, value=v, ease=Ease(kind="smooth")) for f, v in keys])
    for (f, v), (g, w) in itertools.pairwise(keys):
        between = sample(channel, np.linspace(f, g, 60))
        assert between.min() >= min(v, w) - 1e-9 and between.max() <= max(v, w) + 1e-9
        assert np.all(np.diff(between) * np.sign(w - v) >= -1e-9)
    for f, _ in keys[1:-1]:
        before, at, after = sample(channel, np.array([f - 1e-4, f, f + 1e-4]))
        assert (at - before) == pytest.approx(after - at, abs=2e-5)
