"""The bell buoy and the swell, as sound made by code."""

from __future__ import annotations

import io
import wave

import numpy as np
from numpy.typing import NDArray

from ..core.sound import RATE

Floats = NDArray[np.float64]

SECONDS = 4.8
# When the bell strikes, in seconds: as the swell rolls the buoy, not evenly.
STRIKES = (0.32, 1.16, 2.4, 3.28)
# Partials of a bell over its strike note, their share and how fast they fade (Rossing, The Science of Sound,
# 1990, chapter 13: hum, prime, tierce, quint, nominal and above).
PARTIALS = (
    (0.5, 0.5, 0.7),
    (1.0, 0.7, 1.2),
    (1.19, 0.6, 1.5),
    (1.5, 0.35, 2.2),
    (2.0, 0.8, 2.0),
    (2.66, 0.3, 3.4),
    (4.1, 0.2, 6.0),
)
NOTE = 392.0


def bell_and_swell() -> bytes:
    """A mono WAV: strikes of a small bell over the wash of a slow swell."""
    time = np.arange(round(SECONDS * RATE)) / RATE
    whole = 0.055 * _swell(time)
    for number, strike in enumerate(STRIKES):
        since = time - strike
        whole += np.where(since >= 0, _bell(np.maximum(since, 0)) * (0.3 if number % 2 else 0.42), 0)
    # Nothing clicks where it begins and ends.
    whole *= np.clip(time / 0.05, 0, 1) * np.clip((SECONDS - time) / 0.4, 0, 1)
    out = io.BytesIO()
    with wave.open(out, "wb") as sound:
        sound.setnchannels(1)
        sound.setsampwidth(2)
        sound.setframerate(RATE)
        sound.writeframes((np.clip(whole, -1, 1) * 32767).astype("<i2").tobytes())
    return out.getvalue()


def _bell(since: Floats) -> Floats:
    strike = np.exp(-since * 220) * np.sin(2 * np.pi * NOTE * 6.3 * since)
    tones = [
        share * np.exp(-fade * since) * np.sin(2 * np.pi * NOTE * ratio * since)
        for ratio, share, fade in PARTIALS
    ]
    found: Floats = 0.25 * strike + np.sum(tones, axis=0) / 2.4
    return found


def _swell(time: Floats) -> Floats:
    """Noise that has little above a few hundred hertz, coming and going."""
    noise = np.random.default_rng(7).normal(0, 1, len(time))
    spectrum = np.fft.rfft(noise)
    hertz = np.fft.rfftfreq(len(time), 1 / RATE)
    soft = np.fft.irfft(spectrum / (1 + (hertz / 260) ** 2), len(time))
    wash: Floats = soft / np.abs(soft).max() * (0.55 + 0.45 * np.sin(2 * np.pi * (time / 3.1 - 0.2)))
    return wash * 4
