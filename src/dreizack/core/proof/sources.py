"""What can be said of the sound and the footage that go into a delivery."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

from .checks import Finding

Floats = NDArray[np.float64]

# Samples at full level one after the other that count as clipped, and the level that a mix keeps below, in
# dBTP (EBU R 128, 4: -1).
FULL, IN_A_ROW, PEAK = 0.9995, 3, -1.0
# How often samples are looked at between themselves (Rec. ITU-R BS.1770-5, annex 2), and taps of the filter.
FINER, TAPS = 4, 48
# A frame that differs from the one before by less than so many codes, while its neighbours differ by more.
SAME, MOVES = 0.12, 0.8


def true_peak(samples: NDArray[np.floating]) -> float:
    """The highest level (dBTP) of samples (n, channels), between them too: a windowed sinc at FINER times the
    rate (Rec. ITU-R BS.1770-5, annex 2); minus infinity for silence."""
    half = TAPS // 2
    at = np.arange(-half, half + 1)
    highest = float(np.abs(samples).max()) if len(samples) else 0.0
    loud = np.flatnonzero(np.abs(samples).max(axis=1) > 0.5) if len(samples) else np.zeros(0, np.int64)
    if len(loud):
        # Only where it is loud can there be a peak that matters.
        begin, end = max(0, int(loud[0]) - half), min(len(samples), int(loud[-1]) + half + 1)
        for phase in range(1, FINER):
            shift = phase / FINER
            taps = np.sinc(at - shift) * np.kaiser(len(at), 8.0)
            for channel in range(samples.shape[1]):
                between = np.convolve(samples[begin:end, channel].astype(np.float64), taps, mode="same")
                highest = max(highest, float(np.abs(between).max()))
    return float(20 * np.log10(highest)) if highest > 0 else float("-inf")


def sound_checked(
    samples: NDArray[np.floating], first: int, rate: float, hertz: int = 48_000
) -> list[Finding]:
    """Findings of a mix (n, channels) that begins at frame ``first``, at ``rate`` frames a second."""
    full = (np.abs(samples) >= FULL).any(axis=1)
    edges = np.flatnonzero(np.diff(np.concatenate([[False], full, [False]]).astype(np.int8)))
    begins, ends = edges[::2], edges[1::2]
    clipped = begins[(ends - begins) >= IN_A_ROW]
    if len(clipped):
        at = first + int(clipped[0] / hertz * rate)
        where = f"{len(clipped)} places" if len(clipped) > 1 else "one place"
        return [Finding("sound", "fault", "", at, f"the sound clips at {where}; lower its level")]
    peak = true_peak(samples)
    if peak > PEAK:
        at = first + int(np.abs(samples).max(axis=1).argmax() / hertz * rate)
        says = (
            f"the sound peaks at {peak:.1f} dBTP; {PEAK:g} is the most that is passed on safely (EBU R 128)"
        )
        return [Finding("sound", "warning", "", at, says)]
    return []


def footage_checked(greys: Iterable[NDArray[np.uint8]]) -> list[tuple[int, str]]:
    """Frames of footage (grey, height, width) that are the one before once more, while all around them
    moves: each with a sentence."""
    differs: list[float] = []
    before: NDArray[np.int16] | None = None
    for grey in greys:
        now = grey[::2, ::2].astype(np.int16)
        if before is not None:
            differs.append(float(np.abs(now - before).mean()))
        before = now
    moved = np.array(differs)
    if len(moved) < 5:
        return []
    padded = np.pad(moved, 2, mode="reflect")
    around = np.median(np.stack([padded[k : k + len(moved)] for k in (0, 1, 3, 4)]), axis=0)
    repeats = np.flatnonzero((moved < SAME) & (around > MOVES)) + 1
    if not len(repeats):
        return []
    listed = ", ".join(str(frame) for frame in repeats[:6])
    more = f" and {len(repeats) - 6} more" if len(repeats) > 6 else ""
    which = (
        f"frames {listed}{more} of the plate are" if len(repeats) > 1 else f"frame {listed} of the plate is"
    )
    says = f"{which} the one before once more, while it moves: bring footage without frames that were dropped"
    return [(int(repeats[0]), says)]
