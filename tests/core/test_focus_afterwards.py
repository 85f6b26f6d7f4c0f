"""Focus blur that is added to a sharp picture, against what the lens does."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from dreizack.core.document import Format, Sheet, Shot, Vector
from dreizack.core.media.finishing import finishing
from dreizack.core.optics import FocusBlur, Passes, Place, as_filmed
from dreizack.core.optics.steps.focus import blurred_by, opening, out_of_focus
from dreizack.core.render import QUALITIES, Stage, Window, trace
from dreizack.core.render.sampling.focus_circles import circles_of_confusion
from dreizack.core.scene import BodyStore, FrameState, Lens, bake, frame_state
from tests.conftest import plain_title

PLACE = Place(160, 90)


def test_circles_are_those_of_rays_through_the_opening(rng: np.random.Generator) -> None:
    lens, angle = Lens(0.05, 3.0), 40.0
    away = rng.uniform(0.5, 30, 40).astype(np.float32)
    told = circles_of_confusion(away, lens, angle)
    # A point before the lens is seen from every place of the opening; where those rays meet the plane that
    # is in focus is where the picture has it.
    places = np.linspace(-lens.radius, lens.radius, 101)
    point = np.array([0.2, 1.0])
    for z, circle in zip(away, told, strict=True):
        on_plane = places + (point[0] * z - places) * lens.focus / z
        spread = np.ptp(on_plane) / (2 * lens.focus * np.tan(np.radians(angle) / 2))
        assert abs(circle) == pytest.approx(spread, rel=1e-4, abs=1e-6)
        assert (circle < 0) == (z < lens.focus)
    assert np.isinf(circles_of_confusion(np.array([np.inf], np.float32), lens, angle)).all()


@given(st.floats(0.3, 60), st.sampled_from([0, 3, 5, 6, 8]), st.floats(-360, 360))
@example(1.0, 3, 1.0)
def test_openings_keep_their_area_and_middle(diameter: float, blades: int, turn: float) -> None:
    kernel = opening(diameter, blades, turn)
    assert kernel.sum() == pytest.approx(1, abs=1e-5) and kernel.shape[0] % 2 == 1
    half = kernel.shape[0] // 2
    rows, columns = np.mgrid[-half : half + 1, -half : half + 1]
    assert abs((kernel * rows).sum()) < 0.05 and abs((kernel * columns).sum()) < 0.05
    if diameter > 8:
        assert 1 / kernel.max() == pytest.approx(np.pi * diameter**2 / 4, rel=0.03)


def test_a_point_becomes_the_opening_and_stands_upside_down_when_it_is_near() -> None:
    beauty = np.zeros((90, 160, 4), np.float32)
    beauty[45, 80] = 1
    for sign in (1, -1):
        circles = np.full((90, 160, 2), np.inf, np.float32)
        circles[45, 80] = sign * 20.3 / 90
        made = out_of_focus(beauty, FocusBlur(circles, None, 3, 0.0), PLACE)
        assert made.sum() == pytest.approx(4, rel=0.05)
        rows, columns = np.nonzero(made[..., 3] > made[..., 3].max() / 2)
        # A triangle that points to the right, and to the left where it is near.
        wide = [np.ptp(rows[columns == column]) for column in (80 - sign * 4, 80 + sign * 10)]
        assert wide[0] > wide[1] + 6


def test_what_is_in_focus_or_unknown_is_left(rng: np.random.Generator) -> None:
    beauty = rng.uniform(0, 1, (90, 160, 5)).astype(np.float32)
    sharp = FocusBlur(np.zeros((90, 160, 4), np.float32))
    np.testing.assert_allclose(out_of_focus(beauty, sharp, PLACE), beauty, atol=1e-5)
    unknown = FocusBlur(np.full((90, 160, 4), np.inf, np.float32))
    np.testing.assert_allclose(out_of_focus(beauty, unknown, PLACE), beauty, atol=1e-6)


@given(st.lists(st.floats(-3, 3), min_size=4, max_size=4), st.integers(0, 99))
def test_any_circles_give_sound_pictures(ends: list[float], seed: int) -> None:
    rng = np.random.default_rng(seed)
    beauty = rng.uniform(0, 2, (30, 40, 4)).astype(np.float32)
    beauty[..., 3] = rng.choice([0, 0.5, 1], (30, 40))
    beauty[..., :3] *= beauty[..., 3:]
    circles = rng.choice([*ends, np.inf], (30, 40, 3)).astype(np.float32)
    made = out_of_focus(beauty, FocusBlur(circles), Place(40, 30))
    assert np.isfinite(made).all() and made.min() >= -1e-5 and made[..., 3].max() <= 1 + 1e-4
    assert made[..., :3].max() <= beauty[..., :3].max() / 0.5 + 1e-3


def test_a_full_surface_stays_full_where_it_leans_through_the_focus() -> None:
    beauty = np.ones((90, 160, 4), np.float32)
    circles = np.repeat(np.linspace(-0.2, 0.2, 160, dtype=np.float32)[None, :, None], 90, axis=0)
    made = out_of_focus(beauty, FocusBlur(circles), PLACE)
    np.testing.assert_allclose(made, 1, atol=2e-3)


def two_words(afterwards: bool) -> FrameState:
    """Words near by, in focus, and a card far behind them."""
    near, far = plain_title("H"), Sheet(width=6.0, height=4.0)
    far.place.position = Vector(x=1, y=0, z=-6)
    shot = Shot(format=Format(width=320, height=180, frames=1), things={"near": near, "far": far})
    shot.camera.defocus, shot.camera.f_stop, shot.camera.focal_length = True, 0.6, 85.0
    if afterwards:
        shot.camera.focus_drawn = "afterwards"
    return frame_state(shot, bake(shot, np.array([0.0])), 0)


def traced(state: FrameState) -> np.ndarray:
    return as_filmed(Passes(sharp(state)), finishing(state, (320, 180))).beauty


def sharp(state: FrameState) -> np.ndarray:
    """What is traced of a state."""
    stage = Stage(BodyStore())
    stage.show(state)
    return trace(stage, 320, 180, QUALITIES["final"]).rgba


def test_it_is_what_the_lens_does() -> None:
    lens, later = traced(two_words(False)), traced(two_words(True))
    assert two_words(True).lens.radius == 0 and two_words(False).focus_afterwards is None
    plain = sharp(two_words(True))
    # Light is as noisy in all of them; what is covered is not.
    off, without = (np.abs(made - lens)[..., 3] for made in (later, plain))
    assert off.mean() < 0.35 * without.mean() and off.max() < 0.2
    assert np.abs(later - lens).mean() < 0.5 * np.abs(plain - lens).mean()


def test_a_window_is_blurred_by_what_lies_in_it() -> None:
    state = two_words(True)
    whole = finishing(state, (320, 180)).focus
    part = finishing(state, (320, 180), Window(40, 20, 60, 50)).focus
    assert whole is not None and part is not None
    np.testing.assert_array_equal(part.circles, whole.circles[20:70, 40:100])
    assert finishing(two_words(False), (320, 180)).focus is None


def test_wide_circles_are_drawn_as_narrow_ones_are() -> None:
    beauty = np.zeros((200, 300, 4), np.float32)
    beauty[90:110, 140:160] = 1
    wide = blurred_by(beauty, 60.0, FocusBlur(np.zeros(0, np.float32)), False)
    kernel = opening(60.0, 0, 0)
    half = kernel.shape[0] // 2
    expected = np.zeros((200, 300), np.float32)
    for row in range(90, 110):
        for column in range(140, 160):
            expected[row - half : row + half + 1, column - half : column + half + 1] += kernel
    assert np.abs(wide[..., 0] - expected).max() < 0.012
