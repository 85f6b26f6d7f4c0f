"""What can be said of finished pictures: contrast of words, flashes, steps in gradients."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from ..colour import srgb_to_linear
from .checks import Finding

Bytes = NDArray[np.uint8]
Floats = NDArray[np.float64]

# Contrast that large text keeps to what is behind it (W3C, WCAG 2.2, 1.4.3), within so many heights.
CONTRAST, NEAR = 3.0, 0.012
# Words are judged where they take up so much of the picture.
LEAST_COVERED = 0.002
# A flash is a rise and a fall (or the reverse) of relative luminance by so much, the darker below so much; of
# saturated red by so much; more than three in a second over a quarter of the picture are too many (ITU-R
# BT.1702-3, annex 1; W3C, WCAG 2.2, 2.3.1 and its definition of general and red flash thresholds).
STEP, DARKER, RED_STEP, RED_SHARE = 0.1, 0.8, 20.0, 0.8
FLASHES, AREA = 3, 0.25
# Blocks of the picture that flash by themselves.
BLOCKS = (32, 18)
# Steps are seen in areas whose codes differ by one alone, where they take up so much of the picture.
FLAT, BANDED = 11, 0.08


@dataclass(frozen=True)
class Shown:
    """A finished picture: its frame, codes (height, width, 3) and how much titles cover (height, width)."""

    frame: int
    codes: Bytes
    coverage: NDArray[np.float32]


def pictures_checked(pictures: Iterable[Shown], rate: float) -> list[Finding]:
    """Findings of pictures in order, at ``rate`` frames a second."""
    frames, contrasts, covered, bands, blocks, reds = [], [], [], [], [], []
    for shown in pictures:
        frames.append(shown.frame)
        contrasts.append(contrast(shown.codes, shown.coverage))
        covered.append(float(shown.coverage.mean()))
        bands.append(banded(shown.codes))
        luminance, red = _blocks(shown.codes)
        blocks.append(luminance)
        reds.append(red)
    if not frames:
        return []
    return [
        *_weak(frames, np.array(contrasts), np.array(covered)),
        *_flashing(frames, np.array(blocks), np.array(reds), rate),
        *_stepped(frames, np.array(bands)),
    ]


def relative_luminance(codes: Bytes) -> Floats:
    """Relative luminance (...) of codes (..., 3) (W3C, WCAG 2.2, definition)."""
    linear = srgb_to_linear(codes.astype(np.float32) / 255).astype(np.float64)
    found: Floats = linear @ np.array([0.2126, 0.7152, 0.0722])
    return found


def contrast(codes: Bytes, coverage: NDArray[np.float32]) -> float:
    """Contrast of titles to what is near them: the median along their outlines of the ratio of what is inside
    to what is outside; NaN where there is none of them."""
    inside = (coverage > 0.9).astype(np.float32)
    outside = (coverage < 0.1).astype(np.float32)
    if float(inside.mean()) < LEAST_COVERED or not outside.any():
        return float("nan")
    light = relative_luminance(codes).astype(np.float32)
    near = max(2.0, NEAR * codes.shape[0])

    def around(mask: NDArray[np.float32]) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
        weight = cv2.GaussianBlur(mask, (0, 0), near)
        mean = cv2.GaussianBlur(light * mask, (0, 0), near) / np.maximum(weight, 1e-4)
        return np.asarray(mean, np.float32), np.asarray(weight, np.float32)

    (own, some), (other, more) = around(inside), around(outside)
    along = (some > 0.2) & (more > 0.2)
    if not along.any():
        return float("nan")
    bright, dark = np.maximum(own, other)[along], np.minimum(own, other)[along]
    return float(np.median((bright + 0.05) / (dark + 0.05)))


def _weak(frames: list[int], contrasts: Floats, covered: Floats) -> list[Finding]:
    there = np.isfinite(contrasts)
    if not there.any():
        return []
    # While they come and go they are not read yet.
    there &= covered >= 0.5 * covered[there].max()
    usual = float(np.median(contrasts[there]))
    if usual >= CONTRAST:
        return []
    at = int(np.flatnonzero(there)[np.argmin(np.abs(contrasts[there] - usual))])
    says = (
        f"words stand at {usual:.1f} : 1 against what is behind them, in the middle of all frames; "
        f"{CONTRAST:g} : 1 is read with ease"
    )
    return [Finding("contrast", "warning", "", frames[at], says)]


def _blocks(codes: Bytes) -> tuple[Floats, Floats]:
    """Relative luminance and how red each block is (rows, columns)."""
    linear = srgb_to_linear(codes.astype(np.float32) / 255)
    small = cv2.resize(linear, BLOCKS, interpolation=cv2.INTER_AREA).astype(np.float64)
    r, g, b = (small[..., k] for k in range(3))
    saturated = r / np.maximum(r + g + b, 1e-6) >= RED_SHARE
    red = np.where(saturated, np.maximum(r - g - b, 0) * 320, 0.0)
    return small @ np.array([0.2126, 0.7152, 0.0722]), red


def transitions(values: Floats, step: float, darker: float = np.inf) -> NDArray[np.int8]:
    """Rises (1) and falls (-1) by ``step`` and more since the last turn of each value (frames, ...), at the
    frame where they become so large; only where the darker end is below ``darker``."""
    found = np.zeros(values.shape, np.int8)
    low, high = values[0].copy(), values[0].copy()
    going = np.zeros(values.shape[1:], np.int8)
    for k in range(1, len(values)):
        now = values[k]
        low, high = np.minimum(low, now), np.maximum(high, now)
        rises = (now - low >= step) & (low < darker) & (going <= 0)
        falls = (high - now >= step) & (now < darker) & (going >= 0) & ~rises
        found[k][rises], found[k][falls] = 1, -1
        going[rises], going[falls] = 1, -1
        # After a turn only what comes from here on counts.
        high[rises], low[falls] = now[rises], now[falls]
        low[rises], high[falls] = now[rises], now[falls]
    return found


def _flashing(frames: list[int], luminance: Floats, red: Floats, rate: float) -> list[Finding]:
    """Whether more than three flashes come in any second over a quarter of the picture."""
    span = max(2, round(rate))
    for values, step, darker, what in (
        (luminance, STEP, DARKER, "flashes"),
        (red, RED_STEP, np.inf, "flashes of saturated red"),
    ):
        turns = np.abs(transitions(values, step, darker)).astype(np.int64)
        summed = np.concatenate([np.zeros((1, *turns.shape[1:]), np.int64), np.cumsum(turns, axis=0)])
        later = np.minimum(np.arange(len(turns)) + span, len(turns))
        within = (summed[later] - summed[: len(turns)]) // 2
        share = (within > FLASHES).mean(axis=(1, 2))
        if float(share.max()) >= AREA:
            at = int(np.argmax(share))
            most = int(within[at].max())
            says = (
                f"{most} {what} in a second over {share[at]:.0%} of the picture; more than {FLASHES} can "
                "cause seizures: make changes smaller or slower"
            )
            return [Finding("flashes", "fault", "", frames[at], says)]
    return []


def banded(codes: Bytes) -> float:
    """Share of a picture in which nothing but single steps of one code runs through smooth areas."""
    luma = cv2.cvtColor(codes, cv2.COLOR_RGB2GRAY)
    disc = np.ones((FLAT, FLAT), np.uint8)
    span = cv2.dilate(luma, disc).astype(np.int16) - cv2.erode(luma, disc)
    # Where it is grainy, codes go to and fro; where there are steps, they turn at most once.
    across = np.abs(np.diff(luma.astype(np.int16), axis=1, prepend=luma[:, :1])) > 0
    down = np.abs(np.diff(luma.astype(np.int16), axis=0, prepend=luma[:1])) > 0
    changes = cv2.blur((across | down).astype(np.float32), (FLAT, FLAT))
    return float(((span == 1) & (changes < 1.6 / FLAT)).mean())


def _stepped(frames: list[int], shares: Floats) -> list[Finding]:
    usual = float(np.median(shares))
    if usual < BANDED:
        return []
    at = int(np.argmax(shares))
    says = f"gradients over {usual:.0%} of the picture show steps at 8 bits; a little grain hides them"
    return [Finding("steps", "warning", "", frames[at], says)]
