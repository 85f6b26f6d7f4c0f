"""Sounds mixed for a run of time."""

from __future__ import annotations

import io
import wave
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .rate import RATE
from .reading import sound_samples

Floats = NDArray[np.float32]


@dataclass(frozen=True)
class Placed:
    """A sound from ``start`` seconds on, ``skip`` seconds into itself, at ``gain`` (n,): factors at even
    moments from the beginning of the run to its end."""

    file: str
    start: float
    skip: float
    gain: NDArray[np.float64]


def mixed(sounds: Sequence[Placed], begin: float, seconds: float) -> Floats:
    """Samples (n, 2) of a run of ``seconds`` from ``begin`` on, at :data:`RATE`; each sound on its sample.

    What would be louder than full level is bent down softly above -3 dB, so that nothing clips.
    """
    count = round(seconds * RATE)
    mix = np.zeros((count, 2), np.float64)
    for sound in sounds:
        samples = sound_samples(sound.file)
        if samples is None:
            continue
        # Where the sound's first sample stands in the run.
        first = round((sound.start - sound.skip - begin) * RATE)
        here = max(0, first, round((sound.start - begin) * RATE))
        end = min(count, first + len(samples))
        if end <= here:
            continue
        gain = np.interp(np.arange(here, end), np.linspace(0, count - 1, len(sound.gain)), sound.gain)
        part = samples[here - first : end - first].astype(np.float64)
        mix[here:end] += (part if part.shape[1] == 2 else np.repeat(part, 2, axis=1)) * gain[:, None]
    return limited(mix).astype(np.float32)


def wave_file(samples: Floats) -> bytes:
    """Samples (n, channels) as a WAV file of 16 bits."""
    out = io.BytesIO()
    with wave.open(out, "wb") as written:
        written.setnchannels(samples.shape[1])
        written.setsampwidth(2)
        written.setframerate(RATE)
        written.writeframes(np.rint(np.clip(samples, -1, 1) * 32767).astype("<i2").tobytes())
    return out.getvalue()


KNEE = 10 ** (-3 / 20)


def limited(mix: NDArray[np.float64]) -> NDArray[np.float64]:
    """Samples kept within -1..1: as they are up to -3 dB, above that bent towards full level."""
    loud = np.abs(mix)
    over = np.maximum(loud - KNEE, 0) / (1 - KNEE)
    bent: NDArray[np.float64] = np.where(loud > KNEE, np.sign(mix) * (KNEE + (1 - KNEE) * np.tanh(over)), mix)
    return bent
