"""What is heard in a sound: its level, three bands, onsets and beats."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..caching import cached_by_size
from .rate import RATE
from .reading import sound_samples

Floats = NDArray[np.float64]

# Moments a second at which is listened, and the window of each (samples).
MOMENTS = 100
HOP, WINDOW = RATE // MOMENTS, 2048
# Edges between the bands in hertz.
LOW, HIGH = 200.0, 2000.0
# Decibels below full level that count as silence.
SILENCE = 54.0
# Tempi that are looked for, in beats a minute, and the one that is expected where all else is alike.
SLOWEST, FASTEST, EXPECTED = 55.0, 210.0, 120.0
# How much an even pace counts against strong onsets (Ellis, 2007).
TIGHTNESS = 400.0


@dataclass(frozen=True)
class Heard:
    """A sound, :data:`MOMENTS` times a second.

    ``level``, ``low``, ``middle``, ``high`` (moments,) from 0 (silence) to 1 (full level); ``peaks``
    (moments, 2) the lowest and highest sample; ``onsets`` and ``beats`` in seconds.
    """

    level: Floats
    low: Floats
    middle: Floats
    high: Floats
    peaks: Floats
    onsets: Floats
    beats: Floats


@cached_by_size(60)
def heard(file: str) -> Heard | None:
    """What is heard in a sound of the library; None where there is none of this name."""
    samples = sound_samples(file)
    return None if samples is None else listened(samples.mean(axis=1).astype(np.float64))


def listened(samples: Floats) -> Heard:
    """What is heard in samples (n,) at :data:`RATE`."""
    count = max(1, -(-len(samples) // HOP))
    whole = np.zeros(count * HOP)
    whole[: len(samples)] = samples
    pieces = whole.reshape(count, HOP)
    spectra = _spectra(whole, count)
    hertz = np.fft.rfftfreq(WINDOW, 1 / RATE)
    bands = [
        np.sqrt(spectra[:, (hertz >= low) & (hertz < high)].sum(axis=1))
        for low, high in ((20.0, LOW), (LOW, HIGH), (HIGH, 20_000.0))
    ]
    flux = _flux(spectra)
    low, middle, high = (_loud(band) for band in bands)
    return Heard(
        _loud(np.sqrt((pieces**2).mean(axis=1)) * np.sqrt(2)),
        low,
        middle,
        high,
        np.stack([pieces.min(axis=1), pieces.max(axis=1)], axis=1),
        _onsets(flux),
        _beats(flux),
    )


def _spectra(whole: Floats, count: int) -> Floats:
    """Power (moments, WINDOW / 2 + 1) around each moment; that of a full sine comes to about 1."""
    window = np.hanning(WINDOW)
    padded = np.pad(whole, (WINDOW // 2, WINDOW))
    scale = 4 / window.sum() ** 2 / 1.5
    found = np.empty((count, WINDOW // 2 + 1))
    # Some seconds at a time: spectra of long sounds are large.
    for start in range(0, count, 2000):
        places = np.arange(start, min(start + 2000, count)) * HOP
        windows = padded[places[:, None] + np.arange(WINDOW)] * window
        found[start : start + 2000] = np.abs(np.fft.rfft(windows, axis=1)) ** 2 * scale
    return found


def _loud(amplitude: Floats) -> Floats:
    """0 at silence to 1 at full level, even in decibels."""
    decibels = 20 * np.log10(np.maximum(amplitude, 1e-9))
    loud: Floats = np.clip(1 + decibels / SILENCE, 0, 1)
    return loud


def _flux(spectra: Floats) -> Floats:
    """How much louder each moment is than the one before, over bands as wide as hearing's (about a third
    octave): spectral flux of levels (Dixon, Onset detection revisited, 2006)."""
    hertz = np.fft.rfftfreq(WINDOW, 1 / RATE)
    edges = np.concatenate([[20.0], np.geomspace(100, 16_000, 24)])
    bands = np.stack(
        [spectra[:, (hertz >= a) & (hertz < b)].sum(axis=1) for a, b in itertools.pairwise(edges)],
        axis=1,
    )
    levels = np.log10(1e-7 + bands)
    rises = np.maximum(np.diff(levels, axis=0, prepend=levels[:1]), 0).sum(axis=1)
    found: Floats = np.convolve(rises, np.array([0.25, 0.5, 0.25]), mode="same")
    return found


def _onsets(flux: Floats) -> Floats:
    """Seconds at which something begins: peaks well above what is around (Dixon, 2006, section 2.6)."""
    if len(flux) < 3 or flux.max() <= 0:
        return np.zeros(0)
    wide = np.convolve(flux, np.ones(41) / 41, mode="same")
    around = np.array([flux[max(0, i - 3) : i + 4].max() for i in range(len(flux))])
    peaks = np.flatnonzero((flux >= around) & (flux > wide * 1.6 + 0.06 * flux.max()))
    kept: list[int] = []
    for peak in peaks.tolist():
        if not kept or peak - kept[-1] >= 5:
            kept.append(peak)
    return np.array(kept, np.float64) / MOMENTS


def _beats(flux: Floats) -> Floats:
    """Seconds of beats by dynamic programming over onsets (Ellis, Beat tracking by dynamic programming,
    2007)."""
    if len(flux) < MOMENTS or flux.max() <= 0:
        return np.zeros(0)
    strength = flux / max(float(flux.std()), 1e-9)
    period = _period(strength)
    count = len(strength)
    score, before = strength.copy(), np.full(count, -1, np.int64)
    reach = np.arange(-round(2 * period), -round(period / 2))
    cost = -TIGHTNESS * np.log(-reach / period) ** 2
    # One pass from left to right: each moment hangs on those before it.
    for at in range(count):
        from_ = at + reach
        valid = from_ >= 0
        if not valid.any():
            continue
        gains = score[from_[valid]] + cost[valid]
        best = int(gains.argmax())
        if gains[best] > 0:
            score[at] += gains[best]
            before[at] = from_[valid][best]
    last = count - 1 - int(period) + int(score[-int(period) - 1 :].argmax())
    found = [last]
    while before[found[-1]] >= 0:
        found.append(int(before[found[-1]]))
    beats = np.array(found[::-1], np.float64)
    # Where nothing is heard there is no beat.
    near = np.array([strength[max(0, int(b) - 4) : int(b) + 5].max() for b in beats])
    strong = near > 0.1 * np.median(near)
    first, end = (
        (int(np.argmax(strong)), len(strong) - int(np.argmax(strong[::-1]))) if strong.any() else (0, 0)
    )
    result: Floats = beats[first:end] / MOMENTS
    return result


def _period(strength: Floats) -> float:
    """Moments from beat to beat: where onsets fall in with themselves, about the expected tempo rather than
    far from it (Ellis, 2007, section 2)."""
    size = 1 << (2 * len(strength)).bit_length()
    spectrum = np.fft.rfft(strength - strength.mean(), size)
    own = np.fft.irfft(np.abs(spectrum) ** 2, size)
    shortest, longest = round(60 * MOMENTS / FASTEST), round(60 * MOMENTS / SLOWEST)
    lags = np.arange(shortest, min(longest, len(strength) - 1) + 1)
    if not len(lags):
        return 60 * MOMENTS / EXPECTED
    likely = np.exp(-0.5 * (np.log2(lags / (60 * MOMENTS / EXPECTED)) / 0.9) ** 2)
    # A beat also falls in with every second and third one.
    whole = own[lags] + 0.5 * own[np.minimum(2 * lags, size - 1)] + 0.25 * own[np.minimum(3 * lags, size - 1)]
    return float(lags[int((whole * likely).argmax())])
