"""Memory of the running application, as proportional set size: shared pages count once."""

from __future__ import annotations

import time
from collections.abc import Iterator
from pathlib import Path

from .figure import Figure
from .site import forty_letters, order, running, wait_for

MB = 1024**2


def measure() -> Iterator[Figure]:
    with running() as site:
        time.sleep(30)
        family = children(site.process)
        server = sum(pss(pid) for pid, line in family.items() if "worker" not in line)
        database = sum(pss(pid) for pid in postgres(site.data))
        yield Figure("server and database, idle", (server + database) / MB, "MB", 600)
        delivery = order(site, forty_letters(site), quality="final")
        worker = next(pid for pid, line in family.items() if "worker" in line)
        wait_for(site, delivery, 2)
        yield Figure("worker at 1080p, final quality, peak", sum(peak(pid) for pid in children(worker)) / MB, "MB", 2048)
        site.ask("POST", f"/api/deliveries/{delivery}/cancel")


def children(parent: int) -> dict[int, str]:
    """A process with all below it, and their command lines."""
    found = {parent: words(parent)}
    while True:
        more = {pid: words(pid) for pid, above in parents().items() if above in found and pid not in found}
        if not more:
            return found
        found |= more


def parents() -> dict[int, int]:
    found = {}
    for folder in Path("/proc").glob("[0-9]*"):
        try:
            found[int(folder.name)] = int((folder / "stat").read_text().rsplit(")", 1)[1].split()[1])
        except OSError:
            continue
    return found


def words(pid: int) -> str:
    try:
        return Path(f"/proc/{pid}/cmdline").read_bytes().replace(b"\0", b" ").decode(errors="replace")
    except OSError:
        return ""


def postgres(data: Path) -> list[int]:
    """The cluster's processes: every postgres below the one whose pid file lies in the data (or its stand-in)."""
    for pid in [pid for pid in parents() if "postgres" in words(pid) and "-D" in words(pid)]:
        if str(data) in words(pid) or "/var/lib/dreizack" in words(pid):
            return list(children(pid))
    return []


def pss(pid: int) -> int:
    try:
        for line in Path(f"/proc/{pid}/smaps_rollup").read_text().splitlines():
            if line.startswith("Pss:"):
                return int(line.split()[1]) * 1024
    except OSError:
        pass
    return 0


def peak(pid: int) -> int:
    """Highest resident size so far."""
    for line in Path(f"/proc/{pid}/status").read_text().splitlines():
        if line.startswith("VmHWM:"):
            return int(line.split()[1]) * 1024
    return 0
