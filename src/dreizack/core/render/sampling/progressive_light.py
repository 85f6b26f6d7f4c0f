"""Light that is gathered where it is needed, piece by piece."""

from __future__ import annotations

import math
import time
from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from ..kernel.cancellation import heeding
from ..staging.stage import Stage
from ..transport.lens import Numbers, Window
from .adaptive import allocate_samples
from .launch import displayed, light_samples

Floats = NDArray[np.float32]

# Rays that a step begins with and never falls below.
CAREFUL = 150_000
# Seconds that every step takes, however small it is.
BEGINNING = 0.014
# Samples every pixel gets before it is judged how many it needs: for a frame, and to look at.
FIRST, FIRST_LOOKED_AT = 4, 2
# What moves fast is in a pixel for a part of the time only, and must not be missed.
FIRST_MOVING = 8
# Share of the time of as many samples everywhere that is spent, as they go where they are needed: for a
# frame, and to look at, where no noise is fought that would not be seen.
SPENT, SPENT_LOOKING = 0.78, 0.4
GOLDEN = 0.6180339887


@dataclass(frozen=True)
class _Pass:
    """Samples number ``first`` (n,) … of pixels (n,) at a moment of the open shutter, ``samples`` (n,) of
    each."""

    moment: int
    pixels: Numbers
    samples: NDArray[np.int32]
    first: NDArray[np.int32]


class Sampling:
    """Light that is gathered where it is needed: a few samples everywhere, then, once judged, more where they
    are noisy.

    Pieces of work have ``rays`` rays at most, and take about ``seconds`` each. No noise below ``enough`` is
    fought. ``window`` limits it to some pixels.
    """

    def __init__(
        self,
        stage: Stage,
        width: int,
        height: int,
        samples: int,
        rays: int,
        seconds: float = math.inf,
        enough: float = 0.0,
        window: Window | None = None,
    ) -> None:
        self.stage, self.size, self.samples, self.enough = stage, (width, height), samples, enough
        self.rays, self.seconds = rays, seconds
        self._speed = CAREFUL / seconds if math.isfinite(seconds) else float(rays)
        self.display = displayed(stage.at_moment(0))
        assert stage.tables is not None
        self.catches = stage.tables.kinds.catches
        self.sum = np.zeros((height * width, 10 if self.catches else 7), np.float32)
        self.count = np.zeros(height * width, np.int32)
        self.window = window or Window(0, 0, width, height)
        self.pixels: Numbers = _scattered(width, self.window)
        open_shutter = stage.moments > 1 or stage.at_moment(0).closing is not None
        self.first = min(FIRST_LOOKED_AT if enough else FIRST_MOVING if open_shutter else FIRST, samples)
        self._wanted: NDArray[np.int32] | None = None
        # Lists and places in them: a generator would tie stage and picture into a cycle, and scenes that wait
        # for the garbage collector slow every kernel down.
        self._passes = _passes(stage.moments, [(self.pixels, 0, self.first)])[::-1]
        self._begun = 0

    @property
    def begun(self) -> bool:
        """Whether every pixel has had its first samples."""
        return self._wanted is not None or not self._passes

    @property
    def done(self) -> bool:
        return self._wanted is not None and not self._passes

    @property
    def share(self) -> float:
        """How much of the work is done, 0..1."""
        wanted = (
            float(self._wanted[self.pixels].sum())
            if self._wanted is not None
            else float(len(self.pixels) * self.samples)
        )
        return float(self.count.sum()) / max(wanted, 1.0)

    def step(self, stopped: Callable[[], bool] | None = None) -> None:
        """One piece of work; ``stopped`` is asked meanwhile. Raises Stopped when called off: the piece is
        still to be done then."""
        if not self._passes:
            return
        job = self._passes[-1]
        # Never so few that beginning takes longer than tracing, or a busy machine would make them ever fewer.
        rays = int(min(self.rays, max(CAREFUL, self._speed * self.seconds)))
        ahead = np.cumsum(job.samples[self._begun : self._begun + rays])
        some = slice(self._begun, self._begun + max(1, int(np.searchsorted(ahead, rays, side="right"))))
        pixels, samples = job.pixels[some], job.samples[some]
        moment = self.stage.at_moment(job.moment)
        began = time.perf_counter()
        with heeding(stopped):
            light = light_samples(
                self.stage, moment, self.size, pixels, samples, job.first[some], self.display
            )
        _add(self.sum, self.count, pixels, samples, job.first[some], light)
        self._begun += len(pixels)
        if self._begun >= len(job.pixels):
            self._passes.pop()
            self._begun = 0
        elif math.isfinite(self.seconds):
            # Neither one slow piece nor one quick one counts for all.
            measured = int(samples.sum()) / max(time.perf_counter() - began - BEGINNING, 0.004)
            self._speed = min(math.sqrt(self._speed * measured), self._speed * 2)

    def judge(self, edges: NDArray[np.bool_]) -> None:
        """Put down what is still to be done, once begun, for a picture with these ``edges`` (height,
        width)."""
        width, height = self.size
        if self.samples <= self.first or not len(self.pixels):
            self._wanted = self.count.copy()
            return
        mean = (self.sum / np.float32(self.first)).reshape(height, width, -1)
        samples = self.samples * (SPENT_LOOKING if self.enough else SPENT)
        wanted, within = np.zeros((height, width), np.int32), self.window.slices
        wanted[within] = allocate_samples(mean[within], edges[within], self.first, samples, self.enough)
        self._wanted = wanted.ravel()
        had, coming = self.first, []
        while len(pixels := self.pixels[self._wanted[self.pixels] > had]):
            coming.append((pixels, had, had))
            had *= 2
        self._passes = _passes(self.stage.moments, coming)[::-1]

    def mean(self) -> Floats:
        """Premultiplied scene-linear light so far (height, width, 4)."""
        width, height = self.size
        light: Floats = (
            (self.sum[:, :4] / np.maximum(self.count, 1)[:, None])
            .reshape(height, width, 4)
            .astype(np.float32)
        )
        return light

    def caught(self) -> Floats | None:
        """What :func:`radiance` says of catchers, so far (height, width, 3); None where there are none."""
        if not self.catches:
            return None
        width, height = self.size
        found = (self.sum[:, 7:] / np.maximum(self.count, 1)[:, None]).reshape(height, width, 3)
        return found.astype(np.float32)


def _scattered(width: int, window: Window) -> Numbers:
    """Numbers of a window's pixels, row after row, but rows so that any few in a row lie all over the
    picture: pieces of the same length then take about the same time."""
    rows = np.argsort((np.arange(window.rows) * GOLDEN) % 1.0, kind="stable")
    return window.pixels(width).reshape(window.rows, window.columns)[rows].ravel()


def _passes(moments: int, coming: list[tuple[Numbers, int, int]]) -> list[_Pass]:
    """Work, moment by moment (to change it costs as much as some ten thousand rays), from pixels, their first
    sample and how many more they get; moments of the open shutter share these evenly."""
    parts: dict[int, list[tuple[Numbers, int, int]]] = {}
    for pixels, first, samples in coming:
        each = max(1, samples // moments)
        for number in range(first, first + samples, each):
            parts.setdefault(spread(number // each, moments) if moments > 1 else 0, []).append(
                (pixels, each, number)
            )

    def joined(of: list[tuple[Numbers, int, int]], column: int) -> NDArray[np.int32]:
        return np.concatenate([np.full(len(part[0]), part[column], np.int32) for part in of])

    return [
        _Pass(moment, np.concatenate([pixels for pixels, _, _ in of]), joined(of, 1), joined(of, 2))
        for moment, of in sorted(parts.items())
    ]


def _add(
    sums: Floats,
    counts: NDArray[np.int32],
    pixels: Numbers,
    samples: NDArray[np.int32],
    first: NDArray[np.int32],
    light: Floats,
) -> None:
    """Add means of ``samples`` to ``sums``; a pixel is there once for every ``first``."""
    edges = np.concatenate([[0], np.flatnonzero(np.diff(first)) + 1, [len(first)]])
    for a, b in pairwise(edges):
        sums[pixels[a:b]] += light[a:b] * np.float32(samples[a])
        counts[pixels[a:b]] += samples[a]


def spread(number: int, count: int) -> int:
    """The number-th of ``count`` (a power of two) places, so that early ones lie far apart: bits in reverse
    (van der Corput)."""
    bits = count.bit_length() - 1
    return int(format(number % count, f"0{bits}b")[::-1], 2) if bits else 0
