"""A figure and its line."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass


@dataclass(frozen=True)
class Figure:
    """``value`` in ``unit``; ``bar`` is what it must not exceed (or fall below, with ``least``)."""

    name: str
    value: float
    unit: str
    bar: float | None = None
    least: bool = False
    note: str = ""

    @property
    def met(self) -> bool:
        return self.bar is None or (self.value >= self.bar if self.least else self.value <= self.bar)

    def line(self) -> str:
        sign = "≥" if self.least else "≤"
        bar = "" if self.bar is None else f"  ({'met' if self.met else 'MISSED'}: {sign} {self.bar:g} {self.unit})"
        return f"{self.name}: {self.value:.4g} {self.unit}{bar}{'  ' + self.note if self.note else ''}"


def median_ms(run: Callable[[], object], times: int = 9, warm: int = 1) -> float:
    """Median duration of a call in milliseconds."""
    for _ in range(warm):
        run()
    taken = []
    for _ in range(times):
        begun = time.perf_counter()
        run()
        taken.append(time.perf_counter() - begun)
    return statistics.median(taken) * 1e3


def ratio(a: Callable[[], object], b: Callable[[], object], times: int = 7) -> float:
    """Median of the durations of a over b, run in turn."""
    a(), b()
    found = []
    for _ in range(times):
        begun = time.perf_counter()
        a()
        middle = time.perf_counter()
        b()
        found.append((middle - begun) / (time.perf_counter() - middle))
    return statistics.median(found)
