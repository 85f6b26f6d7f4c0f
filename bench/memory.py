"""Memory of the running application, as proportional set size: shared pages count once."""

from __future__ import annotations

import random
import time
from collections.abc import Iterator
from pathlib import Path

from .figure import Figure
from .site import Site, forty_letters, order, running, wait_for

MB = 1024**2


def measure() -> Iterator[Figure]:
    with running() as site:
        time.sleep(30)
        family = children(site.process)
        server = sum(pss(pid) for pid, line in family.items() if "worker" not in line)
        database = sum(pss(pid) for pid in postgres(site.data))
        yield Figure("server and database, idle", (server + database) / MB, "MB", 600)
        yield Figure(
            "server after ten thousand edits, to its size after five hundred", soak(site, 10_000), "×", 1.3
        )
        delivery = order(site, forty_letters(site), quality="final")
        worker = next(pid for pid, line in family.items() if "worker" in line)
        wait_for(site, delivery, 2)
        yield Figure(
            "worker at 1080p, final quality, peak",
            sum(peak(pid) for pid in children(worker)) / MB,
            "MB",
            2048,
        )
        site.ask("POST", f"/api/deliveries/{delivery}/cancel")


def soak(site: Site, edits: int, first: int = 500) -> float:
    """Edit a shot as people do, with undo and looking; the server's size at the end over that after the
    ``first`` edits."""
    shot, revision, rng = forty_letters(site), 0, random.Random(5)
    server = next(pid for pid, line in children(site.process).items() if "dreizack.api" in line)
    begun = 0
    for number in range(edits):
        path, value = rng.choice(
            [
                ("/things/title/place/position/x", rng.uniform(-1, 1)),
                ("/things/title/body/depth", round(rng.uniform(0.05, 0.4), 4)),
                ("/things/title/body/front/reach", round(rng.uniform(0.002, 0.03), 4)),
                ("/things/key/intensity", rng.uniform(-2, 2)),
                ("/things/title/words", rng.choice(["EBB", "FLOOD TIDE", "SLACK WATER"]) + " " + str(number)),
                ("/surroundings/studio", rng.choice(["dusk", "gallery", "strips", "ring"])),
                ("/surroundings/blur", round(rng.uniform(0, 40), 1)),
                ("/things/title/finish/roughness", rng.uniform(0, 1)),
            ]
        )
        patch = {"base": revision, "patch": [{"op": "replace", "path": path, "value": value}]}
        site.fetch("POST", f"/api/shots/{shot}/edits?scene=true", patch)
        revision += 1
        if number % 10 == 0:
            revision = site.ask("POST", f"/api/shots/{shot}/undo")["revision"]
            site.ask("POST", f"/api/shots/{shot}/framing", {"frame": 0})
        if number % 25 == 0:
            for around in (
                "room=dusk",
                f"source=sky&elevation={number % 90}",
                f"room=ring&blur={number % 40}",
            ):
                site.fetch("GET", f"/api/surroundings?{around}")
        if number == first:
            begun = pss(server)
    return pss(server) / begun


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
    """The cluster's processes: every postgres below the one whose pid file lies in the data (or its
    stand-in)."""
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
