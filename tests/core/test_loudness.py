"""Loudness against the cases of EBU Tech 3341."""

from __future__ import annotations

import numpy as np
import pytest

from dreizack.core.sound import RATE, loudness


def tone(level: float, seconds: float) -> np.ndarray:
    """A sine of 1 kHz in both channels, its peak at ``level`` dBFS."""
    wave = np.sin(2 * np.pi * 1000 * np.arange(round(seconds * RATE)) / RATE) * 10 ** (level / 20)
    return np.repeat(wave[:, None], 2, axis=1)


@pytest.mark.parametrize(
    ("parts", "expected"),
    [
        # Tech 3341, table 1: cases 1 to 5.
        ([(-23, 20)], -23),
        ([(-33, 20)], -33),
        ([(-36, 10), (-23, 60), (-36, 10)], -23),
        ([(-72, 10), (-36, 10), (-23, 60), (-36, 10), (-72, 10)], -23),
        ([(-26, 20), (-20, 20.1), (-26, 20)], -23),
    ],
)
def test_the_broadcasters_cases_are_met(parts: list[tuple[float, float]], expected: float) -> None:
    assert loudness(np.concatenate([tone(*part) for part in parts])) == pytest.approx(expected, abs=0.1)


def test_stretches_that_are_filtered_one_by_one_give_what_the_whole_does(rng: np.random.Generator) -> None:
    noise = rng.normal(0, 0.05, (RATE * 62, 2)) * np.linspace(0.2, 1, RATE * 62)[:, None]
    shifted = np.concatenate([noise[RATE * 7 :], noise[: RATE * 7]])
    assert loudness(noise) == pytest.approx(loudness(shifted), abs=0.05)


def test_silence_and_what_is_too_short_has_no_loudness() -> None:
    assert loudness(np.zeros((RATE, 2))) == loudness(np.ones((100, 1))) == -np.inf
