"""``dreizack test``: linters, types, contracts, drift, and every test."""

from __future__ import annotations

import os
import subprocess
import sys
import time
from pathlib import Path

from .places import ROOT

BIN = Path(sys.executable).parent
WEB = ROOT / "web"


def check(long: bool = False) -> int:
    """Run every step, also after one has failed; 1 where any did. ``long``: only the series that take many
    minutes."""
    failed = [
        name for name, command, at in (long_steps() if long else steps()) if not _passes(name, command, at)
    ]
    if failed:
        print(f"\nNot in order: {', '.join(failed)}", file=sys.stderr)
    return 1 if failed else 0


def steps() -> list[tuple[str, list[str], Path]]:
    """Name, command and folder of each step; the tests come last."""
    python = [str(BIN / "python"), "-m"]
    found = [
        ("lint", [*python, "ruff", "check", "."], ROOT),
        ("format", [*python, "ruff", "format", "--check", "--quiet", "."], ROOT),
        ("types of the core and what is around it", [*python, "mypy"], ROOT),
        ("which room may know which", [str(BIN / "lint-imports"), "--no-cache"], ROOT),
        ("drift of what is published", [*python, "dreizack", "publish", "--check"], ROOT),
        ("types of the interface", ["npm", "run", "--silent", "check"], WEB),
        ("lint of the interface", ["npm", "run", "--silent", "lint"], WEB),
        ("format of the interface", ["npm", "run", "--silent", "format"], WEB),
        ("tests of the interface", ["npm", "run", "--silent", "test"], WEB),
        ("tests", [*python, "pytest", "-n", "2", "--durations=25", "-m", "not browser and not long"], ROOT),
        # One browser draws on all cores there are; two would only wait for each other.
        ("tests in the browser", [*python, "pytest", "-p", "no:xdist", "-m", "browser"], ROOT),
    ]
    naming = ROOT.parent / "shared" / "checks" / "naming"
    if naming.exists():
        found.insert(0, ("names", [str(naming), "."], ROOT))
    return found


def long_steps() -> list[tuple[str, list[str], Path]]:
    """Kills, full disks, soak and fuzzing with fresh seeds."""
    return [
        (
            "long series",
            [str(BIN / "python"), "-m", "pytest", "-p", "no:xdist", "-m", "long", "tests/long"],
            ROOT,
        )
    ]


def _passes(name: str, command: list[str], at: Path) -> bool:
    print(f"── {name}", flush=True)
    begun = time.monotonic()
    environment = os.environ | {"PYTHONPATH": str(ROOT / "src"), "NO_COLOR": "1"}
    code = subprocess.run(command, cwd=at, env=environment, check=False).returncode
    print(f"   {'in order' if code == 0 else 'FAILED'}, {time.monotonic() - begun:.0f} s", flush=True)
    return code == 0
