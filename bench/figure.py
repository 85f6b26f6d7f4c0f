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

    def judged(self, index: float) -> float:
        """What the bar is held against: times as they would be in a quick hour."""
        return self.value * index if self.unit in ("s", "ms") else self.value

    def met(self, index: float = 1.0) -> bool:
        value = self.judged(index)
        return self.bar is None or (value >= self.bar if self.least else value <= self.bar)

    def line(self, index: float = 1.0) -> str:
        sign = "≥" if self.least else "≤"
        scaled = (
            f"{self.judged(index):.4g} × "
            if self.bar is not None and self.unit in ("s", "ms") and index != 1
            else ""
        )
        bar = (
            ""
            if self.bar is None
            else f"  ({'met' if self.met(index) else 'MISSED'}: "
            f"{scaled.replace(' × ', ' at index, ')}{sign} {self.bar:g} {self.unit})"
        )
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
