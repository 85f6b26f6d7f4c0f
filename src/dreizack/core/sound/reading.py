"""Samples of kept sounds."""

from __future__ import annotations

import wave
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..caching import cached_by_size
from ..library import find
from .rate import RATE

Floats = NDArray[np.float32]


@dataclass(frozen=True)
class SoundFacts:
    """How many channels and samples a sound has, at :data:`RATE` samples a second."""

    channels: int
    samples: int

    @property
    def seconds(self) -> float:
        return self.samples / RATE


@cached_by_size(1)
def sound_facts(file: str) -> SoundFacts | None:
    """What a sound of the library is; None where there is none of this name."""
    path = find(file) if file.endswith(".wav") else None
    if path is None:
        return None
    with wave.open(str(path), "rb") as sound:
        return SoundFacts(sound.getnchannels(), sound.getnframes())


@cached_by_size(400)
def sound_samples(file: str) -> Floats | None:
    """Samples (samples, channels) of a sound of the library, -1 to 1; None where there is no such sound."""
    path = find(file) if file.endswith(".wav") else None
    if path is None:
        return None
    with wave.open(str(path), "rb") as sound:
        plain = np.frombuffer(sound.readframes(sound.getnframes()), "<i2")
        found = plain.reshape(-1, sound.getnchannels()).astype(np.float32)
    found /= 32768
    return found
