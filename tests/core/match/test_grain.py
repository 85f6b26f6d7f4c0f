"""Grain that is known is measured, and laid on words as it is in the plate."""

from __future__ import annotations

import numpy as np
import pytest

from dreizack.core.colour import AS_SEEN, footage_light, footage_values, from_display, view_curve
from dreizack.core.match import Contradicts, measured_grain
from dreizack.core.optics import Finishing, Passes, Place, PlateGrain, scene_light
from dreizack.core.optics.pipeline import grained_as_plate
from dreizack.core.optics.steps.film import noise

RANDOM = np.random.default_rng(12)


def filmed(strength: tuple[float, float, float], size: float) -> np.ndarray:
    """Three soft steps of grey with grain of so many codes, and some texture that is no grain."""
    level = np.repeat(np.repeat(np.array([0.2, 0.5, 0.8], np.float32), 320)[None], 540, axis=0)
    level = level + np.linspace(-0.03, 0.03, 540, dtype=np.float32)[:, None]
    deviation = np.repeat(np.repeat(np.array(strength) / 255, 320)[None], 540, axis=0)
    grain = noise(int(RANDOM.integers(1000)), size)[:540, :960, :3]
    picture = level[..., None] + grain * deviation[..., None]
    picture[400:] += 0.1 * np.sin(np.arange(960) * 0.9)[None, :, None]
    return picture.astype(np.float32)


@pytest.mark.parametrize(
    ("strength", "size"), [((2.0, 4.0, 3.0), 1.5), ((5.0, 3.0, 1.5), 2.5), ((1.0, 1.5, 1.0), 3.5)]
)
def test_known_grain_is_measured(strength: tuple[float, float, float], size: float) -> None:
    found = measured_grain(filmed(strength, size) for _ in range(3))
    assert found.strength == pytest.approx(strength, rel=0.1)
    assert found.size == pytest.approx(size, rel=0.15)
    assert found.colour > 0.85


def test_a_plate_without_anything_even_says_so() -> None:
    with pytest.raises(Contradicts, match="even enough"):
        measured_grain([np.zeros((90, 160, 3), np.float32)])


@pytest.mark.parametrize("level", [0.2, 0.5, 0.8])
def test_grain_on_words_is_as_strong_as_measured_and_on_words_alone(level: float) -> None:
    grain = PlateGrain((3.0, 5.0, 2.0), 1.6, 0.6)
    light = float(from_display(np.array([level], np.float32))[0])
    beauty = np.zeros((200, 300, 4), np.float32)
    beauty[:, :150] = [light, light, light, 1]
    behind = np.full(3, light, np.float32)
    plain = Finishing(0.0, "shoulder", behind, {}, Place(300, 200, frame=4))
    with_grain = Finishing(0.0, "shoulder", behind, {}, Place(300, 200, frame=4), plate_grain=grain)
    shown = view_curve(scene_light(Passes(beauty), with_grain)) - view_curve(
        scene_light(Passes(beauty), plain)
    )
    expected = dict(zip((0.2, 0.5, 0.8), grain.strength, strict=True))[level]
    assert shown[:, :148].std() * 255 == pytest.approx(expected, rel=0.1)
    assert np.abs(shown[:, 152:]).max() < 1e-6
    # The same frame has the same grain, a window of it too; another frame has another one.
    window = Finishing(0.0, "shoulder", behind, {}, Place(300, 200, 20, 30, 4), plate_grain=grain)
    part = scene_light(Passes(beauty[30:130, 20:120].copy()), window)
    np.testing.assert_allclose(part, scene_light(Passes(beauty), with_grain)[30:130, 20:120], atol=1e-6)
    other = Finishing(0.0, "shoulder", behind, {}, Place(300, 200, frame=5), plate_grain=grain)
    assert np.abs(scene_light(Passes(beauty), other) - scene_light(Passes(beauty), with_grain)).max() > 0.003


@pytest.mark.parametrize("encoding", ["ACEScct", AS_SEEN])
def test_grain_is_as_strong_as_it_is_in_what_the_camera_wrote(encoding: str) -> None:
    """Measured in footage of any encoding, it is laid on words as it is there, whatever exposure follows."""
    level, strength, exposure = 0.5, 4.0, 1.5
    grain = PlateGrain((strength, strength, strength), 1.6, 0.6, encoding)
    light = footage_light(np.full((1, 1, 3), level, np.float32), encoding, "shoulder", exposure)[0, 0]
    beauty = np.zeros((200, 300, 4), np.float32)
    beauty[...] = [*light, 1]
    settings = Finishing(exposure, "shoulder", light, {}, Place(300, 200, frame=4), plate_grain=grain)
    laid = grained_as_plate(beauty[..., :3], Passes(beauty), settings)
    written = footage_values(laid, encoding, "shoulder", exposure)
    assert written.std() * 255 == pytest.approx(strength, rel=0.1)
    assert written.mean() == pytest.approx(level, abs=0.003)
