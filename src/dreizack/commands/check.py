"""``dreizack test``: linters, types, contracts, drift, and every test."""

from __future__ import annotations

import os
import subprocess
import sys
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from .places import ROOT

BIN = Path(sys.executable).parent
WEB = ROOT / "web"


def check(long: bool = False) -> int:
    """Run every step, also after one has failed; 1 where any did. ``long``: only the series that take many
    minutes."""
    # Checks mostly use one core each: two run at a time, the tests, which use all there are, one by one.
    with ThreadPoolExecutor(max_workers=2) as pool:
        found = [] if long else list(pool.map(_passes, checks()))
    found += [_passes(step, shown=True) for step in (long_series() if long else tests())]
    failed = [name for name in found if name]
    if failed:
        print(f"\nNot in order: {', '.join(failed)}", file=sys.stderr)
    return 1 if failed else 0


Step = tuple[str, list[str], Path]


def checks() -> list[Step]:
    """Name, command and folder of what needs nothing to run, the longest first."""
    python = [str(BIN / "python"), "-m"]
    found = [
        ("types of the core and what is around it", [*python, "mypy"], ROOT),
        ("lint of the interface", ["npm", "run", "--silent", "lint"], WEB),
        ("tests of the interface", ["npm", "run", "--silent", "test"], WEB),
        ("types of the interface", ["npm", "run", "--silent", "check"], WEB),
        ("format of the interface", ["npm", "run", "--silent", "format"], WEB),
        ("lint", [*python, "ruff", "check", "."], ROOT),
        ("format", [*python, "ruff", "format", "--check", "--quiet", "."], ROOT),
        ("which room may know which", [str(BIN / "lint-imports"), "--no-cache"], ROOT),
        ("drift of what is published", [*python, "dreizack", "publish", "--check"], ROOT),
    ]
    naming = ROOT.parent / "shared" / "checks" / "naming"
    if naming.exists():
        found.insert(0, ("names", [str(naming), "."], ROOT))
    return found


def tests() -> list[Step]:
    """All tests but the long series."""
    python = [str(BIN / "python"), "-m"]
    return [
        ("tests", [*python, "pytest", "-n", "2", "--durations=25", "-m", "not browser and not long"], ROOT),
        # One browser draws on all cores there are; two would only wait for each other.
        ("tests in the browser", [*python, "pytest", "-p", "no:xdist", "-m", "browser"], ROOT),
    ]


def long_series() -> list[Step]:
    """Kills, full disks, soak, fuzzing with fresh seeds, and the tasks of a first day."""
    return [
        (
            "long series",
            [
                str(BIN / "python"),
                "-m",
                "pytest",
                "-p",
                "no:xdist",
                "-m",
                "long",
                "tests/long",
                "tests/browser/test_newcomer.py",
            ],
            ROOT,
        )
    ]


def _passes(step: Step, shown: bool = False) -> str:
    """Take a step; its name where it failed, otherwise nothing. What it says comes while it runs (``shown``),
    or at its end in one piece."""
    name, command, at = step
    if shown:
        print(f"── {name}", flush=True)
    begun = time.monotonic()
    environment = os.environ | {"PYTHONPATH": str(ROOT / "src"), "NO_COLOR": "1"}
    ended = subprocess.run(
        command,
        cwd=at,
        env=environment,
        check=False,
        text=True,
        stdout=None if shown else subprocess.PIPE,
        stderr=None if shown else subprocess.STDOUT,
    )
    verdict = "in order" if ended.returncode == 0 else "FAILED"
    before = "" if shown else f"── {name}\n{ended.stdout}"
    print(f"{before}   {verdict}, {time.monotonic() - begun:.0f} s", flush=True)
    return "" if ended.returncode == 0 else name
