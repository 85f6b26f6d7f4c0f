"""``dreizack bench``: measurements of ``bench/``, one line a figure."""

from __future__ import annotations

import importlib
import sys

from .places import ROOT

SUBJECTS = (
    "bodies",
    "artwork",
    "motion",
    "optics",
    "ornaments",
    "sequence",
    "fleet",
    "match",
    "truth",
    "traced",
    "delivery",
    "edit",
    "opening",
    "live",
    "memory",
)


def bench(names: list[str]) -> int:
    """Run measurements; 1 where a bar was missed."""
    unknown = [name for name in names if name not in SUBJECTS]
    if unknown:
        print(
            f"dreizack: there is no measurement '{unknown[0]}'; choose from {', '.join(SUBJECTS)}.",
            file=sys.stderr,
        )
        return 1
    sys.path.insert(0, str(ROOT))
    speed = importlib.import_module("bench.speed").measure_speed()
    print(speed.line(), flush=True)
    missed = 0
    for name in names or SUBJECTS:
        for figure in importlib.import_module(f"bench.{name}").measure():
            print(f"{name}  {figure.line(speed.index)}", flush=True)
            missed += not figure.met(speed.index)
    return 1 if missed else 0
