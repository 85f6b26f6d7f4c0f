"""What is found in pictures, sound and footage: against made-up ones whose faults are known."""

from __future__ import annotations

import numpy as np
import pytest
from numpy.typing import NDArray

from dreizack.core.colour import linear_to_srgb
from dreizack.core.proof import Shown, footage_checked, pictures_checked, sound_checked
from dreizack.core.proof.pictures import banded, contrast, relative_luminance, transitions
from dreizack.core.proof.sources import true_peak

RATE = 25.0


def codes(luminance: float, size: tuple[int, int] = (90, 160)) -> NDArray[np.uint8]:
    value = float(linear_to_srgb(np.array([luminance], np.float32))[0])
    return np.full((*size, 3), round(value * 255), np.uint8)


def word(inside: float, outside: float) -> tuple[NDArray[np.uint8], NDArray[np.float32]]:
    """A bar of one luminance on another."""
    picture, coverage = codes(outside), np.zeros((90, 160), np.float32)
    picture[30:60, 40:120], coverage[30:60, 40:120] = codes(inside)[0, 0], 1
    return picture, coverage


@pytest.mark.parametrize(("inside", "outside"), [(0.8, 0.05), (0.02, 0.5), (0.3, 0.2)])
def test_contrast_is_that_of_the_guidelines(inside: float, outside: float) -> None:
    picture, coverage = word(inside, outside)
    bright, dark = max(inside, outside), min(inside, outside)
    assert contrast(picture, coverage) == pytest.approx((bright + 0.05) / (dark + 0.05), rel=0.06)
    assert np.isnan(contrast(picture, np.zeros_like(coverage)))


def test_words_that_melt_into_what_is_behind_are_told() -> None:
    weak = pictures_checked([Shown(k, *word(0.3, 0.25)) for k in range(5)], RATE)
    assert [one.kind for one in weak] == ["contrast"] and "1.2 : 1" in weak[0].says
    assert not pictures_checked([Shown(k, *word(0.8, 0.02)) for k in range(5)], RATE)
    assert not pictures_checked([], RATE)


def flashing(times: int, low: float, high: float, share: float = 1.0) -> list[Shown]:
    """A second in which a share of the picture goes up and down so often."""
    shown = []
    for k in range(25):
        picture = codes(low)
        up = (k * 2 * times // 25) % 2 == 1
        picture[:, : round(160 * share)] = codes(high if up else low)[0, 0]
        shown.append(Shown(k, picture, np.zeros((90, 160), np.float32)))
    return shown


@pytest.mark.parametrize(
    ("times", "low", "high", "share", "found"),
    [
        (5, 0.1, 0.5, 1.0, True),
        (3, 0.1, 0.5, 1.0, False),
        (5, 0.1, 0.18, 1.0, False),
        (5, 0.82, 1.0, 1.0, False),
        (5, 0.1, 0.5, 0.2, False),
        (5, 0.1, 0.5, 0.4, True),
    ],
)
def test_more_than_three_flashes_a_second_over_a_quarter_are_a_fault(
    times: int, low: float, high: float, share: float, found: bool
) -> None:
    told = [one for one in pictures_checked(flashing(times, low, high, share), RATE) if one.kind == "flashes"]
    assert bool(told) == found
    assert not found or (told[0].matters == "fault" and "flashes in a second" in told[0].says)


def test_red_flashes_are_told_though_they_are_dark() -> None:
    shown = []
    for k in range(25):
        picture = codes(0.0)
        if (k // 2) % 2:
            picture[..., 0] = 160
        shown.append(Shown(k, picture, np.zeros((90, 160), np.float32)))
    assert any("saturated red" in one.says or "flashes" in one.says for one in pictures_checked(shown, RATE))


def test_turns_are_counted_from_turn_to_turn() -> None:
    values = np.array([0.0, 0.05, 0.12, 0.2, 0.15, 0.05, 0.3, 0.31, 0.3])[:, None]
    assert transitions(values, 0.1)[:, 0].tolist() == [0, 0, 1, 0, 0, -1, 1, 0, 0]


def test_luminance_is_that_of_the_guidelines() -> None:
    assert relative_luminance(np.array([255, 255, 255], np.uint8)) == pytest.approx(1)
    assert relative_luminance(np.array([255, 0, 0], np.uint8)) == pytest.approx(0.2126, abs=1e-4)


def test_steps_in_gradients_are_seen_and_grain_hides_them() -> None:
    ramp = np.linspace(60, 72, 640)[None].repeat(360, axis=0)
    plain = np.rint(ramp).astype(np.uint8)[..., None].repeat(3, axis=2)
    grainy = np.rint(ramp + np.random.default_rng(1).normal(0, 0.7, ramp.shape)).astype(np.uint8)
    assert banded(plain) > 0.15
    assert banded(grainy[..., None].repeat(3, axis=2)) < 0.02
    assert banded(np.full((90, 160, 3), 40, np.uint8)) == 0
    steep = np.linspace(0, 255, 160)[None].repeat(90, axis=0).astype(np.uint8)[..., None].repeat(3, axis=2)
    assert banded(steep) < 0.02


def tone(level: float, hertz: float = 997.0, phase: float = 0.0) -> NDArray[np.float32]:
    time = np.arange(48_000) / 48_000
    return (level * np.sin(2 * np.pi * hertz * time + phase))[:, None].repeat(2, axis=1).astype(np.float32)


def test_peaks_between_samples_are_found() -> None:
    # Rec. ITU-R BS.1770-5, annex 2: at a quarter of the rate and 45°, samples miss the peak by 3 dB.
    quarter = tone(1.0, 12_000.0, np.pi / 4)
    assert np.abs(quarter).max() == pytest.approx(0.7071, abs=1e-3)
    assert true_peak(quarter) == pytest.approx(0.0, abs=0.2)
    assert true_peak(tone(0.5)) == pytest.approx(-6.02, abs=0.1)
    assert true_peak(np.zeros((10, 2))) == float("-inf")


def test_sound_that_clips_or_peaks_too_high_is_told() -> None:
    assert not sound_checked(tone(0.5), 0, RATE)
    high = sound_checked(tone(0.97), 10, RATE)
    assert [one.matters for one in high] == ["warning"] and "dBTP" in high[0].says
    clipped = np.clip(tone(0.2), -1, 1)
    clipped[24_000:24_010] = 1.0
    found = sound_checked(clipped, 100, RATE)
    assert found[0].matters == "fault" and found[0].frame == 100 + 12


def test_frames_of_a_plate_that_come_twice_are_named() -> None:
    random = np.random.default_rng(3)
    texture = random.integers(0, 255, (60, 200), np.uint8)
    frames = [texture[:, k * 2 : k * 2 + 100] for k in range(20)]
    assert not footage_checked(frames)
    frames[8] = frames[7]
    frames[13] = frames[12]
    (found,) = footage_checked(frames)
    assert found[0] == 8 and "frames 8, 13 of the plate" in found[1]
    # A plate that stands is no fault.
    assert not footage_checked([frames[0]] * 20)
